import { describe, expect, it } from 'vitest'
import { linearToSrgb, srgbToLinear } from '../math/colour'
import { srgbToOklab } from '../math/oklab'
import { seededRandom } from '../math/sampling'
import { gradientFill, newEffect, wash } from '../sheet/new-layer'
import type { ParamValues } from '../params'
import { composed, testLayer, testResources, testSheet } from '../sheet/testing/sheets'
import { inkSet, overprint, Separation, separationOf } from './ink-separation'
import { plateSlips } from './plate-slip'

const RED_AND_BLUE = ['#c8452b', '#1f4a5c']
const display = (linear: ArrayLike<number>): [number, number, number] => [
  linearToSrgb(linear[0]),
  linearToSrgb(linear[1]),
  linearToSrgb(linear[2]),
]
const apart = (a: readonly [number, number, number], b: readonly [number, number, number]): number => {
  const [one, other] = [srgbToOklab(a), srgbToOklab(b)]
  return Math.hypot(...one.map((v, c) => v - other[c]))
}

describe('inks over each other', () => {
  it('are the paper where there is none, an ink where it covers all, the product where two do', () => {
    const set = inkSet('#ffffff', RED_AND_BLUE)
    const out = new Float64Array(3)
    overprint(set, [0, 0], out)
    expect([...out]).toEqual([1, 1, 1])
    overprint(set, [1, 0], out)
    expect(display(out)[0]).toBeCloseTo(0xc8 / 255, 6)
    overprint(set, [1, 1], out)
    expect(out[1]).toBeCloseTo(srgbToLinear(0x45 / 255) * srgbToLinear(0x4a / 255), 9)
  })
  it('are what dots laid without regard to each other give in the mean', () => {
    const set = inkSet('#f0e8d8', RED_AND_BLUE)
    const [p, q] = [0.37, 0.62]
    const all = new Float64Array(3)
    overprint(set, [p, q], all)
    const mean = [0, 0, 0]
    for (const [a, b, share] of [
      [0, 0, (1 - p) * (1 - q)],
      [1, 0, p * (1 - q)],
      [0, 1, (1 - p) * q],
      [1, 1, p * q],
    ]) {
      const own = new Float64Array(3)
      overprint(set, [a, b], own)
      for (let c = 0; c < 3; c++) mean[c] += share * own[c]
    }
    expect([...all]).toEqual(mean.map((v) => expect.closeTo(v, 9) as number))
  })
})

describe('a separation', () => {
  it('finds what a colour was made of', () => {
    for (const inks of [RED_AND_BLUE, ['#00a0d0', '#d0208a', '#f2d516']]) {
      const separation = new Separation(inkSet('#ffffff', inks))
      const random = seededRandom(3)
      const [amounts, found, light] = [
        new Float64Array(inks.length),
        new Float64Array(inks.length),
        new Float64Array(3),
      ]
      for (let i = 0; i < 200; i++) {
        for (let k = 0; k < inks.length; k++) amounts[k] = random()
        overprint(separation.set, amounts, light)
        const colour = display(light)
        separation.amounts(...colour, found)
        overprint(separation.set, found, light)
        expect(apart(display(light), colour)).toBeLessThan(0.035)
      }
    }
  })
  it('takes no ink for the paper, and no more than all for black', () => {
    const separation = separationOf('#ffffff', RED_AND_BLUE)
    const found = new Float64Array(2)
    separation.amounts(1, 1, 1, found)
    expect(Math.max(...found)).toBeLessThan(0.01)
    separation.amounts(0, 0, 0, found)
    expect(Math.min(...found)).toBeGreaterThan(0.95)
    expect(Math.max(...found)).toBeLessThanOrEqual(1)
  })
  it('comes as near to a colour as any amounts of its inks do, to a little', () => {
    const separation = separationOf('#ffffff', RED_AND_BLUE)
    const random = seededRandom(8)
    const [found, light] = [new Float64Array(2), new Float64Array(3)]
    for (let i = 0; i < 60; i++) {
      const wanted: [number, number, number] = [random(), random(), random()]
      separation.amounts(...wanted, found)
      overprint(separation.set, found, light)
      const own = apart(display(light), wanted)
      let best = Infinity
      for (let a = 0; a <= 20; a++)
        for (let b = 0; b <= 20; b++) {
          overprint(separation.set, [a / 20, b / 20], light)
          best = Math.min(best, apart(display(light), wanted))
        }
      expect(own).toBeLessThan(best + 0.05)
    }
  })
  it('gives darker colours more ink', () => {
    const separation = separationOf('#ffffff', ['#202020'])
    const found = new Float64Array(1)
    let before = Infinity
    for (let v = 0; v <= 20; v++) {
      separation.amounts(v / 20, v / 20, v / 20, found)
      expect(found[0]).toBeLessThanOrEqual(before + 1e-6)
      before = found[0]
    }
  })
})

