import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import encodeWebp, { init as initEncoder } from '@jsquash/webp/encode.js'
import { encode as encodeJpeg } from 'jpeg-js'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { writeExr } from '@/core/formats/exr'
import { jpegOrientation } from '@/core/formats/jpeg-orientation'
import { writePng } from '@/core/formats/png'
import { linearToSrgb } from '@/core/math/colour'
import { webpModule } from '../../scripts/webp.mjs'
import { decodeAnyPicture, decodePicture } from './decode-picture'
import { WEBP_DECODER } from './webp-binary'

const [WIDTH, HEIGHT] = [16, 8]
/** Left half red, right half blue, the top left corner white. */
const RGBA = Uint8ClampedArray.from({ length: 4 * WIDTH * HEIGHT }, (_, i) => {
  const [x, y, c] = [(i >> 2) % WIDTH, Math.floor(i / (4 * WIDTH)), i & 3]
  if (c === 3) return 255
  if (x < 4 && y < 4) return 255
  return (c === 0 && x < 8) || (c === 2 && x >= 8) ? 220 : 20
})
const colourAt = ({ width, pixels }: { width: number; pixels: Float32Array }, x: number, y: number) =>
  [...pixels.subarray(4 * (y * width + x), 4 * (y * width + x) + 4)].map((v) => Math.round(v * 255))

const jpeg = () => new Uint8Array(encodeJpeg({ data: RGBA, width: WIDTH, height: HEIGHT }, 95).data)
/** A JPEG whose camera noted how it was held, in either order of bytes. */
function held(orientation: number, little: boolean): Uint8Array {
  const plain = jpeg()
  const exif = new DataView(new ArrayBuffer(36))
  exif.setUint16(0, 0xffe1)
  exif.setUint16(2, 34)
  exif.setUint32(4, 0x45786966)
  exif.setUint16(10, little ? 0x4949 : 0x4d4d)
  exif.setUint16(12, 42, little)
  exif.setUint32(14, 8, little)
  exif.setUint16(18, 1, little)
  exif.setUint16(20, 0x0112, little)
  exif.setUint16(22, 3, little)
  exif.setUint32(24, 1, little)
  exif.setUint16(28, orientation, little)
  return Uint8Array.from([...plain.slice(0, 2), ...new Uint8Array(exif.buffer), ...plain.slice(2)])
}
async function webp(lossless: boolean): Promise<Uint8Array> {
  const file = createRequire(import.meta.url).resolve('@jsquash/webp/codec/enc/webp_enc.wasm')
  await initEncoder(await WebAssembly.compile(readFileSync(file)))
  const picture = { data: RGBA, width: WIDTH, height: HEIGHT, colorSpace: 'srgb' } as const
  return new Uint8Array(await encodeWebp(picture as ImageData, { lossless: lossless ? 1 : 0, exact: 1 }))
}

