import { describe, expect, it } from 'vitest'
import { BRUSH_DEFAULTS } from './brush'
import { formedDab, leaning, type Form } from './formed-dab'

const dab = { x: 100, y: 100, radius: 10, roundness: 1, angle: 0, flow: 1, originX: 0, originY: 0 }
const brush = { ...BRUSH_DEFAULTS, lies: 1 }
/** A plane that leans by an angle, up on the sheet. */
const plane =
  (angle: number, way: number): Form =>
  () => [Math.sin(angle) * Math.cos(way), Math.sin(angle) * Math.sin(way), Math.cos(angle)]
/** A ball of a radius about a place. */
const ball =
  (cx: number, cy: number, radius: number): Form =>
  (x, y) => {
    const [nx, ny] = [(x - cx) / radius, -(y - cy) / radius]
    const rest = 1 - nx * nx - ny * ny
    return rest > 0 ? [nx, ny, Math.sqrt(rest)] : null
  }
/** A cylinder that stands upright. */
const column =
  (cx: number, radius: number): Form =>
  (x) => {
    const nx = (x - cx) / radius
    return Math.abs(nx) < 1 ? [nx, 0, Math.sqrt(1 - nx * nx)] : null
  }

describe('a tip that lies on the form', () => {
  it.each([
    [0.7, 0],
    [0.7, 2],
    [1.1, -0.6],
  ])('is an ellipse as short as the cosine of how far a plane leans', (angle, way) => {
    const formed = formedDab(dab, plane(angle, way), brush, 1)
    const [ux, uy, vx, vy] = leaning([1 / 10, 0, 0, 1 / 10], formed.lean)
    // The rim of the tip, along the lean and across it. Rows go down.
    const along = [Math.cos(way), -Math.sin(way)]
    const rim = (dx: number, dy: number) => Math.hypot(ux * dx + uy * dy, vx * dx + vy * dy)
    expect(rim(10 * Math.cos(angle) * along[0], 10 * Math.cos(angle) * along[1])).toBeCloseTo(1, 9)
    expect(rim(-10 * along[1], 10 * along[0])).toBeCloseTo(1, 9)
  })
  it('is as it was where the form faces the viewer, where nothing is, and where it is not asked to', () => {
    expect(formedDab(dab, plane(0, 0), brush, 1)).toEqual(dab)
    expect(formedDab(dab, () => null, brush, 1)).toEqual(dab)
    expect(formedDab(dab, plane(1, 0), { ...brush, lies: 0 }, 1)).toEqual(dab)
  })
  it('is never thinner than can be painted with', () => {
    const [, , ratio] = formedDab(dab, plane(1.57, 0), brush, 1).lean ?? [0, 0, 0]
    expect(ratio).toBeGreaterThan(0.1)
  })
})

describe('a tip that is turned', () => {
  const turned = (form: Form, turns: 'tilted' | 'curvature') =>
    formedDab(dab, form, { ...brush, lies: 0, turns }, 1).angle
  const sameAxis = (a: number, b: number) => expect(Math.abs(Math.sin(a - b))).toBeLessThan(0.02)
  it('lies across the tilt of a ball, about its middle', () => {
    // To the right of the middle a circle about it goes up and down.
    sameAxis(turned(ball(60, 100, 90), 'tilted'), Math.PI / 2)
    sameAxis(turned(ball(100, 160, 90), 'tilted'), 0)
    sameAxis(turned(ball(60, 60, 90), 'tilted'), -Math.PI / 4)
  })
  it('runs round a column, whichever side of it', () => {
    sameAxis(turned(column(100, 60), 'curvature'), 0)
    sameAxis(turned(column(70, 60), 'curvature'), 0)
  })
  it('runs round a hollow column too', () => {
    const hollow: Form = (x, y) => {
      const found = column(100, 60)(x, y)
      return found && [-found[0], -found[1], found[2]]
    }
    sameAxis(turned(hollow, 'curvature'), 0)
  })
  it('goes down the slope of what is flat', () => {
    sameAxis(turned(plane(0.6, 0), 'curvature'), 0)
    sameAxis(turned(plane(0.6, Math.PI / 2), 'curvature'), Math.PI / 2)
  })
})
