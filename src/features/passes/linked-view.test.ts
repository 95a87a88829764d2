import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { contactLayout, movedView, viewedPart, WHOLE, zoomedView } from './linked-view'

describe('linked view', () => {
  it('keeps the point under the pointer where it is while zooming in', () => {
    const at = (v: typeof WHOLE, x: number) => v.middleX + (x - 0.5) / v.zoom
    const near = zoomedView(WHOLE, 4, 0.3, 0.6)
    const nearer = zoomedView(near, 2, 0.8, 0.2)
    expect(at(near, 0.3)).toBeCloseTo(0.3, 12)
    expect(at(nearer, 0.8)).toBeCloseTo(at(near, 0.8), 12)
  })
  it('always shows a part that lies inside the picture', () => {
    const step = fc.tuple(
      fc.boolean(),
      fc.double({ min: 0.05, max: 20, noNaN: true }),
      fc.double({ min: -2, max: 2, noNaN: true }),
      fc.double({ min: -2, max: 2, noNaN: true }),
    )
    fc.assert(
      fc.property(
        fc.array(step, { maxLength: 12 }),
        fc.integer({ min: 16, max: 5000 }),
        fc.integer({ min: 16, max: 5000 }),
        (steps, width, height) => {
          let view = WHOLE
          for (const [zoom, by, x, y] of steps)
            view = zoom ? zoomedView(view, by, Math.abs(x) / 2, Math.abs(y) / 2) : movedView(view, x, y)
          const part = viewedPart(view, width, height)
          expect(part.x).toBeGreaterThanOrEqual(0)
          expect(part.y).toBeGreaterThanOrEqual(0)
          expect(part.x + part.width).toBeLessThanOrEqual(width)
          expect(part.y + part.height).toBeLessThanOrEqual(height)
          expect(part.width * part.height).toBeGreaterThan(0)
        },
      ),
    )
  })
  it('comes back to the whole picture', () => {
    expect(viewedPart(zoomedView(zoomedView(WHOLE, 8, 0.1, 0.9), 0.01, 0.5, 0.5), 1200, 750)).toEqual({
      x: 0,
      y: 0,
      width: 1200,
      height: 750,
    })
  })
})

describe('contactLayout', () => {
  it('takes the columns that make the pictures largest', () => {
    expect(contactLayout(6, 1.6, 904, 752).columns).toBe(2)
    expect(contactLayout(6, 1, 1400, 752).columns).toBe(3)
    expect(contactLayout(6, 0.7, 1800, 500).columns).toBe(6)
  })
  it('never makes them wider than the box, nor smaller than can be seen where there is room', () => {
    const { cellWidth, columns } = contactLayout(6, 1.6, 400, 90)
    expect(cellWidth).toBeGreaterThanOrEqual(160)
    expect(columns * cellWidth + (columns - 1) * 14 + 32).toBeLessThanOrEqual(400)
  })
})
