import { BenchPage } from './bench-page'
import { fileWriter } from './block-model'
import { FaultSession, WATCH_WORKERS } from './faults'
import { projectForRandomUser } from './random-user'

/**
 * Rounds of sessions that are cut off, each with a seed of its own; a round that fails is told, and the next begins with a new project.
 * @returns how many failed.
 */
export async function main(rounds: number, firstSeed: number): Promise<number> {
  let page: BenchPage | null = null
  let failed = 0
  try {
    let id = ''
    for (let seed = firstSeed; seed < firstSeed + rounds; seed++) {
      if (!page) {
        page = await BenchPage.open({ ownsServer: true })
        await page.beginWith(WATCH_WORKERS)
        id = await projectForRandomUser(page, fileWriter())
      }
      try {
        console.log(`seed ${seed}: holds, ${await new FaultSession(page, id, seed).round()}`)
      } catch (error) {
        failed++
        console.log(error instanceof Error ? error.message : String(error))
        await page.close().catch(() => undefined)
        page = null
      }
    }
  } finally {
    await page?.close()
  }
  console.log(`${rounds - failed} of ${rounds} rounds hold`)
  return failed
}
