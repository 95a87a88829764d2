// Sessions that are cut off at any moment, for as many rounds as asked for: `node scripts/faults.mjs ROUNDS [SEED]`.
import { ensureInstalled } from './ensure-installed.mjs'

ensureInstalled()
const { bundle } = await import('./bundle.mjs')
const { ensureBrowser } = await import('./browser.mjs')
const { ensureBuilt, ensureDemo } = await import('./start.mjs')
ensureBrowser()
ensureBuilt()
await ensureDemo()
const { main } = await import(await bundle('tests/faults-rounds.ts', 'faults'))
process.exitCode = (await main(Number(process.argv[2] ?? 200), Number(process.argv[3] ?? 1))) > 0 ? 1 : 0
