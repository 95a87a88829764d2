import 'fake-indexeddb/auto'
import { beforeEach, describe, expect, it } from 'vitest'
import { database } from './database'
import { dropBlocks, dropJob, loadBlocks, loadJobs, saveBlock, saveJob, type JobRecord } from './render-jobs'

const record = (patch: Partial<JobRecord> = {}): JobRecord => ({
  id: 'j',
  projectId: 'p',
  projectName: 'P',
  passIds: ['a', 'b'],
  quality: 'draft',
  place: 1,
  paused: false,
  keepsBefore: false,
  reason: null,
  first: null,
  key: 'k',
  passes: {},
  ...patch,
})
const SPECS = [
  { name: 'V', format: 'half' },
  { name: 'A', format: 'unorm8' },
] as const
const block = (value: number, count: number) => [
  new Uint16Array(count).fill(value),
  new Uint8Array(count).fill(value),
]

beforeEach(async () => {
  await database.jobs.clear()
  await database.blocks.clear()
})

describe('renders under way', () => {
  it('come back in their order, each with its blocks put together', async () => {
    await saveJob(record({ id: 'later', place: 2 }))
    const counts = { a: { rays: 10, seconds: 1, samples: 4 } }
    const started = record({ passes: counts })
    await saveBlock(started, 3, { x: 2, y: 0, width: 2, height: 2 }, [
      { passId: 'a', channels: block(7, 4), told: { near: 1 } },
      { passId: 'b', channels: block(9, 4), told: { near: 1 } },
    ])
    expect((await loadJobs('p')).map((j) => j.id)).toEqual(['j', 'later'])
    expect((await loadJobs('p'))[0].passes).toEqual(counts)
    const { channels, blocks } = await loadBlocks('j', 'a', SPECS, 4, 3)
    expect(blocks).toEqual([{ block: 3, told: { near: 1 } }])
    expect([...channels[0]]).toEqual([0, 0, 7, 7, 0, 0, 7, 7, 0, 0, 0, 0])
    expect([...(await loadBlocks('j', 'b', SPECS, 4, 3)).channels[1]]).toEqual([
      0, 0, 9, 9, 0, 0, 9, 9, 0, 0, 0, 0,
    ])
  })
  it('leave out blocks that do not fit the picture or the channels', async () => {
    const rect = { x: 0, y: 0, width: 2, height: 2 }
    await saveBlock(record(), 0, { ...rect, x: 3 }, [
      { passId: 'a', channels: block(1, 4), told: { near: 1 } },
    ])
    await saveBlock(record(), 1, rect, [{ passId: 'a', channels: block(1, 3), told: { near: 1 } }])
    await saveBlock(record(), 2, rect, [{ passId: 'a', channels: [new Uint16Array(4)], told: { near: 1 } }])
    expect((await loadBlocks('j', 'a', SPECS, 4, 4)).blocks).toEqual([])
  })
  it('are dropped with their blocks, or the blocks alone', async () => {
    const rect = { x: 0, y: 0, width: 1, height: 1 }
    await saveBlock(record(), 0, rect, [{ passId: 'a', channels: block(1, 1), told: { near: 1 } }])
    await dropBlocks('j')
    expect(await database.blocks.count()).toBe(0)
    expect(await loadJobs('p')).toHaveLength(1)
    await saveBlock(record(), 0, rect, [{ passId: 'a', channels: block(1, 1), told: { near: 1 } }])
    await dropJob('j')
    expect(await database.blocks.count()).toBe(0)
    expect(await loadJobs('p')).toEqual([])
  })
  it('that cannot be read are dropped, not in the way', async () => {
    await database.jobs.put({ id: 'bad', projectId: 'p', record: { id: 5 } })
    expect(await loadJobs('p')).toEqual([])
    expect(await database.jobs.count()).toBe(0)
  })
})
