// Renders a small picture of every pass from the demo for docs/PASSES.md: `node scripts/pass-pictures.mjs`.
import { execFileSync } from 'node:child_process'
import path from 'node:path'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { ensureDemo } = await import('./start.mjs')
await ensureDemo()
const KINDS =
  'clay,lit,occlusion,cavity,contour,wireframe,id,flat,stepped,shadow,light,depth,normal,facing,thickness'
execFileSync(
  process.execPath,
  [
    ...[path.join(root, 'cli', 'relief.mjs'), 'render', path.join(root, 'demo', 'low-water.zip')],
    ...['--passes', KINDS, '--size', '640x400', '--samples', '16', '--rays', '8', '--denoise'],
    ...['--out', path.join(root, 'docs', 'passes'), '--name', '{pass}', '--overwrite'],
    ...['--set', 'clay.bleed=0.25', '--set', 'wireframe.fill=1', '--set', 'shadow.density=1'],
  ],
  { stdio: 'inherit' },
)
