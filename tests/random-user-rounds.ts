import { BenchPage } from './bench-page'
import { fileWriter } from './block-model'
import { projectForRandomUser, RandomUser } from './random-user'

/**
 * Rounds of the random user, each with a seed of its own; a round that fails is told and the next begins with a new project.
 * @returns how many failed.
 */
export async function main(rounds: number, firstSeed: number): Promise<number> {
  const page = await BenchPage.open()
  let failed = 0
  try {
    let id = ''
    for (let seed = firstSeed; seed < firstSeed + rounds; seed++) {
      if (id === '') id = await projectForRandomUser(page, fileWriter())
      try {
        await new RandomUser(page, id, seed).round(40)
        console.log(`seed ${seed}: holds`)
      } catch (error) {
        failed++
        id = ''
        console.log(error instanceof Error ? error.message : String(error))
      }
    }
  } finally {
    await page.close()
  }
  console.log(`${rounds - failed} of ${rounds} rounds hold`)
  return failed
}
