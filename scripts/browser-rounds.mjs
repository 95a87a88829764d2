// Rounds of a program that drives the built application in a browser: what they need is made ready first.
import { ensureInstalled } from './ensure-installed.mjs'

/** @param entry of the program, whose `main` takes how many rounds and the first seed, and gives how many failed. */
export async function browserRounds(entry, name, usual) {
  ensureInstalled()
  const { bundle } = await import('./bundle.mjs')
  const { ensureBrowser } = await import('./browser.mjs')
  const { ensureBuilt, ensureDemo } = await import('./start.mjs')
  ensureBrowser()
  ensureBuilt()
  await ensureDemo()
  const { main } = await import(await bundle(entry, name))
  process.exitCode = (await main(Number(process.argv[2] ?? usual), Number(process.argv[3] ?? 1))) > 0 ? 1 : 0
}
