import { afterAll, beforeAll, expect, it } from 'vitest'
import { BenchPage } from './bench-page'
import { fileWriter } from './block-model'
import { grown, LongUse } from './long-use'
import { projectForRandomUser } from './random-user'

/** Work that goes on holds no more than at its beginning; hours of it at a large project: scripts/long-use.mjs. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
})
afterAll(async () => {
  await page?.close()
})

it('holds no canvas, worker, listener or memory of what was done and taken back', async () => {
  const use = new LongUse(page, await projectForRandomUser(page, fileWriter()))
  await use.begin()
  for (let i = 0; i < 3; i++) await use.round()
  const before = await use.held()
  for (let i = 0; i < 4; i++) await use.round()
  const after = await use.held()
  console.log(before, after)
  expect(grown(before, after)).toBeNull()
  await page.until('storage is in order', async () => (await use.leftOver()) === null, 30_000)
})
