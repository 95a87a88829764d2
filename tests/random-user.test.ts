import { afterAll, beforeAll, describe, it } from 'vitest'
import { BenchPage } from './bench-page'
import { fileWriter } from './block-model'
import { projectForRandomUser, RandomUser } from './random-user'

let page: BenchPage
let id = ''

beforeAll(async () => {
  page = await BenchPage.open()
  id = await projectForRandomUser(page, fileWriter())
})
afterAll(async () => {
  await page?.close()
})

describe('a user who does anything at all', () => {
  // More of it: node scripts/random-user.mjs ROUNDS.
  it.each([1, 2, 3])(
    'can undo all of it and do it again, and exports what is seen (seed %i)',
    async (seed) => {
      await new RandomUser(page, id, seed).round(25)
    },
  )
})
