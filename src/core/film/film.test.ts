import { decodeApng } from 'fast-png'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { joinBytes } from '../join-bytes'
import { seededRandom } from '../math/sampling'
import { apngWriter } from './apng-writer'
import { changedPart, type FilmShape, type FilmWriter } from './film-size'
import { FilmPalette, gifWriter, MOST_COLOURS } from './gif-writer'

const SHAPE: FilmShape = { width: 48, height: 32, frames: 6, rate: 24, plays: 0 }
const written = (writer: FilmWriter, frames: readonly Uint8Array[]): Uint8Array =>
  joinBytes([...frames.map((frame) => writer.frame(frame)), writer.end()])
/** A square that goes over a gradient. */
const moving = (frame: number, alpha = 255): Uint8Array => {
  const { width, height } = SHAPE
  const rgba = new Uint8Array(4 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = 4 * (y * width + x)
      const isSquare = x >= 5 * frame && x < 5 * frame + 8 && y >= 10 && y < 18
      rgba.set(isSquare ? [220, 40, 20, 255] : [4 * x, 6 * y, 120, alpha], i)
    }
  return rgba
}
const frames = Array.from({ length: SHAPE.frames }, (_, i) => moving(i))

describe('what differs between two frames', () => {
  it('is the least rectangle that holds it', () => {
    const random = seededRandom(2)
    for (let k = 0; k < 50; k++) {
      const before = new Uint8Array(4 * 20 * 10)
      const now = before.slice()
      const places = Array.from({ length: 1 + Math.floor(3 * random()) }, () => [
        Math.floor(20 * random()),
        Math.floor(10 * random()),
      ])
      for (const [x, y] of places) now[4 * (20 * y + x) + Math.floor(4 * random())] = 9
      const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)]
      const [left, top] = [Math.min(...xs), Math.min(...ys)]
      expect(changedPart(before, now, 20, 10)).toEqual({
        x: left,
        y: top,
        width: Math.max(...xs) - left + 1,
        height: Math.max(...ys) - top + 1,
      })
    }
    expect(changedPart(frames[0], frames[0].slice(), SHAPE.width, SHAPE.height)).toBeNull()
  })
})

describe('an animated PNG', () => {
  it('gives every frame back without loss, alpha with it, to another reader', () => {
    const clear = Array.from({ length: SHAPE.frames }, (_, i) => moving(i, 30 * i))
    for (const own of [frames, clear]) {
      const read = decodeApng(written(apngWriter(SHAPE), own))
      expect([read.width, read.height, read.numberOfFrames, read.numberOfPlays]).toEqual([48, 32, 6, 0])
      read.frames.forEach((frame, i) => {
        // That reader does not lay a part over what was there: what was written lies at its place, all else is nothing.
        const part = i === 0 ? null : changedPart(own[i - 1], own[i], SHAPE.width, SHAPE.height)
        const { x, y, width, height } = part ?? { x: 0, y: 0, ...SHAPE }
        for (let p = 0; p < own[i].length; p++) {
          const [column, row] = [(p >> 2) % SHAPE.width, Math.floor((p >> 2) / SHAPE.width)]
          const isWithin = column >= x && column < x + width && row >= y && row < y + height
          if (frame.data[p] !== (isWithin ? own[i][p] : 0)) throw new Error(`frame ${i} differs at ${p}`)
        }
        expect(frame.delayNumber / frame.delayDenominator).toBeCloseTo(1 / 24, 9)
      })
    }
  })
  it('is played as often, and as fast, as it was told', () => {
    const read = decodeApng(written(apngWriter({ ...SHAPE, plays: 3, rate: 23.976 }), frames))
    expect(read.numberOfPlays).toBe(3)
    expect(read.frames[0].delayDenominator / read.frames[0].delayNumber).toBeCloseTo(23.976, 6)
  })
  it('writes what differs only', () => {
    const still = written(
      apngWriter(SHAPE),
      Array.from({ length: 6 }, () => frames[0]),
    )
    const one = written(apngWriter({ ...SHAPE, frames: 1 }), [frames[0]])
    expect(still.length).toBeLessThan(one.length + 5 * 120)
  })
  it('refuses more frames than were told, or less', () => {
    const writer = apngWriter({ ...SHAPE, frames: 2 })
    writer.frame(frames[0])
    expect(() => writer.end()).toThrow('frames must be 2 (got 1)')
    writer.frame(frames[1])
    expect(() => writer.frame(frames[2])).toThrow('frames must be 2 (got 3)')
  })
})

