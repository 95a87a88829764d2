import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { apngWriter } from '@/core/film/apng-writer'
import type { FilmShape } from '@/core/film/film-size'
import { FilmPalette, gifWriter } from '@/core/film/gif-writer'
import { joinBytes } from '@/core/join-bytes'
import { BenchPage } from './bench-page'

/** Films as a browser reads them: it lays parts over what was there before, as whoever looks at them does. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
})
afterAll(async () => {
  await page?.close()
})

const SHAPE: FilmShape = { width: 40, height: 24, frames: 5, rate: 25, plays: 0 }
/** A disc that goes over a ground, the ground as solid as is asked for. */
const frameOf = (frame: number, alpha: number): Uint8Array => {
  const { width, height } = SHAPE
  const rgba = new Uint8Array(4 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const isDisc = Math.hypot(x - 6 - 7 * frame, y - 12) < 5
      rgba.set(isDisc ? [200, 60, 30, 255] : [16 * (x >> 2), 10 * y, 90, alpha], 4 * (y * width + x))
    }
  return rgba
}
const frames = (alpha: number): Uint8Array[] =>
  Array.from({ length: SHAPE.frames }, (_, i) => frameOf(i, alpha))

interface Read {
  readonly count: number
  readonly plays: number
  readonly frames: readonly number[][]
  /** Microseconds. */
  readonly durations: readonly number[]
}
const read = (bytes: Uint8Array, type: string): Promise<Read> =>
  page.driver.executeAsyncScript<Read>(
    `const [text, type, done] = arguments
     ;(async () => {
       const data = Uint8Array.from(atob(text), (c) => c.charCodeAt(0))
       const decoder = new ImageDecoder({ data, type, premultiplyAlpha: 'none', colorSpaceConversion: 'none' })
       await decoder.tracks.ready
       const track = decoder.tracks.selectedTrack
       const frames = [], durations = []
       for (let frameIndex = 0; frameIndex < track.frameCount; frameIndex++) {
         const { image } = await decoder.decode({ frameIndex })
         durations.push(image.duration)
         const size = image.allocationSize({ format: 'RGBA' })
         const rgba = new Uint8Array(size)
         await image.copyTo(rgba, { format: 'RGBA' })
         frames.push(Array.from(rgba))
         image.close()
       }
       done({ count: track.frameCount, plays: track.repetitionCount === Infinity ? 0 : track.repetitionCount + 1, frames, durations })
     })().catch((error) => done({ count: -1, plays: 0, frames: [], durations: [String(error)] }))`,
    Buffer.from(bytes).toString('base64'),
    type,
  )

describe('an animated PNG in a browser', () => {
  it.each([255, 128, 0])('shows every frame as it was given, its ground of alpha %i', async (alpha) => {
    const own = frames(alpha)
    const writer = apngWriter({ ...SHAPE, plays: 2 })
    const found = await read(
      joinBytes([...own.map((frame) => writer.frame(frame)), writer.end()]),
      'image/png',
    )
    expect([found.count, found.plays]).toEqual([5, 2])
    expect(found.durations).toEqual(Array.from({ length: 5 }, () => 40_000))
    found.frames.forEach((frame, i) => {
      let most = 0
      for (let p = 0; p < frame.length; p++) {
        // Of what is clear the colour is nothing.
        if (own[i][p | 3] === 0 && (p & 3) !== 3) continue
        most = Math.max(most, Math.abs(frame[p] - own[i][p]))
      }
      // A browser may hold colours premultiplied.
      expect(most).toBeLessThanOrEqual(alpha === 255 ? 0 : 2)
    })
  })
})

describe('a GIF in a browser', () => {
  it.each([255, 0])('shows every frame in the colours of all, its ground of alpha %i', async (alpha) => {
    const own = frames(alpha)
    const palette = new FilmPalette(own.length)
    for (const frame of own) palette.look(frame)
    const writer = gifWriter(SHAPE, palette.colours(), alpha < 255, 1)
    const found = await read(
      joinBytes([...own.map((frame) => writer.frame(frame)), writer.end()]),
      'image/gif',
    )
    expect([found.count, found.plays]).toEqual([5, 0])
    expect(found.durations).toEqual(Array.from({ length: 5 }, () => 40_000))
    // Few enough colours to stand for themselves.
    found.frames.forEach((frame, i) => {
      for (let p = 0; p < frame.length; p += 4) {
        expect(frame[p + 3]).toBe(own[i][p + 3])
        if (own[i][p + 3] === 255)
          expect([frame[p], frame[p + 1], frame[p + 2]]).toEqual([...own[i].subarray(p, p + 3)])
      }
    })
  })
})
