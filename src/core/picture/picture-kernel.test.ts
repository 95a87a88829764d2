import { describe, expect, it } from 'vitest'
import { linearToSrgb, srgbToLinear } from '../math/colour'
import { seededRandom } from '../math/sampling'
import { BLEND_MODES, type BlendMode } from '../sheet/blend-modes'
import {
  plainGate,
  plainMixBack,
  plainOver,
  plainTone,
  plainWithin,
  type Pixel,
  type ToneRange,
} from '../sheet/plain-compositing'
import { pictureKernelOver, pictureMemory } from './picture-kernel'

const COUNT = 4096
/** Where the arrays of these tests lie: 64 bytes a pixel apart are more than enough. */
const [BACKDROP, LAYER, KEPT, WEIGHTS, MASK, OUT] = [0, 1, 2, 3, 4, 5].map((k) => 1024 + k * COUNT * 16)
const memory = pictureMemory(1024 + 6 * COUNT * 16, false)
const kernel = pictureKernelOver(memory)
const floats = (at: number, length: number) => new Float32Array(memory.buffer, at, length)
const bytes = (at: number, length: number) => new Uint8Array(memory.buffer, at, length)

/** Where a channel of a pixel lies in blocks. */
const inBlocks = (pixel: number, channel: number) => 16 * (pixel >> 2) + 4 * channel + (pixel & 3)
const write = (at: number, pixels: readonly Pixel[]) => {
  const blocks = floats(at, 4 * pixels.length)
  pixels.forEach((pixel, p) => pixel.forEach((v, c) => (blocks[inBlocks(p, c)] = v)))
}
const read = (at: number, pixel: number): Pixel => {
  const blocks = floats(at, 4 * COUNT)
  const value = (c: number) => blocks[inBlocks(pixel, c)]
  return [value(0), value(1), value(2), value(3)]
}

/** Values that formulas break at, and others. */
const random = seededRandom(7)
const EDGES = [0, 1, 0.5, 0.25, 1 / 255, 254 / 255, 1e-4]
const value = () => (random() < 0.5 ? EDGES[Math.floor(random() * EDGES.length)] : random())
const alpha = () => {
  const r = random()
  return r < 0.2 ? 0 : r < 0.5 ? 1 : r < 0.6 ? 1e-6 : random()
}
const straight: Pixel[] = Array.from({ length: COUNT }, () => [value(), value(), value(), alpha()])
const premultiplied: Pixel[] = Array.from({ length: COUNT }, () => {
  const a = alpha()
  return [value() * a, value() * a, value() * a, a]
})
const weights = Array.from({ length: COUNT }, () => (random() < 0.3 ? Math.round(random()) : random()))
const quantised = (v: number, steps: number) => Math.round(v * steps) / steps

/** The greatest of some differences: no number is no small one. */
const greatest = (differences: readonly number[]): number =>
  differences.reduce((most, d) => (d > most || Number.isNaN(d) ? d : most), 0)

/** The greatest difference of any channel from what a formula gives. */
function worst(expected: (p: number) => Pixel): number {
  return greatest(
    Array.from({ length: COUNT }, (_, p) => {
      const found = read(BACKDROP, p)
      return greatest(expected(p).map((v, c) => Math.abs(found[c] - v)))
    }),
  )
}
/** The backdrop as the kernel holds it. */
const held = (p: number): Pixel => {
  const [r, g, b, a] = premultiplied[p].map(Math.fround)
  return [r, g, b, a]
}
const heldStraight = (p: number): Pixel => {
  const [r, g, b, a] = straight[p].map(Math.fround)
  return [r, g, b, a]
}
/** The layer as it was kept: to 16 bits. */
const keptStraight = (p: number): Pixel => {
  const kept = new Uint16Array(memory.buffer, KEPT, 4 * COUNT)
  const v = (c: number) => kept[inBlocks(p, c)] / 65535
  return [v(0), v(1), v(2), v(3)]
}

function setUp() {
  write(BACKDROP, premultiplied)
  write(LAYER, straight)
  kernel.keep(LAYER, KEPT, COUNT)
  floats(WEIGHTS, COUNT).set(weights)
  bytes(MASK, COUNT).set(weights.map((w) => Math.round(255 * w)))
}

/**
 * Burn at a source next to 0 and dodge at one next to 1 divide by next to nothing, and a hue of next to no colour is none:
 * there the last bits of what is given decide.
 */
const TOLERANCE: Partial<Record<BlendMode, number>> = { 'color-burn': 2e-3, 'color-dodge': 2e-3 }