describe('a GIF', () => {
  const paletteOf = (list: readonly Uint8Array[]): number[][] => {
    const palette = new FilmPalette(list.length)
    for (const frame of list) palette.look(frame)
    return palette.colours()
  }
  const read = async (bytes: Uint8Array) => {
    const picture = sharp(bytes, { animated: true })
    const { pages, delay, loop } = await picture.metadata()
    const { data } = await picture.ensureAlpha().raw().toBuffer({ resolveWithObject: true })
    const size = 4 * SHAPE.width * SHAPE.height
    return {
      pages,
      delay,
      loop,
      frames: Array.from({ length: pages ?? 1 }, (_, i) => data.subarray(i * size, (i + 1) * size)),
    }
  }
  const meanOff = (a: Uint8Array, b: Uint8Array) =>
    a.reduce((sum, v, i) => (i % 4 === 3 ? sum : sum + Math.abs(v - b[i])), 0) / (0.75 * a.length)

  it('comes near to every frame, in colours chosen from all of them', async () => {
    const colours = paletteOf(frames)
    expect(colours.length).toBeLessThanOrEqual(MOST_COLOURS)
    const found = await read(written(gifWriter(SHAPE, colours, false, 1), frames))
    expect(found.pages).toBe(6)
    found.frames.forEach((frame, i) => expect(meanOff(frames[i], frame)).toBeLessThan(7))
  })
  it('mixes colours by its pattern: the mean of a place comes nearer than without', async () => {
    // A ramp of grey in four colours.
    const ramp = new Uint8Array(4 * SHAPE.width * SHAPE.height)
    for (let i = 0; i < ramp.length; i += 4) {
      const grey = Math.round((255 * ((i >> 2) % SHAPE.width)) / (SHAPE.width - 1))
      ramp.set([grey, grey, grey, 255], i)
    }
    const four = [0, 85, 170, 255].map((v) => [v, v, v])
    const blocks = (pixels: Uint8Array): number[] =>
      Array.from({ length: 6 }, (_, b) => {
        let sum = 0
        for (let y = 0; y < 32; y++) for (let x = 0; x < 8; x++) sum += pixels[4 * (y * 48 + 8 * b + x)]
        return sum / 256
      })
    const off = async (dither: number) => {
      const { frames: made } = await read(
        written(gifWriter({ ...SHAPE, frames: 1 }, four, false, dither), [ramp]),
      )
      const [wanted, own] = [blocks(ramp), blocks(made[0])]
      return Math.max(...wanted.map((v, i) => Math.abs(v - own[i])))
    }
    expect(await off(1)).toBeLessThan(0.7 * (await off(0)))
  })
  it('keeps few colours as they are', async () => {
    const flat = frames.map((_, k) => {
      const rgba = new Uint8Array(4 * SHAPE.width * SHAPE.height)
      for (let i = 0; i < rgba.length; i += 4) rgba.set([(i >> 6) % 2 === 0 ? 10 : 13, 200, 40 + k, 255], i)
      return rgba
    })
    const found = await read(written(gifWriter(SHAPE, paletteOf(flat), false, 1), flat))
    found.frames.forEach((frame, i) => expect(meanOff(flat[i], frame)).toBe(0))
  })
  it('is clear where frames are', async () => {
    const clear = Array.from({ length: 6 }, (_, i) => moving(i, 0))
    const found = await read(written(gifWriter(SHAPE, paletteOf(clear), true, 0), clear))
    found.frames.forEach((frame, i) => {
      for (let p = 3; p < frame.length; p += 4) expect(frame[p]).toBe(clear[i][p])
    })
  })
  it('keeps its time, though it counts in hundredths of a second', async () => {
    const long = { ...SHAPE, frames: 24 }
    const found = await read(
      written(
        gifWriter(long, paletteOf(frames), false, 1),
        Array.from({ length: 24 }, (_, i) => frames[i % 6]),
      ),
    )
    expect(found.delay?.reduce((sum, ms) => sum + ms, 0)).toBe(1000)
    expect(found.loop).toBe(0)
    const thrice = await read(written(gifWriter({ ...SHAPE, plays: 3 }, paletteOf(frames), false, 1), frames))
    expect(thrice.loop).toBe(3)
  })
  it('refuses a frame of another size, and more colours than there may be', () => {
    const writer = gifWriter(SHAPE, paletteOf(frames), false, 1)
    expect(() => writer.frame(new Uint8Array(12))).toThrow('frame must be 48 × 32 pixels (got 3)')
    const many = Array.from({ length: 256 }, (_, i) => [i, i, i])
    expect(() => gifWriter(SHAPE, many, false, 1)).toThrow('colours must be at most 255 (got 256)')
  })
})
