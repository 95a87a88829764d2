import 'fake-indexeddb/auto'
import { expect, it } from 'vitest'
import { PURPOSES } from '@/core/batch/batch-plan'
import { loadPurposes, removePurpose, savePurpose } from './batch-purposes'
import { database } from './database'

const purpose = { ...PURPOSES.print.choice, allowsLoss: false }

it('keeps ways to hand over under names, in the order of these, until they are removed', async () => {
  expect(await loadPurposes()).toEqual([])
  await savePurpose('Shop', purpose)
  await savePurpose('Archive', { ...purpose, percents: [50] })
  expect((await savePurpose('Shop', { ...purpose, percents: [25] })).map(({ name }) => name)).toEqual([
    'Archive',
    'Shop',
  ])
  expect((await loadPurposes())[1].purpose.percents).toEqual([25])
  expect((await removePurpose('Archive')).map(({ name }) => name)).toEqual(['Shop'])
  await expect(savePurpose('', purpose)).rejects.toThrow()
  expect(await loadPurposes()).toHaveLength(1)
})
it('is as empty where what is stored cannot be read', async () => {
  await database.settings.put({ key: 'batch-purposes', value: [{ name: 'x', purpose: { percents: 'all' } }] })
  expect(await loadPurposes()).toEqual([])
})