describe.each(BLEND_MODES.map((mode, number) => ({ mode, number })))('$mode', ({ mode, number }) => {
  const tolerance = TOLERANCE[mode] ?? 5e-6

  it('is its formula over kept layers: plain, masked and weighed', () => {
    setUp()
    kernel.overKept(number, BACKDROP, KEPT, COUNT, 0.7)
    expect(worst((p) => plainOver(mode, held(p), keptStraight(p), 0.7))).toBeLessThan(tolerance)
    setUp()
    kernel.overKeptMasked(number, BACKDROP, KEPT, MASK, COUNT, 0.7)
    const masked = (p: number) => plainOver(mode, held(p), keptStraight(p), 0.7 * quantised(weights[p], 255))
    expect(worst(masked)).toBeLessThan(tolerance)
    setUp()
    kernel.overKeptWeighed(number, BACKDROP, KEPT, WEIGHTS, COUNT, 1)
    expect(worst((p) => plainOver(mode, held(p), keptStraight(p), weights[p]))).toBeLessThan(tolerance)
  })
  it('is its formula over layers in floating point', () => {
    setUp()
    kernel.overWeighed(number, BACKDROP, LAYER, WEIGHTS, COUNT, 0.9)
    expect(worst((p) => plainOver(mode, held(p), heldStraight(p), 0.9 * weights[p]))).toBeLessThan(tolerance)
  })
  it('stays within the alpha it finds', () => {
    setUp()
    kernel.withinWeighed(number, BACKDROP, LAYER, WEIGHTS, COUNT, 0.9)
    const expected = (p: number) => plainWithin(mode, held(p), heldStraight(p), 0.9 * weights[p])
    expect(worst(expected)).toBeLessThan(tolerance)
    expect(premultiplied.every(([, , , a], p) => read(BACKDROP, p)[3] === Math.fround(a))).toBe(true)
  })
  it('changes nothing where it weighs nothing, and gives no colour more than its alpha', () => {
    setUp()
    kernel.overKept(number, BACKDROP, KEPT, COUNT, 0)
    expect(worst(held)).toBe(0)
    kernel.overKept(number, BACKDROP, KEPT, COUNT, 1)
    const outside = Array.from({ length: COUNT }, (_, p) => read(BACKDROP, p)).filter(([r, g, b, a]) => {
      const most = mode === 'plus-lighter' ? 1 : a
      return [r, g, b].some((v) => !(v >= -1e-6 && v <= most + 1e-6))
    })
    expect(outside).toEqual([])
  })
})

describe('pixels', () => {
  it('go from rows to blocks and back', () => {
    const rows = floats(LAYER, 4 * COUNT)
    rows.set(straight.flat())
    kernel.rowsToBlocks(LAYER, OUT, COUNT)
    expect(read(OUT, 6)).toEqual(heldStraight(6))
    kernel.blocksToRows(OUT, LAYER, COUNT)
    expect(rows).toEqual(Float32Array.from(straight.flat()))
  })
  it('are kept to the nearest step of 16 bits; what is no number or outside is cut', () => {
    write(LAYER, straight)
    const odd: Pixel = [NaN, -3, 7, Infinity]
    odd.forEach((v, c) => (floats(LAYER, 4 * COUNT)[inBlocks(1, c)] = v))
    kernel.keep(LAYER, KEPT, COUNT)
    kernel.open(KEPT, OUT, COUNT)
    expect(read(OUT, 1)).toEqual([0, 0, 1, 1])
    for (let p = 2; p < COUNT; p++)
      read(OUT, p).forEach((v, c) => expect(Math.abs(v - straight[p][c])).toBeLessThanOrEqual(0.51 / 65535))
  })
  it('are taken out of their alpha and put back; what is clear has no colour', () => {
    write(LAYER, premultiplied)
    floats(LAYER, 4 * COUNT)[inBlocks(0, 0)] = 0.4
    floats(LAYER, 4 * COUNT)[inBlocks(0, 3)] = 0
    kernel.straighten(LAYER, OUT, COUNT)
    expect(read(OUT, 0)).toEqual([0, expect.anything(), expect.anything(), 0])
    expect(read(OUT, 0)[0]).toBe(0)
    kernel.premultiply(OUT, LAYER, COUNT)
    for (let p = 1; p < COUNT; p++)
      read(LAYER, p).forEach((v, c) => expect(v).toBeCloseTo(premultiplied[p][c], 6))
  })
  it('leave as bytes and as words, rounded, straight', () => {
    write(LAYER, premultiplied)
    kernel.toBytes(LAYER, OUT, COUNT)
    const eight = bytes(OUT, 4 * COUNT).slice()
    kernel.toWords(LAYER, OUT, COUNT)
    const sixteen = new DataView(memory.buffer, OUT, 8 * COUNT)
    for (let p = 0; p < COUNT; p++) {
      const [r, g, b, a] = held(p)
      const expected = a > 0 ? [r / a, g / a, b / a, a] : [0, 0, 0, 0]
      expected.forEach((v, c) => {
        expect(Math.abs(eight[4 * p + c] - 255 * v)).toBeLessThanOrEqual(0.501)
        expect(Math.abs(sixteen.getUint16(8 * p + 2 * c) - 65535 * v)).toBeLessThanOrEqual(0.51)
      })
    }
  })
  it('are filled with one colour', () => {
    kernel.fill(OUT, COUNT, 0.1, 0.2, 0.3, 0.5)
    for (const p of [0, 3, COUNT - 1]) expect(read(OUT, p)).toEqual([0.1, 0.2, 0.3, 0.5].map(Math.fround))
  })
  it('follow the sRGB curve both ways', () => {
    const ramp: Pixel[] = Array.from({ length: COUNT }, (_, p) => {
      const v = p / (COUNT - 1)
      return [v, v * v, Math.sqrt(v), 0.5]
    })
    write(LAYER, ramp)
    kernel.encode(LAYER, COUNT)
    ramp.forEach((pixel, p) => {
      const found = read(LAYER, p)
      for (let c = 0; c < 3; c++) expect(Math.abs(found[c] - linearToSrgb(pixel[c]))).toBeLessThan(3e-6)
      expect(found[3]).toBe(0.5)
    })
    write(LAYER, ramp)
    kernel.decode(LAYER, COUNT)
    ramp.forEach((pixel, p) => {
      const found = read(LAYER, p)
      for (let c = 0; c < 3; c++) expect(Math.abs(found[c] - srgbToLinear(pixel[c]))).toBeLessThan(3e-6)
    })
  })
})

