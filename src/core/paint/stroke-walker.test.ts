import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { BRUSH_DEFAULTS, type BrushParams } from './brush'
import { StrokeWalker, type Dab, type PenSample } from './stroke-walker'

const brushOf = (rest: Partial<BrushParams> = {}): BrushParams => ({
  ...BRUSH_DEFAULTS,
  steady: 0,
  leastSize: 1,
  ...rest,
})
const at = (x: number, y: number, rest: Partial<PenSample> = {}): PenSample => ({
  ...{ x, y, pressure: 0.5, tiltX: 0, tiltY: 0, twist: 0, at: 10 * x },
  ...rest,
})
function walked(brush: BrushParams, samples: readonly PenSample[], seed = 1): Dab[] {
  const walker = new StrokeWalker(brush, seed)
  const dabs = samples.flatMap((sample) => walker.add(sample))
  return [...dabs, ...walker.finish()]
}
const line = (length: number, step: number): PenSample[] =>
  Array.from({ length: Math.floor(length / step) + 1 }, (_, i) => at(i * step, 20))

describe('a stroke’s way', () => {
  it('is pressed at even distances, however often the pen tells of it', () => {
    for (const step of [1, 7, 60]) {
      const dabs = walked(brushOf({ size: 40, spacing: 0.25 }), line(300, step))
      const gaps = dabs.slice(1).map((dab, i) => dab.x - dabs[i].x)
      expect(Math.max(...gaps.map((gap) => Math.abs(gap - 10)))).toBeLessThan(1e-6)
      // From where it began to where it ended.
      expect(dabs[0].x).toBe(0)
      expect(dabs.at(-1)?.x).toBeGreaterThan(289)
    }
  })

  it('is one press where the pen only touches', () => {
    expect(walked(brushOf(), [at(5, 6)])).toMatchObject([{ x: 5, y: 6 }])
    expect(walked(brushOf({ taperOut: 100 }), [at(5, 6)])).toHaveLength(1)
  })

  it('swells with the pressure', () => {
    const dabs = walked(brushOf({ size: 100, leastSize: 0.2, spacing: 0.1 }), [
      at(0, 0, { pressure: 0 }),
      at(100, 0, { pressure: 0.5 }),
      at(200, 0, { pressure: 1 }),
    ])
    expect(dabs[0].radius).toBeCloseTo(10)
    const radii = dabs.map(({ radius }) => radius)
    expect(radii.every((r, i) => i === 0 || r >= radii[i - 1] - 1e-9)).toBe(true)
    expect(radii.at(-1)).toBeGreaterThan(42)
  })

  it('is thin at both ends where it tapers', () => {
    const dabs = walked(brushOf({ size: 20, taperIn: 60, taperOut: 80, spacing: 0.1 }), line(400, 10))
    expect(dabs[0].radius).toBeLessThan(1)
    expect(dabs.at(-1)?.radius).toBeLessThan(1.2)
    expect(Math.max(...dabs.map(({ radius }) => radius))).toBeCloseTo(10)
  })

  it('runs behind a steady hand, and ends where it is led', () => {
    const walker = new StrokeWalker(brushOf({ size: 40, steady: 1 }), 1)
    walker.add(at(0, 0))
    walker.add(at(100, 0))
    // A string of one and a half widths.
    expect(walker.tip?.x).toBeCloseTo(40)
    walker.add(at(100, 50))
    expect(walker.tip?.y).toBeGreaterThan(0)
    expect(walker.tip?.y).toBeLessThan(25)
  })

  it('follows its direction with a tip that turns with it', () => {
    const dabs = walked(brushOf({ turns: 'stroke', size: 10 }), [at(0, 0), at(0, 50), at(0, 100)])
    expect(dabs.at(-1)?.angle).toBeCloseTo(Math.PI / 2)
  })

  it('goes on pressing at rest, if it does', () => {
    const rest = Array.from({ length: 11 }, (_, i) => at(5, 5, { at: 100 * i }))
    expect(walked(brushOf({ atRest: 10 }), rest)).toHaveLength(11)
    expect(walked(brushOf(), rest)).toHaveLength(1)
  })

  it('is the same for the same samples, in whatever pieces they come', () => {
    const sample = fc.record({
      x: fc.integer({ min: 0, max: 300 }),
      y: fc.integer({ min: 0, max: 300 }),
      pressure: fc.integer({ min: 0, max: 100 }),
    })
    fc.assert(
      fc.property(fc.array(sample, { minLength: 1, maxLength: 20 }), fc.integer({ max: 99 }), (all, seed) => {
        const samples = all.map(({ x, y, pressure }, i) => at(x, y, { pressure: pressure / 100, at: 8 * i }))
        const brush = brushOf({ jitterSize: 0.5, jitterAngle: 1, scatter: 1, steady: 0.3, taperOut: 30 })
        const [one, two] = [walked(brush, samples, seed), walked(brush, samples, seed)]
        expect(one).toEqual(two)
        for (const dab of one) {
          expect(Number.isFinite(dab.x + dab.y + dab.angle + dab.flow)).toBe(true)
          expect(dab.radius).toBeGreaterThan(0)
          expect(dab.radius).toBeLessThanOrEqual(brush.size / 2)
        }
      }),
      { numRuns: 60 },
    )
  })
})

it('tapers to nothing at the very end of its way, however long the steps are that the pen tells of', () => {
  for (const steps of [1, 7, 200]) {
    const brush = { ...BRUSH_DEFAULTS, size: 60, taperIn: 0, taperOut: 60, steady: 0.3, leastSize: 1 }
    const walker = new StrokeWalker(brush, 1)
    const samples = Array.from({ length: steps + 1 }, (_, i) => ({
      ...{ x: 100 + (360 * i) / steps, y: 100, pressure: 1, tiltX: 0, tiltY: 0, twist: 0, at: 4 * i },
    }))
    const dabs = [...samples.flatMap((sample) => walker.add(sample)), ...walker.finish(samples[steps])]
    const end = dabs[dabs.length - 1]
    expect(end.x).toBeGreaterThan(450)
    expect(end.radius).toBeLessThan(6)
    for (const { x, radius } of dabs)
      expect(Math.abs(radius - 30 * Math.min(1, Math.max(0.05, (460 - x) / 60)))).toBeLessThan(1.5)
  }
})
