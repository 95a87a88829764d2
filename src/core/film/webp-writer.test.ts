import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { joinBytes } from '../join-bytes'
import { frameMs, webpWriter } from './webp-writer'

const SHAPE = { width: 20, height: 12, frames: 4, rate: 24, plays: 3 }
const picture = (frame: number, alpha: number): Uint8Array => {
  const rgba = new Uint8Array(4 * SHAPE.width * SHAPE.height)
  for (let i = 0; i < rgba.length; i += 4) rgba.set([60 * frame, 255 - 40 * frame, i % 251, alpha], i)
  return rgba
}
const webp = async (rgba: Uint8Array): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp(rgba, { raw: { width: SHAPE.width, height: SHAPE.height, channels: 4 } })
      .webp({ lossless: true, exact: true })
      .toBuffer(),
  )
async function film(alpha: number): Promise<Uint8Array> {
  const writer = webpWriter(SHAPE, alpha < 255)
  const frames: Uint8Array[] = []
  for (let i = 0; i < SHAPE.frames; i++) frames.push(writer.frame(await webp(picture(i, alpha))))
  return joinBytes([writer.head(), ...frames])
}

describe('an animated WebP', () => {
  it.each([255, 90])('is read with its frames, times, rounds and pixels at alpha %i', async (alpha) => {
    const file = await film(alpha)
    const read = sharp(file, { animated: true })
    const { pages, pageHeight, width, loop, delay } = await read.metadata()
    expect({ pages, pageHeight, width, loop }).toEqual({ pages: 4, pageHeight: 12, width: 20, loop: 3 })
    // 24 a second: together as long as four frames are.
    expect(delay).toEqual([42, 41, 42, 42])
    const raw = new Uint8Array(await read.ensureAlpha().raw().toBuffer())
    const bytes = 4 * SHAPE.width * SHAPE.height
    for (let i = 0; i < SHAPE.frames; i++)
      expect(raw.slice(i * bytes, (i + 1) * bytes)).toEqual(picture(i, alpha))
  })
  it('lasts as long as its frames do, whatever each is rounded to', () => {
    for (const rate of [12, 24, 25, 29.97, 30, 60]) {
      const sum = Array.from({ length: 240 }, (_, i) => frameMs(i, rate)).reduce((a, b) => a + b)
      expect(Math.abs(sum - 240_000 / rate)).toBeLessThanOrEqual(0.5)
    }
  })
  it('refuses what is no picture of it, and more frames than were told', async () => {
    const writer = webpWriter({ ...SHAPE, frames: 1 }, false)
    const one = await webp(picture(0, 255))
    expect(() => writer.frame(new Uint8Array(40))).toThrow('frame 0: is no WebP picture')
    expect(() => writer.frame(one.slice(0, one.length - 6))).toThrow('is cut short')
    writer.frame(one)
    expect(() => writer.frame(one)).toThrow('frames must be 1')
  })
})