describe('the inks of a sheet', () => {
  const SIZE = { width: 96, height: 64 }
  const resources = testResources()
  const inked = (params: ParamValues) => {
    const effect = newEffect('inks', 'inks')
    return composed(
      testSheet(SIZE, [
        testLayer('a', {
          content: gradientFill('linear', ['#ffffff', '#c05030', '#203040'], [0, 0], [1, 1]),
        }),
        testLayer('w', {
          content: wash(),
          effects: [{ ...effect, params: { ...effect.params, inks: RED_AND_BLUE, ...params } }],
        }),
      ]),
      resources,
    )
  }
  it('have plates that, printed over each other, are the picture', () => {
    const [first, second] = ['first', 'second'].map((show) => inked({ show }))
    const picture = inked({})
    const set = inkSet('#ffffff', RED_AND_BLUE)
    const light = new Float64Array(3)
    for (let i = 0; i < picture.length; i += 4) {
      overprint(set, [1 - first[i], 1 - second[i]], light)
      display(light).forEach((v, c) => expect(Math.abs(v - picture[i + c])).toBeLessThan(2e-3))
    }
  })
  it('have plates in dots that cover as much as the plates do in even tone', () => {
    const sum = (pixels: Float32Array) => pixels.reduce((a, v, i) => (i % 4 === 0 ? a + 1 - v : a), 0)
    for (const show of ['first', 'second']) {
      const [even, dots] = [inked({ show }), inked({ show, screened: true, size: 5 })]
      expect(sum(dots) / sum(even)).toBeGreaterThan(0.94)
      expect(sum(dots) / sum(even)).toBeLessThan(1.06)
      expect([...dots].filter((v, i) => i % 4 === 0 && (v < 0.05 || v > 0.95)).length).toBeGreaterThan(
        0.5 * SIZE.width * SIZE.height,
      )
    }
  })
  it('have an empty plate where there is no such ink', () => {
    const third = inked({ show: 'third' })
    for (let i = 0; i < third.length; i += 4) expect(third[i]).toBeCloseTo(1, 4)
  })
  it('misregistered are the plates, each laid beside its marks, over each other', () => {
    const slip = { slip: 6, slipSeed: 3 }
    const picture = inked(slip)
    const plates = ['first', 'second'].map((show) => inked({ show }))
    // Seen alone a plate lies on its marks.
    expect(inked({ show: 'first', ...slip })).toEqual(plates[0])
    const slips = plateSlips(2, 6, 0, 3)
    const set = inkSet('#ffffff', RED_AND_BLUE)
    const light = new Float64Array(3)
    const at = (plate: Float32Array, x: number, y: number): number => {
      const [x0, y0] = [Math.floor(x), Math.floor(y)]
      const [u, v] = [x - x0, y - y0]
      const one = (i: number, j: number) => 1 - plate[4 * ((y0 + j) * SIZE.width + x0 + i)]
      return (1 - v) * ((1 - u) * one(0, 0) + u * one(1, 0)) + v * ((1 - u) * one(0, 1) + u * one(1, 1))
    }
    let most = 0
    let changed = 0
    const even = inked({})
    for (let y = 10; y < SIZE.height - 10; y++)
      for (let x = 10; x < SIZE.width - 10; x++) {
        overprint(
          set,
          plates.map((plate, k) => at(plate, x + slips[k].dx, y + slips[k].dy)),
          light,
        )
        const i = 4 * (y * SIZE.width + x)
        display(light).forEach((v, c) => (most = Math.max(most, Math.abs(v - picture[i + c]))))
        changed = Math.max(changed, Math.abs(picture[i] - even[i]))
      }
    expect(most).toBeLessThan(0.02)
    expect(changed).toBeGreaterThan(0.03)
  })
})
