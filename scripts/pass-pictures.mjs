// Renders a small picture of every pass for docs/PASSES.md, and of every style of line for docs/LINES.md: `node scripts/pass-pictures.mjs`.
import { execFileSync } from 'node:child_process'
import { rmSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { ensureDemo } = await import('./start.mjs')
await ensureDemo()
const KINDS =
  'clay,lit,occlusion,cavity,contour,wireframe,id,flat,stepped,shadow,reflection,light,depth,normal,facing,thickness,surroundings'
const STYLES = ['technical', 'felt', 'brush', 'etched', 'blueprint', 'softPencil']

/** Runs `relief render` on the demo. */
const render = (folder, ...options) =>
  execFileSync(
    process.execPath,
    [
      ...[path.join(root, 'cli', 'relief.mjs'), 'render', path.join(root, 'demo', 'low-water.zip')],
      ...['--out', path.join(root, 'docs', folder), '--overwrite', ...options],
    ],
    { stdio: 'inherit' },
  )

render(
  'passes',
  ...['--passes', KINDS, '--size', '640x400', '--samples', '16', '--rays', '8', '--denoise'],
  ...['--name', '{pass}', '--set', 'clay.bleed=0.25', '--set', 'shadow.density=1'],
  ...['--set', 'wireframe.style=paper'],
)
// Lines are transparent between: they are laid on paper.
const SIZE = { width: 800, height: 500 }
for (const style of STYLES) {
  const size = `${SIZE.width}x${SIZE.height}`
  render('lines', '--passes', 'contour', '--size', size, '--name', style, '--set', `contour.style=${style}`)
  const picture = path.join(root, 'docs', 'lines', `${style}.png`)
  const sheet = path.join(root, 'docs', 'lines', `${style}.json`)
  const paper = style === 'blueprint' ? '#24466bff' : '#fdfbf6ff'
  const layers = [{ source: { file: picture }, mode: 'normal', opacity: 1 }]
  writeFileSync(sheet, JSON.stringify({ ...SIZE, blendSpace: 'display', background: paper, layers }))
  execFileSync(
    process.execPath,
    [path.join(root, 'cli', 'relief.mjs'), 'compose', sheet, '--out', picture, '--overwrite'],
    { stdio: 'inherit' },
  )
  rmSync(sheet)
}
