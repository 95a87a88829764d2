import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { denoise, DENOISE_MARGIN, EDGE, emptyGuides } from './denoise'
import { NO_SURFACE } from './id'

const WIDTH = 64
const HEIGHT = 48
const RAYS = 16
/** Rays drawn quite at random are as noisy as so many that are well spread. */
const AS_SPREAD = RAYS * 0.36

/** Guides of a plane that faces the eye, all one surface. */
function flatGuides() {
  const guides = emptyGuides(WIDTH * HEIGHT)
  guides.surfaces.fill(0)
  for (let p = 0; p < WIDTH * HEIGHT; p++) guides.normals[3 * p + 2] = 127
  guides.depths.fill(5)
  return guides
}
/** Mean of so many open-or-not rays in each pixel. */
function noisy(open: (x: number, y: number) => number, seed = 1): Float32Array {
  const random = seededRandom(seed)
  return Float32Array.from({ length: WIDTH * HEIGHT }, (_, p) => {
    let sum = 0
    for (let r = 0; r < RAYS; r++) if (random() < open(p % WIDTH, Math.floor(p / WIDTH))) sum++
    return sum / RAYS
  })
}
const rms = (values: Float32Array, truth: (x: number, y: number) => number) =>
  Math.sqrt(
    values.reduce((sum, v, p) => sum + (v - truth(p % WIDTH, Math.floor(p / WIDTH))) ** 2, 0) / values.length,
  )