describe('weights', () => {
  it('are joined by product: masks, alphas, opacities', () => {
    setUp()
    kernel.weighAll(OUT, COUNT, 0.8)
    kernel.weighByMask(OUT, MASK, COUNT)
    kernel.weighByKeptAlpha(OUT, KEPT, COUNT, 0.5)
    kernel.weighByAlpha(OUT, BACKDROP, COUNT, 0.9)
    const found = floats(OUT, COUNT)
    for (let p = 0; p < COUNT; p++) {
      const expected = 0.8 * quantised(weights[p], 255) * 0.5 * keptStraight(p)[3] * 0.9 * held(p)[3]
      expect(found[p]).toBeCloseTo(expected, 6)
    }
  })
  it('become the bytes of a mask', () => {
    floats(WEIGHTS, COUNT).set(weights)
    floats(WEIGHTS, COUNT)[0] = NaN
    floats(WEIGHTS, COUNT)[1] = 3
    kernel.toMask(WEIGHTS, MASK, COUNT)
    expect([...bytes(MASK, 2)]).toEqual([0, 255])
    for (let p = 2; p < COUNT; p++)
      expect(Math.abs(bytes(MASK, COUNT)[p] - 255 * weights[p])).toBeLessThanOrEqual(0.501)
  })
  it.each<{ range: ToneRange; isLinear: boolean }>([
    { range: [0, 0, 1, 1], isLinear: false },
    { range: [0.2, 0.4, 0.6, 0.9], isLinear: false },
    { range: [0.5, 0.5, 0.5, 1], isLinear: false },
    { range: [0, 0.7, 1, 1], isLinear: true },
  ])('follow a tone gate $range, linear $isLinear', ({ range, isLinear }) => {
    for (const isPremultiplied of [false, true]) {
      write(LAYER, isPremultiplied ? premultiplied : straight)
      kernel.weighAll(OUT, COUNT, 1)
      kernel.weighByTone(OUT, LAYER, COUNT, isLinear ? 1 : 0, isPremultiplied ? 1 : 0, ...range)
      const found = floats(OUT, COUNT)
      for (let p = 0; p < COUNT; p++) {
        const [r, g, b, a] = isPremultiplied ? held(p) : heldStraight(p)
        const k = isPremultiplied ? (a > 0 ? 1 / a : 0) : 1
        const tone = plainTone([r * k, g * k, b * k], isLinear)
        // At a step the last bit decides.
        if (range.some((edge) => Math.abs(edge - tone) < 1e-5) && range[0] === range[1]) continue
        expect(Math.abs(found[p] - plainGate(range, tone))).toBeLessThan(5e-5)
      }
    }
  })
  it('open a neutral gate wholly, for black and white too', () => {
    write(
      LAYER,
      Array.from({ length: COUNT }, (_, p): Pixel => (p % 2 ? [1, 1, 1, 1] : [0, 0, 0, 1])),
    )
    kernel.weighAll(OUT, COUNT, 1)
    kernel.weighByTone(OUT, LAYER, COUNT, 0, 0, 0, 0, 1, 1)
    expect([...floats(OUT, COUNT)].every((w) => w === 1)).toBe(true)
  })
  it('take a picture back towards what was there', () => {
    write(BACKDROP, premultiplied)
    write(LAYER, straight)
    floats(WEIGHTS, COUNT).set(weights)
    kernel.mixBack(BACKDROP, LAYER, WEIGHTS, COUNT, 0.6)
    expect(worst((p) => plainMixBack(heldStraight(p), held(p), 0.6 * weights[p]))).toBeLessThan(1e-6)
  })
})
