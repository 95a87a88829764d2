import { describe, expect, it } from 'vitest'
import { oklabToSrgb, srgbToOklab } from '../math/oklab'
import { seededRandom } from '../math/sampling'
import { parseParams } from '../params'
import { matchTones, tonesToMatch } from './match-tones'

/** A picture of colours about a middle, in OKLab. */
function picture(
  seed: number,
  light: readonly [number, number],
  about: readonly [number, number],
  spread: number,
) {
  const random = seededRandom(seed)
  const colours = Array.from({ length: 4000 }, () => {
    const l = light[0] + (light[1] - light[0]) * random()
    const [a, b] = [0, 1].map((axis) => about[axis] + spread * (random() - 0.5))
    return [...oklabToSrgb([l, a, b]).map((v) => Math.round(255 * v)), 255]
  })
  return Uint8Array.from(colours.flat())
}
const statistics = (labs: readonly (readonly number[])[]) => {
  const mean = [0, 1, 2].map((axis) => labs.reduce((sum, lab) => sum + lab[axis], 0) / labs.length)
  const lights = labs.map(([l]) => l).sort((x, y) => x - y)
  return { mean, low: lights[Math.floor(0.1 * lights.length)], high: lights[Math.floor(0.9 * lights.length)] }
}
const labsOf = (rgba: Uint8Array) =>
  Array.from({ length: rgba.length / 4 }, (_, i) =>
    srgbToOklab([rgba[4 * i] / 255, rgba[4 * i + 1] / 255, rgba[4 * i + 2] / 255]),
  )

describe('matching tones', () => {
  it('makes one picture as light and as warm as another', () => {
    const own = picture(1, [0.35, 0.6], [0, -0.03], 0.06)
    const reference = picture(2, [0.2, 0.85], [0.02, 0.06], 0.1)
    const params = tonesToMatch(own, reference)
    if (!params) throw new Error('nothing measured')
    const work = matchTones.work(parseParams(matchTones.schema, params, 'match') as never)
    if (work.by !== 'colour') throw new Error('it changes colours')
    const made = labsOf(own).map((lab) => {
      const values = Float64Array.from(lab)
      work.change(values, {} as never)
      return [...values]
    })
    const [is, wanted] = [statistics(made), statistics(labsOf(reference))]
    for (let axis = 0; axis < 3; axis++) expect(is.mean[axis]).toBeCloseTo(wanted.mean[axis], 1.7)
    expect(is.low).toBeCloseTo(wanted.low, 1.7)
    expect(is.high).toBeCloseTo(wanted.high, 1.7)
  })

  it('of a picture with itself changes next to nothing', () => {
    const own = picture(3, [0.1, 0.9], [0.01, 0.02], 0.1)
    const params = tonesToMatch(own, own)
    expect(params).toMatchObject({ chroma: 1, green: 0, blue: 0 })
    for (const [x, y] of (params?.lightness ?? []) as [number, number][])
      if (x > 0.02 && x < 0.98) expect(Math.abs(x - y)).toBeLessThan(0.02)
  })

  it('stands one flat tone and pictures that are clear', () => {
    const flat = Uint8Array.from({ length: 400 }, (_, i) => (i % 4 === 3 ? 255 : 120))
    const params = tonesToMatch(flat, picture(4, [0.2, 0.8], [0, 0], 0.1))
    expect(() => parseParams(matchTones.schema, params ?? {}, 'match')).not.toThrow()
    expect(tonesToMatch(new Uint8Array(64), flat)).toBeNull()
  })
})