describe('denoise', () => {
  it('takes most of the noise of an even surface and keeps its mean', () => {
    const values = noisy(() => 0.7)
    const mean = values.reduce((a, b) => a + b, 0) / values.length
    const before = rms(values, () => 0.7)
    denoise([{ values, raysPerPixel: AS_SPREAD }], flatGuides(), WIDTH, HEIGHT)
    expect(rms(values, () => 0.7)).toBeLessThan(0.3 * before)
    expect(values.reduce((a, b) => a + b, 0) / values.length).toBeCloseTo(mean, 2)
  })
  it('follows a slope', () => {
    const slope = (x: number) => 0.2 + (0.6 * x) / WIDTH
    const values = noisy(slope)
    const before = rms(values, slope)
    denoise([{ values, raysPerPixel: AS_SPREAD }], flatGuides(), WIDTH, HEIGHT)
    expect(rms(values, slope)).toBeLessThan(0.4 * before)
  })
  it('never mixes surfaces, nor what faces or lies otherwise', () => {
    const half = (x: number) => (x < WIDTH / 2 ? 0.3 : 0.6)
    for (const part of ['surface', 'normal', 'depth'] as const) {
      const guides = flatGuides()
      for (let p = 0; p < WIDTH * HEIGHT; p++) {
        if (p % WIDTH < WIDTH / 2) continue
        if (part === 'surface') guides.surfaces[p] = 1
        if (part === 'normal') guides.normals.set([127, 0, 0], 3 * p)
        if (part === 'depth') guides.depths[p] = 9
      }
      const values = Float32Array.from({ length: WIDTH * HEIGHT }, (_, p) => half(p % WIDTH))
      denoise([{ values, raysPerPixel: 1 }], guides, WIDTH, HEIGHT)
      values.forEach((v, p) => expect(v).toBeCloseTo(half(p % WIDTH), 5))
    }
  })
  it('leaves the edge of a shadow where it is', () => {
    const shadow = (x: number) => (x < WIDTH / 2 ? 0.05 : 0.95)
    const values = noisy(shadow)
    denoise([{ values, raysPerPixel: AS_SPREAD }], flatGuides(), WIDTH, HEIGHT)
    for (let y = 8; y < HEIGHT - 8; y++) {
      expect(values[y * WIDTH + WIDTH / 2 - 1]).toBeLessThan(0.25)
      expect(values[y * WIDTH + WIDTH / 2]).toBeGreaterThan(0.75)
    }
  })
  it('leaves empty pixels as they are', () => {
    const guides = flatGuides()
    const values = noisy(() => 0.5)
    guides.surfaces.fill(NO_SURFACE, 0, WIDTH * 10)
    const kept = values.slice(0, WIDTH * 10)
    denoise([{ values, raysPerPixel: AS_SPREAD }], guides, WIDTH, HEIGHT)
    expect(values.slice(0, WIDTH * 10)).toEqual(kept)
  })
  describe('where surfaces meet', () => {
    const EDGE_X = WIDTH / 2
    /** A dark surface, an edge one pixel wide, a bright surface. */
    const meeting = () => {
      const guides = flatGuides()
      for (let p = 0; p < WIDTH * HEIGHT; p++) {
        const x = p % WIDTH
        guides.surfaces[p] = x < EDGE_X ? 0 : x === EDGE_X ? EDGE : 1
      }
      return guides
    }
    const values = (atEdge: number) =>
      Float32Array.from({ length: WIDTH * HEIGHT }, (_, p) => {
        const x = p % WIDTH
        return x < EDGE_X ? 0.4 : x === EDGE_X ? atEdge : 0.8
      })
    const after = (atEdge: number, raysPerPixel: number): number => {
      const plane = values(atEdge)
      denoise([{ values: plane, raysPerPixel }], meeting(), WIDTH, HEIGHT)
      return plane[20 * WIDTH + EDGE_X]
    }

    it('brings an outlier between what lies beside it', () => {
      expect(after(0.25, 1)).toBeCloseTo(0.4, 5)
      expect(after(0.95, 1)).toBeCloseTo(0.8, 5)
    })
    it('keeps a mix of the two, which fills the stairs of an edge', () => {
      expect(after(0.55, 1)).toBeCloseTo(0.55, 6)
    })
    it('keeps what the noise of many rays does not explain: a crease darker than both sides', () => {
      const moved = after(0.1, 4096)
      expect(moved).toBeGreaterThanOrEqual(0.1)
      expect(moved).toBeLessThan(0.12)
    })
    it('is the mean of the edges about where no surface is near', () => {
      const guides = flatGuides()
      guides.surfaces.fill(EDGE)
      const plane = noisy(() => 0.5)
      const before = rms(plane, () => 0.5)
      denoise([{ values: plane, raysPerPixel: AS_SPREAD }], guides, WIDTH, HEIGHT)
      expect(rms(plane, () => 0.5)).toBeLessThan(0.4 * before)
    })
    it('takes nothing from empty pixels', () => {
      const guides = meeting()
      const plane = values(0.25)
      for (let p = 0; p < WIDTH * HEIGHT; p++)
        if (p % WIDTH > EDGE_X) {
          guides.surfaces[p] = NO_SURFACE
          plane[p] = 0
        }
      denoise([{ values: plane, raysPerPixel: 1 }], guides, WIDTH, HEIGHT)
      expect(plane[20 * WIDTH + EDGE_X]).toBeCloseTo(0.4, 5)
    })
  })
  it('looks no farther than its margin, so rows may be done apart', () => {
    const values = noisy(() => 0.4)
    const whole = values.slice()
    const guides = flatGuides()
    for (let p = 0; p < WIDTH * HEIGHT; p += 3) guides.surfaces[p] = EDGE
    denoise([{ values: whole, raysPerPixel: AS_SPREAD }], guides, WIDTH, HEIGHT)
    const top = 22
    const from = top - DENOISE_MARGIN
    const rows = HEIGHT - from
    const some = values.slice(from * WIDTH)
    denoise(
      [{ values: some, raysPerPixel: AS_SPREAD }],
      {
        surfaces: guides.surfaces.slice(from * WIDTH),
        normals: guides.normals.slice(3 * from * WIDTH),
        depths: guides.depths.slice(from * WIDTH),
      },
      WIDTH,
      rows,
    )
    expect(some.slice(DENOISE_MARGIN * WIDTH)).toEqual(whole.slice(top * WIDTH))
  })
  it('smooths planes together as it does each alone', () => {
    const both = [noisy(() => 0.4), noisy((x) => x / WIDTH, 2)]
    const alone = both.map((values) => values.slice())
    const planes = both.map((values) => ({ values, raysPerPixel: AS_SPREAD }))
    denoise(planes, flatGuides(), WIDTH, HEIGHT)
    for (const values of alone) denoise([{ values, raysPerPixel: AS_SPREAD }], flatGuides(), WIDTH, HEIGHT)
    expect(both).toEqual(alone)
  })
})
