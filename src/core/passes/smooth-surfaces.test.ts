import { expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { denoise, EDGE, emptyGuides, type DenoiseGuides, type NoisyPlane } from './denoise'
import { NO_SURFACE } from './id'

const SPLINE = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16]

/** The filter as denoise.ts and its source define it, pixel by pixel in double precision: what the kernel is held to. */
function byDefinition(
  planes: readonly NoisyPlane[],
  { surfaces, normals, depths }: DenoiseGuides,
  width: number,
  height: number,
): Float64Array[] {
  let now = planes.map(({ values }) => Float64Array.from(values))
  const slope = (p: number, stride: number, before: boolean, after: boolean): number => {
    const found = [before ? -1 : 0, after ? 1 : 0]
      .filter((side) => side !== 0 && surfaces[p + side * stride] === surfaces[p])
      .map((side) => side * (depths[p + side * stride] - depths[p]))
    return found.sort((a, b) => Math.abs(a) - Math.abs(b))[0] ?? 0
  }
  const steps = [1, 2, 4]
  steps.forEach((step, pass) => {
    now = now.map((values, k) =>
      values.map((value, p) => {
        if (surfaces[p] >= EDGE) return value
        const [x, y] = [p % width, Math.floor(p / width)]
        const [sx, sy] = [slope(p, 1, x > 0, x + 1 < width), slope(p, width, y > 0, y + 1 < height)]
        const allowed = step * (Math.abs(sx) + Math.abs(sy)) + 2e-3 * Math.abs(depths[p]) + 1e-12
        const taps: { value: number; weight: number }[] = []
        for (let dy = -2; dy <= 2; dy++)
          for (let dx = -2; dx <= 2; dx++) {
            const [qx, qy] = [x + dx * step, y + dy * step]
            const q = qy * width + qx
            if (qx < 0 || qy < 0 || qx >= width || qy >= height || surfaces[q] !== surfaces[p]) continue
            const cosine =
              [0, 1, 2].reduce((sum, i) => sum + normals[3 * p + i] * normals[3 * q + i], 0) / 127 ** 2
            const off = Math.abs(depths[q] - depths[p] - step * (dx * sx + dy * sy)) / allowed
            if (cosine < 0.9 || off > 1) continue
            taps.push({
              value: values[q],
              weight: SPLINE[dx + 2] * SPLINE[dy + 2] * cosine ** 32 * (1 - off),
            })
          }
        const share = Math.min(1, Math.max(0, taps.reduce((sum, tap) => sum + tap.value, 0) / taps.length))
        const variance = ((0.36 * 0.4 ** pass) / planes[k].raysPerPixel) * Math.max(0.02, share * (1 - share))
        const own = taps.map((tap) => ({
          value: tap.value,
          weight: tap.weight * Math.max(0, 1 - (tap.value - value) ** 2 / (9 * 2.2 ** 2 * variance)) ** 9,
        }))
        const total = own.reduce((sum, tap) => sum + tap.weight, 0)
        return own.reduce((sum, tap) => sum + tap.weight * tap.value, 0) / total
      }),
    )
  })
  return now
}

it('is what its definition says, wherever surfaces, folds and steps lie, at any width', () => {
  const random = seededRandom(5)
  for (const [width, height] of [
    [37, 21],
    [4, 3],
    [1, 9],
  ]) {
    const guides = emptyGuides(width * height)
    for (let p = 0; p < width * height; p++) {
      const [x, y] = [p % width, Math.floor(p / width)]
      guides.surfaces[p] = x === 11 ? NO_SURFACE : Math.floor(x / 9) + (y > 12 ? 9 : 0)
      const lean = Math.sin(x / 4) / 2
      guides.normals.set([Math.round(127 * lean), 0, Math.round(127 * Math.sqrt(1 - lean * lean))], 3 * p)
      guides.depths[p] = 5 + 0.02 * x + 0.05 * y + (y % 7 === 6 ? 0.4 : 0)
    }
    const planes = [4, 64].map((raysPerPixel) => ({
      values: Float32Array.from(
        { length: width * height },
        () => Math.round(random() * raysPerPixel) / raysPerPixel,
      ),
      raysPerPixel,
    }))
    const wanted = byDefinition(planes, guides, width, height)
    denoise(planes, guides, width, height)
    planes.forEach(({ values }, k) => values.forEach((v, p) => expect(v).toBeCloseTo(wanted[k][p], 4)))
  }
})
