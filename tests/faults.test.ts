import { afterAll, beforeAll, describe, it } from 'vitest'
import { BenchPage } from './bench-page'
import { fileWriter } from './block-model'
import { FaultSession, WATCH_WORKERS } from './faults'
import { projectForRandomUser } from './random-user'

let page: BenchPage
let id = ''

beforeAll(async () => {
  page = await BenchPage.open({ ownsServer: true })
  await page.beginWith(WATCH_WORKERS)
  id = await projectForRandomUser(page, fileWriter())
})
afterAll(async () => {
  await page?.close()
})

describe('a session that is cut off', () => {
  // More of it: node scripts/faults.mjs ROUNDS.
  it.each([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])(
    'loses no decision and leaves nothing over (seed %i)',
    async (seed) => {
      await new FaultSession(page, id, seed).round()
    },
  )
})
