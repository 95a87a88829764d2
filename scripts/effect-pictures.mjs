// Writes docs/EFFECTS.md with a small picture of every effect: `node scripts/effect-pictures.mjs`.
import { execFileSync } from 'node:child_process'
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { ensureDemo } = await import('./start.mjs')
await ensureDemo()
const { main } = await import(await bundle('demo/effect-pictures.ts', 'effect-pictures'))
await main(root)
execFileSync('npx', ['prettier', '--write', path.join('docs', 'EFFECTS.md')], { cwd: root, stdio: 'ignore' })
