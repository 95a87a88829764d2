// Runs the benches and prints their figures. Recorded results: bench/RESULTS.md.
//   npm run bench                                all
//   npm run bench -- NAME …                      some
//   npm run bench -- NAME … --beside COMMIT      each also as it was at a commit, in turns, in the same run
import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, symlinkSync } from 'node:fs'
import path from 'node:path'
import { bundle, bundleFrom } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'

const NAMES = [
  'product',
  'kernel-rays',
  'whole-passes',
  'noise',
  'lines',
  'style-change',
  'demo-passes',
  'turning-passes',
  'turntable-in-browser',
  'separations',
  'farm-scaling',
  'farm-clock',
  'recomposite',
  'sheet-engine',
  'effects',
  'sliders',
  'strokes',
  'strokes-in-browser',
  'sliders-in-browser',
  'sheet-drag-in-browser',
  'undo',
  'poster',
  'poster-in-browser',
  'mockup-in-browser',
  'large-sheet',
  'large-sheet-in-browser',
  'stored-passes-in-browser',
  'import',
  'import-in-browser',
  'million-triangles',
  'million-in-browser',
  'large-in-browser',
  'large-archive',
  'large-export',
]

ensureInstalled()
await bundle('src/engine/node-worker.ts', 'node-worker')
await bundle('src/engine/node-hand.ts', 'node-hand')
await bundle('bench/kernel-worker.ts', 'kernel-worker')
const { ensureBuilt, ensureDemo } = await import('./start.mjs')
await ensureDemo()
const args = process.argv.slice(2)
const besideAt = args.indexOf('--beside')
const commit = besideAt >= 0 ? args.splice(besideAt, 2)[1] : null

/**
 * The sources of a commit in a folder of their own, with this checkout's packages and this checkout's bench: the same
 * question to both.
 */
async function earlier(name) {
  const folder = path.join(root, '.build', `at-${commit}`)
  if (!existsSync(folder))
    execFileSync('git', ['worktree', 'add', '--detach', '--force', folder, commit], { cwd: root })
  const packages = path.join(folder, 'node_modules')
  if (!existsSync(packages)) symlinkSync(path.join(root, 'node_modules'), packages)
  await bundleFrom(folder, 'src/engine/node-worker.ts', path.join(folder, '.build', 'node-worker.mjs'))
  const out = path.join(folder, '.build', `${name}.mjs`)
  await bundleFrom(folder, path.join(root, 'bench', `${name}.ts`), out)
  return out
}

const run = (file) =>
  spawnSync(process.execPath, ['-e', `import(${JSON.stringify(file)}).then((m) => m.main())`], {
    cwd: root,
    stdio: 'inherit',
  })

for (const name of args.length > 0 ? args : NAMES) {
  console.log(`\n## ${name}`)
  if (name.endsWith('-in-browser')) {
    const { ensureBrowser } = await import('./browser.mjs')
    ensureBrowser()
    ensureBuilt()
  }
  const now = await bundle(`bench/${name}.ts`, name)
  if (commit) {
    const before = await earlier(name)
    for (let turn = 0; turn < 2; turn++) {
      console.log(`--- at ${commit}`)
      run(before)
      console.log('--- now')
      run(now)
    }
  } else await (await import(now)).main()
}