describe('decodePicture', () => {
  it('reads every kind to the same picture', async () => {
    const kinds = [writePng(WIDTH, HEIGHT, RGBA), jpeg(), await webp(true), await webp(false)]
    for (const bytes of kinds) {
      const picture = await decodePicture(bytes, 'a')
      expect([picture.width, picture.height]).toEqual([WIDTH, HEIGHT])
      for (const [x, y, ...colour] of [
        [1, 1, 255, 255, 255],
        [2, 6, 220, 20, 20],
        [13, 3, 20, 20, 220],
      ])
        colourAt(picture, x, y).forEach((v, c) => expect(Math.abs(v - (colour[c] ?? 255))).toBeLessThan(14))
    }
  })
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('turns a JPEG upright that was held as %i', async (orientation) => {
    for (const little of [true, false]) {
      const bytes = held(orientation, little)
      expect(jpegOrientation(bytes)).toBe(orientation)
      const picture = await decodePicture(bytes, 'a.jpg')
      const isTurned = orientation >= 5
      expect([picture.width, picture.height]).toEqual(isTurned ? [HEIGHT, WIDTH] : [WIDTH, HEIGHT])
      // Where the white corner of the file comes to lie (Exif 2.3 §4.6.4: rows and columns of the 0th).
      const [right, bottom] = [picture.width - 2, picture.height - 2]
      const corner =
        {
          1: [1, 1],
          2: [right, 1],
          3: [right, bottom],
          4: [1, bottom],
          5: [1, 1],
          6: [right, 1],
          7: [right, bottom],
          8: [1, bottom],
        }[orientation] ?? []
      expect(Math.min(...colourAt(picture, corner[0], corner[1]))).toBeGreaterThan(235)
    }
  })
  it('shows light beyond white as white, and premultiplied light as it is', async () => {
    const plane = (...values: number[]) => Float32Array.from(values)
    const bytes = writeExr(2, 1, [
      { name: 'R', type: 'float', data: plane(4, 0.25) },
      { name: 'G', type: 'float', data: plane(0.5, 0) },
      { name: 'B', type: 'float', data: plane(0, 0.125) },
      { name: 'A', type: 'float', data: plane(1, 0.5) },
    ])
    const { pixels } = await decodePicture(bytes, 'a.exr')
    const expected = [1, linearToSrgb(0.5), 0, 1, linearToSrgb(0.5), 0, linearToSrgb(0.25), 0.5]
    expected.forEach((v, i) => expect(pixels[i]).toBeCloseTo(v, 5))
    expect((await decodeAnyPicture(bytes, 'a.exr')).space).toBe('linear')
  })
  it.each([
    ['nothing', new Uint8Array(0), /is not a picture that can be read \(PNG, JPEG, WebP, HDR and EXR are\)/],
    ['text', new TextEncoder().encode('hello'), /is not a picture/],
    ['half a JPEG', jpeg().slice(0, 40), /cannot be read as a picture/],
    [
      'half a WebP',
      Uint8Array.from([...new TextEncoder().encode('RIFF....WEBPVP8 '), 1, 2]),
      /cannot be read/,
    ],
    [
      'a PNG that claims too much',
      claiming(16384, 16384),
      /claims 16384 × 16384 pixels, more than its bytes/,
    ],
    ['a PNG that claims far too much', claiming(2 ** 20, 2 ** 20), /claims more pixels than can be held/],
  ])('refuses %s by name', async (_what, bytes, words) => {
    await expect(decodePicture(bytes, 'sky.png')).rejects.toThrow(words)
    await expect(decodePicture(bytes, 'sky.png')).rejects.toThrow(/^sky\.png: /)
  })
  it.each<[string, Uint8Array, RegExp]>([
    ['claims more than its bytes stand for', framed(0, 9000, 9000), /it is cut short/],
    ['claims nothing', framed(0, 0, 9000), /its size is none/],
    ['has another, larger frame', framed(1, 9000, 9000), /limit exceeded/],
    ['has no frame', Uint8Array.from([...jpeg().slice(0, 20), ...new Uint8Array(40)]), /no frame header/],
  ])('refuses a JPEG that %s, before it takes memory', async (_what, bytes, words) => {
    await expect(decodePicture(bytes, 'a.jpg')).rejects.toThrow(words)
    await expect(decodePicture(bytes, 'a.jpg')).rejects.toThrow(/^a\.jpg: cannot be read as a picture: /)
  })
  it('reads a JPEG that stands for as many pixels as its bytes can', async () => {
    const side = 2048
    const plain = sharp({ create: { width: side, height: side, channels: 3, background: '#808080' } })
    const bytes = await plain.grayscale().jpeg({ progressive: true, optimiseCoding: true }).toBuffer()
    // Three bits a block, as in no picture of anything.
    expect(side ** 2 / bytes.length).toBeGreaterThan(150)
    const { width, height, pixels } = await decodePicture(bytes, 'flat.jpg')
    expect([width, height]).toEqual([side, side])
    expect(Math.round(255 * pixels[4 * (side * side - 1)])).toBe(128)
  })
  it.each<[string, Uint8Array, RegExp]>([
    [
      'is longer than its kind',
      exrWith('more', 'int', 200),
      /attribute more has 200 bytes, where the kind int has 4$/,
    ],
    [
      'is shorter than its kind',
      exrWith('more', 'chromaticities', 8),
      /more has 8 bytes, where the kind chromaticities has 32$/,
    ],
    ['lists channels without an end', exrWith('more', 'chlist', 40, 65), /list of channels has no end/],
    ['lists channels that end too soon', exrWith('more', 'chlist', 8, 0), /list of channels ends too soon/],
    ['is longer than the file', exrWith('more', 'string', 8, 0, 1e6), /more is longer than the file/],
    ['is a size of another kind', exrWith('dataWindow', 'string', 16, 1), /it has no dataWindow/],
    ['has a name without an end', exrWith('m'.repeat(300), 'int', 4), /head has no end/],
  ])('refuses an EXR of which an attribute %s', async (_what, bytes, words) => {
    await expect(decodePicture(bytes, 'a.exr')).rejects.toThrow(words)
  })
  it.each([0, -1, 65, 0x8000])('refuses an EXR of which a channel is sampled %i times', async (sampling) => {
    const bytes = exr()
    // Behind the head's first eight bytes: two words, a size, the channel's name, its kind, a flag and three bytes.
    new DataView(bytes.buffer).setInt32(8 + 'channels.chlist.'.length + 4 + 2 + 4 + 4, sampling, true)
    await expect(decodePicture(bytes, 'a.exr')).rejects.toThrow(/sampled as none can be/)
  })
  it('reads an EXR with attributes of kinds that it does not know', async () => {
    const bytes = exrWith('more', 'something', 13, 7)
    expect((await decodePicture(bytes, 'a.exr')).pixels).toEqual((await decodePicture(exr(), 'a')).pixels)
  })
  it('has the decoder of the package that is installed', () => {
    expect(webpModule()).toContain(WEBP_DECODER)
  })
})

