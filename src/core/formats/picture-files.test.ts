import { inflateSync } from 'node:zlib'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FloatType } from 'three'
import { EXRLoader } from 'three/addons/loaders/EXRLoader.js'
import { decodeChannel, encodeChannel } from '../picture/channel'
import { floatToHalf, halfToFloat } from '../picture/half-float'
import { seededRandom } from '../math/sampling'
import { exrValues, readExr, writeExr } from './exr'
import { writeOpenRaster } from './openraster'
import { readPng, writePng } from './png'

/** Unpacks a PNG by the letter of the recommendation: an independent reader of what the writer wrote. */
function pngScanlines(file: Uint8Array): { width: number; height: number; depth: number; samples: number[] } {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength)
  const [width, height, depth, colour] = [view.getUint32(16), view.getUint32(20), file[24], file[25]]
  expect(colour).toBe(6)
  const parts: Uint8Array[] = []
  for (let at = 8; at < file.length;) {
    const length = view.getUint32(at)
    const type = String.fromCharCode(...file.subarray(at + 4, at + 8))
    if (type === 'IDAT') parts.push(file.subarray(at + 8, at + 8 + length))
    at += 12 + length
  }
  const raw = inflateSync(Buffer.concat(parts))
  const bpp = (4 * depth) / 8
  const stride = width * bpp
  const out = new Uint8Array(stride * height)
  for (let y = 0; y < height; y++) {
    const filter = raw[y * (stride + 1)]
    for (let i = 0; i < stride; i++) {
      const a = i >= bpp ? out[y * stride + i - bpp] : 0
      const b = y > 0 ? out[(y - 1) * stride + i] : 0
      const c = i >= bpp && y > 0 ? out[(y - 1) * stride + i - bpp] : 0
      const p = a + b - c
      const paeth =
        Math.abs(p - a) <= Math.abs(p - b) && Math.abs(p - a) <= Math.abs(p - c)
          ? a
          : Math.abs(p - b) <= Math.abs(p - c)
            ? b
            : c
      const add = [0, a, b, (a + b) >> 1, paeth][filter]
      out[y * stride + i] = raw[y * (stride + 1) + 1 + i] + add
    }
  }
  const samples = Array.from({ length: width * height * 4 }, (_, i) =>
    depth === 16 ? out[2 * i] * 256 + out[2 * i + 1] : out[i],
  )
  return { width, height, depth, samples }
}

/** Entries of a zip by its local headers; refuses compression, which the writer does not use for pictures. */
function storedEntries(file: Uint8Array): Map<string, Uint8Array> {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength)
  const entries = new Map<string, Uint8Array>()
  for (let at = 0; view.getUint32(at, true) === 0x04034b50;) {
    expect(view.getUint16(at + 8, true)).toBe(0)
    const [size, nameLength, extra] = [
      view.getUint32(at + 18, true),
      view.getUint16(at + 26, true),
      view.getUint16(at + 28, true),
    ]
    const name = String.fromCharCode(...file.subarray(at + 30, at + 30 + nameLength))
    const start = at + 30 + nameLength + extra
    entries.set(name, file.subarray(start, start + size))
    at = start + size
  }
  return entries
}

describe('half floats', () => {
  it('has golden values', () => {
    for (const [value, bits] of [
      [0, 0],
      [1, 0x3c00],
      [-2, 0xc000],
      [65504, 0x7bff],
      [2 ** -24, 1],
      [1 / 3, 0x3555],
      [Infinity, 0x7c00],
      [1e6, 0x7c00],
    ]) {
      expect(floatToHalf(value)).toBe(bits)
    }
    expect(halfToFloat(floatToHalf(NaN))).toBeNaN()
  })
  it('keeps every finite half', () => {
    for (let h = 0; h < 65536; h++) if (((h >> 10) & 31) !== 31) expect(floatToHalf(halfToFloat(h))).toBe(h)
  })
})

describe('channels', () => {
  it.each(['unorm8', 'unorm16', 'half', 'float32'] as const)('%s keeps 0…1 to its precision', (format) => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: 0, max: 1, noNaN: true }), { minLength: 1 }), (values) => {
        const source = Float32Array.from(values)
        const out = new Float32Array(values.length)
        decodeChannel({ name: 'x', format, data: encodeChannel(format, source) }, 0, values.length, out)
        const tolerance = { unorm8: 0.5 / 255, unorm16: 0.5 / 65535, half: 2 ** -12, float32: 0 }[format]
        out.forEach((v, i) => expect(Math.abs(v - source[i])).toBeLessThanOrEqual(tolerance + 1e-7))
      }),
    )
  })
})

