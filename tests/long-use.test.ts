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
  // What is made once was made in the first.
  await use.round()
  const { resident: _had, ...before } = await use.held({ isWhole: false })
  for (let i = 0; i < 2; i++) await use.round()
  const { resident: _has, ...after } = await use.held({ isWhole: false })
  // What processes have at a moment says little in so short a time: it is left to the hours.
  expect(grown({ ...before, resident: 0 }, { ...after, resident: 0 })).toBeNull()
  await page.until('storage is in order', async () => (await use.leftOver()) === null, 30_000)
})