/** A small PNG whose head claims another size. */
function claiming(width: number, height: number): Uint8Array {
  const bytes = writePng(WIDTH, HEIGHT, RGBA).slice()
  const view = new DataView(bytes.buffer)
  view.setUint32(16, width)
  view.setUint32(20, height)
  return bytes
}

/** The small JPEG with a frame header that claims a size: its own one, or another one before it. */
function framed(more: number, width: number, height: number): Uint8Array {
  const bytes = [...jpeg()]
  const at = bytes.findIndex((v, i) => v === 0xff && bytes[i + 1] === 0xc0)
  const own = bytes.slice(at, at + 2 + 256 * bytes[at + 2] + bytes[at + 3])
  const claims = [...own]
  claims.splice(5, 4, height >> 8, height & 255, width >> 8, width & 255)
  return Uint8Array.from([
    ...bytes.slice(0, at),
    ...(more > 0 ? [...own, ...claims] : claims),
    ...bytes.slice(at + own.length),
  ])
}

const exr = (): Uint8Array<ArrayBuffer> => {
  const data = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => i / 128)
  return new Uint8Array(writeExr(WIDTH, HEIGHT, [{ name: 'Y', type: 'float', data }]))
}

/**
 * The small EXR with one more attribute before its others, where a reader of the size it tells goes on well. One that is left out
 * of the others takes the place of the one of its name.
 * @param size bytes that it has, all alike. @param told how many it says.
 */
function exrWith(name: string, type: string, size: number, fill = 1, told = size): Uint8Array {
  const words = (...own: string[]) => own.flatMap((word) => [...new TextEncoder().encode(word), 0])
  const bytes = [...exr()]
  const length = new Uint8Array(Uint32Array.of(told).buffer)
  const more = [...words(name, type), ...length, ...new Uint8Array(size).fill(fill)]
  // What has it already loses it: 16 bytes behind its size.
  const text = String.fromCharCode(...bytes)
  const at = text.indexOf(`${name}\0box2i\0`)
  if (at >= 0) bytes.splice(at, name.length + 1 + 6 + 4 + 16)
  bytes.splice(8, 0, ...more)
  return Uint8Array.from(bytes)
}