describe('PNG', () => {
  const random = seededRandom(2)
  it('writes 8 and 16 bits that another reader reads', () => {
    const eight = Uint8ClampedArray.from({ length: 4 * 7 * 5 }, () => random() * 256)
    expect(pngScanlines(writePng(7, 5, eight))).toEqual({
      width: 7,
      height: 5,
      depth: 8,
      samples: [...eight],
    })
    const sixteen = Uint16Array.from({ length: 4 * 7 * 5 }, () => random() * 65536)
    expect(pngScanlines(writePng(7, 5, sixteen))).toEqual({
      width: 7,
      height: 5,
      depth: 16,
      samples: [...sixteen],
    })
  })
  it('reads back what it wrote', () => {
    const rgba = Uint16Array.from({ length: 4 * 6 * 3 }, () => random() * 65536)
    const { pixels } = readPng(writePng(6, 3, rgba), 'a.png')
    pixels.forEach((v, i) => expect(v).toBeCloseTo(rgba[i] / 65535, 6))
  })
  it('refuses what is not one, is damaged, or claims too much', () => {
    expect(() => readPng(new Uint8Array(50), 'a.png')).toThrow('a.png: is not a PNG')
    const whole = writePng(8, 8, new Uint8ClampedArray(256).fill(9))
    expect(() => readPng(whole.slice(0, 60), 'a.png')).toThrow('a.png: the PNG is damaged')
    const claim = whole.slice()
    new DataView(claim.buffer).setUint32(16, 0x7fffffff)
    expect(() => readPng(claim, 'a.png')).toThrow('claims more pixels')
  })
})

describe('EXR', () => {
  const [width, height] = [37, 35]
  const random = seededRandom(8)
  const plane = () => Float32Array.from({ length: width * height }, () => (random() - 0.3) * 10)
  const [v, h] = [plane(), plane()]
  const ids = Uint32Array.from({ length: width * height }, () => random() * 65536)
  const file = writeExr(width, height, [
    { name: 'V', type: 'float', data: v },
    { name: 'H', type: 'half', data: h },
    { name: 'id', type: 'uint', data: ids },
  ])
  it('comes back without loss', () => {
    const back = readExr(file, 'a.exr')
    expect([back.width, back.height]).toEqual([width, height])
    expect(back.channels.map((c) => [c.name, c.type])).toEqual([
      ['H', 'half'],
      ['V', 'float'],
      ['id', 'uint'],
    ])
    expect([...exrValues(back.channels[1])]).toEqual([...v])
    expect([...exrValues(back.channels[0])]).toEqual([...h].map((x) => halfToFloat(floatToHalf(x))))
    expect([...back.channels[2].data]).toEqual([...ids])
  })
  it('is read by an independent reader', () => {
    const rgba = ['R', 'G', 'B', 'A'].map((name) => ({ name, type: 'float' as const, data: plane() }))
    const bytes = writeExr(width, height, rgba)
    const loader = new EXRLoader()
    loader.setDataType(FloatType)
    const read = loader.parse(bytes.slice().buffer) as { width: number; height: number; data: Float32Array }
    expect([read.width, read.height]).toEqual([width, height])
    // The reader gives rows from the bottom.
    for (const [x, y] of [
      [0, 0],
      [36, 34],
      [5, 20],
      [17, 16],
    ]) {
      for (let c = 0; c < 4; c++) {
        expect(read.data[4 * ((height - 1 - y) * width + x) + c]).toBeCloseTo(rgba[c].data[y * width + x], 5)
      }
    }
  })
  it('refuses damage with a reason, at any place it is cut', () => {
    expect(() => readExr(new Uint8Array(30), 'a.exr')).toThrow('a.exr: is not an EXR')
    for (let cut = 20; cut < file.length; cut += 97)
      expect(() => readExr(file.slice(0, cut), 'a.exr')).toThrow(/^a\.exr: /)
  })
})

describe('OpenRaster', () => {
  it('is a zip another reader opens: mimetype first, stack front to back, layers with mode, opacity, visibility', () => {
    const red = new Uint8ClampedArray(4 * 4).fill(200)
    const file = writeOpenRaster(
      2,
      2,
      [
        { name: 'Base & "ground"', mode: 'normal', opacity: 1, visible: true, rgba: red },
        { name: 'Shade <1>', mode: 'multiply', opacity: 0.64, visible: false, rgba: red },
      ],
      red,
      { width: 2, height: 2, rgba: red },
    )
    const entries = storedEntries(file)
    expect([...entries.keys()]).toEqual([
      'mimetype',
      'stack.xml',
      'data/layer000.png',
      'data/layer001.png',
      'mergedimage.png',
      'Thumbnails/thumbnail.png',
    ])
    const text = (name: string) => new TextDecoder().decode(entries.get(name))
    expect(text('mimetype')).toBe('image/openraster')
    const layers = [...text('stack.xml').matchAll(/<layer (.*?)\/>/g)].map((m) => m[1])
    expect(layers[0]).toContain('name="Shade &lt;1&gt;" src="data/layer001.png"')
    expect(layers[0]).toContain('opacity="0.64" visibility="hidden" composite-op="svg:multiply"')
    expect(layers[1]).toContain('name="Base &amp; &quot;ground&quot;"')
    expect(layers[1]).toContain('composite-op="svg:src-over"')
    expect(pngScanlines(entries.get('data/layer001.png') ?? new Uint8Array()).samples).toEqual([...red])
  })
})
