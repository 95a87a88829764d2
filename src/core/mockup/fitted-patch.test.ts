import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import type { Quad } from '../picture/warped-window'
import { fittedPatch } from './fitted-patch'

const QUAD: Quad = [
  [10, 20],
  [210, 5],
  [190, 160],
  [25, 140],
]
const NONE: [number, number][] = []

describe('a page between four corners', () => {
  it('lies with its corners on them', () => {
    const patch = fittedPatch(QUAD, NONE)
    const out = new Float64Array(2)
    const places = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const
    places.forEach(([u, v], i) => {
      patch?.place(u, v, out)
      expect([...out]).toEqual(QUAD[i].map((x) => expect.closeTo(x, 9) as number))
    })
  })
  it('keeps straight lines straight, as perspective does', () => {
    const patch = fittedPatch(QUAD, NONE)
    const [a, b, c] = [0.1, 0.45, 0.9].map((t) => {
      const out = new Float64Array(2)
      patch?.place(t, 0.2 + 0.5 * t, out)
      return out
    })
    expect((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).toBeCloseTo(0, 6)
  })
  it('is found again wherever it lies, bent or not', () => {
    const random = seededRandom(5)
    for (const amount of [0, 8, 18]) {
      const bends = Array.from({ length: amount > 0 ? 16 : 0 }, (): [number, number] => [
        amount * (random() - 0.5),
        amount * (random() - 0.5),
      ])
      const patch = fittedPatch(QUAD, bends)
      const [at, found] = [new Float64Array(2), new Float64Array(2)]
      for (let i = 0; i < 400; i++) {
        const [u, v] = [random(), random()]
        patch?.place(u, v, at)
        expect(patch?.find(at[0], at[1], found)).toBe(true)
        expect(found[0]).toBeCloseTo(u, 3)
        expect(found[1]).toBeCloseTo(v, 3)
      }
    }
  })
  it('moves its middle by what the middle of its mesh is moved, by the weights of cubic curves', () => {
    const flat = new Float64Array(2)
    const bent = new Float64Array(2)
    fittedPatch(QUAD, NONE)?.place(0.5, 0.5, flat)
    fittedPatch(
      QUAD,
      Array.from({ length: 16 }, (_, k): [number, number] => (k === 5 ? [64, 0] : [0, 0])),
    )?.place(0.5, 0.5, bent)
    // (3/8)² of it.
    expect(bent[0] - flat[0]).toBeCloseTo(9, 9)
    expect(bent[1]).toBeCloseTo(flat[1], 9)
  })
  it('is none for corners in a line', () => {
    expect(
      fittedPatch(
        [
          [0, 0],
          [1, 0],
          [2, 0],
          [3, 0],
        ],
        NONE,
      ),
    ).toBeNull()
  })
})
