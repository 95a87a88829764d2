// Runs the benches and prints their figures; `npm run bench -- NAME` runs one. Recorded results: bench/RESULTS.md.
import { bundle } from './bundle.mjs'
import { ensureInstalled } from './ensure-installed.mjs'

ensureInstalled()
await bundle('src/engine/node-worker.ts', 'node-worker')
await bundle('bench/kernel-worker.ts', 'kernel-worker')
const { ensureBuilt, ensureDemo } = await import('./start.mjs')
await ensureDemo()
const names = process.argv.slice(2)
for (const name of names.length > 0
  ? names
  : [
      'kernel-rays',
      'noise',
      'lines',
      'style-change',
      'demo-passes',
      'recomposite',
      'import',
      'million-triangles',
      'million-in-browser',
      'large-in-browser',
      'large-archive',
    ]) {
  console.log(`\n## ${name}`)
  if (name.endsWith('-in-browser')) {
    const { ensureBrowser } = await import('./browser.mjs')
    ensureBrowser()
    ensureBuilt()
  }
  const { main } = await import(await bundle(`bench/${name}.ts`, name))
  await main()
}
