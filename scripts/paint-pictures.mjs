// Writes docs/PAINT.md with strokes of every tip: `node scripts/paint-pictures.mjs`.
import { execFileSync } from 'node:child_process'
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { ensureDemo } = await import('./start.mjs')
await ensureDemo()
const { main } = await import(await bundle('demo/paint-pictures.ts', 'paint-pictures'))
await main(root)
execFileSync('npx', ['prettier', '--write', path.join('docs', 'PAINT.md')], { cwd: root, stdio: 'ignore' })
