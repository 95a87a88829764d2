import { Dexie } from 'dexie'
import { passKind } from '@/core/passes/registry'
import type { PassResult } from '@/core/passes/pass-result'
import { allocateChannel, type ChannelData } from '@/core/picture/channel'
import { database } from '@/data/database'
import { loadResult, saveResult, shareResult } from '@/data/stored-results'
import { testRendered } from '@/data/testing/fixtures'

/** What bench/stored-passes-in-browser.ts runs in a page: passes stored as tiles, and beside it in one piece each. */

const whole = new Dexie('whole')
whole.version(1).stores({ rows: 'key' })

/** A depth pass of a figure before nothing: two thirds of it are background. */
function depthPass(width: number, height: number, seed: number): PassResult {
  const channels = passKind('depth')
    .channels([], {})
    .map(({ format }): ChannelData => {
      const data = allocateChannel(format, width * height)
      let random = seed
      for (let y = 0; y < height; y++)
        for (let x = width / 3; x < (2 * width) / 3; x++) {
          random = (Math.imul(random, 1664525) + 1013904223) >>> 0
          data[y * width + Math.floor(x)] = 4 + y / 999 + (random >>> 26) / 64
        }
      return data
    })
  return {
    kind: 'depth',
    width,
    height,
    channels,
    surfaces: [],
    lights: [],
    params: {},
    facts: {},
    drawing: null,
  }
}

const milliseconds = async (work: () => Promise<unknown>): Promise<number> => {
  const started = performance.now()
  await work()
  return performance.now() - started
}
const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]

/** @returns lines to print. */
async function storedPasses(rounds: number): Promise<string[]> {
  const lines: string[] = []
  for (const [width, height] of [
    [1280, 800],
    [4096, 2560],
  ]) {
    const times: Record<string, number[]> = {}
    const time = async (what: string, work: () => Promise<unknown>) =>
      void (times[what] ??= []).push(await milliseconds(work))
    const rendered = (resultId: string) => testRendered({ resultId, width, height })
    for (let i = 0; i < rounds; i++) {
      const result = depthPass(width, height, i + width)
      const key = `${width} ${i}`
      await time('whole, stored', () => whole.table('rows').put({ key, channels: result.channels }))
      await time('whole, read', () => whole.table('rows').get(key))
      await time('tiles, stored', () => saveResult('p', key, result))
      await time('tiles, read', () => loadResult('p', rendered(key)))
      await time('tiles, stored once more', () => saveResult('p', `${key} again`, result))
      await time('tiles, given to another project', () => shareResult('p', 'q', key))
    }
    const bytes = depthPass(width, height, 1).channels.reduce((sum, { byteLength }) => sum + byteLength, 0)
    lines.push(
      `${width} × ${height}, ${(bytes / 2 ** 20).toFixed(1)} MB: ` +
        Object.entries(times)
          .map(([what, all]) => `${what} ${median(all).toFixed(0)} ms`)
          .join('; '),
    )
  }
  const tiles = await database.tiles.toArray()
  const held = tiles.reduce((sum, { bytes }) => sum + bytes.byteLength, 0)
  lines.push(
    `${await database.results.count()} passes lie in ${tiles.length} tiles of ${(held / 2 ** 20).toFixed(0)} MB`,
  )
  return lines
}

Object.assign(window, { storedPasses })
