// A user who does anything at all, for as many rounds as asked for: `node scripts/random-user.mjs ROUNDS [SEED]`.
import { ensureInstalled } from './ensure-installed.mjs'

ensureInstalled()
const { bundle } = await import('./bundle.mjs')
const { ensureBrowser } = await import('./browser.mjs')
const { ensureBuilt, ensureDemo } = await import('./start.mjs')
ensureBrowser()
ensureBuilt()
await ensureDemo()
const { main } = await import(await bundle('tests/random-user-rounds.ts', 'random-user'))
process.exitCode = (await main(Number(process.argv[2] ?? 50), Number(process.argv[3] ?? 1))) > 0 ? 1 : 0
