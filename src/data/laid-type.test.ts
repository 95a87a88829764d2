import { describe, expect, it } from 'vitest'
import { contentOf, evenFill, newLayer } from '@/core/sheet/new-layer'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { laidNodes, onPlane, planeCorners } from './laid-type'

const SHOT = {
  camera: { eye: [0, 2, 6], target: [0, 0, 0], fovDeg: 40, orthoHeight: null },
  frame: { width: 400, height: 300 },
} as const
const SHEET = { width: 800, height: 600, fit: 'extend' } as const
const block = (given: Readonly<Record<string, unknown>> = {}) =>
  contentOf('type', {
    text: 'Tide',
    fontId: 'anton',
    box: [0, 0, 0.5, 0.25],
    plane: { at: [0, 0, 0], normal: [0, 1, 0], width: 2, turnDeg: 0 },
    ...given,
  }) as ContentOf<'type'>

describe('type on a surface', () => {
  it('lies as wide as it says, in the proportions of its frame, and is found again where it lies', () => {
    const own = block()
    const corners = planeCorners(own, SHEET, SHOT)
    const points = (corners ?? []).map((place) => own.plane && onPlane(own.plane, place, SHEET, SHOT))
    const [a, b, , d] = points.map((point) => point ?? [NaN, NaN, NaN])
    const far = (p: readonly number[], q: readonly number[]) => Math.hypot(...p.map((v, i) => v - q[i]))
    expect(far(a, b)).toBeCloseTo(2, 6)
    // 400 × 150 pixels of the sheet.
    expect(far(a, d)).toBeCloseTo(0.75, 6)
  })
  it('lies elsewhere on a page that shows the shot elsewhere, on the same place of the surface', () => {
    const lies = {
      box: [0.5, 0.5, 0.5, 0.5] as [number, number, number, number],
      width: 400,
      height: 300,
      fit: 'extend' as const,
    }
    const small = planeCorners(block(), { ...SHEET, lies }, SHOT)
    const whole = planeCorners(block(), SHEET, SHOT)
    small?.forEach(([x, y], i) => {
      expect(x).toBeCloseTo(0.5 + (whole?.[i][0] ?? NaN) / 2, 6)
      expect(y).toBeCloseTo(0.5 + (whole?.[i][1] ?? NaN) / 2, 6)
    })
  })
  it('follows the camera: the document says nothing of corners', () => {
    const node = newLayer({ id: 't', name: 'Tide', content: block() })
    const other = newLayer({ id: 'o', name: 'Other', content: evenFill('#000000') })
    const nodes = { t: node, o: other }
    const laid = laidNodes({ ...SHEET, nodes }, SHOT)
    const moved = laidNodes({ ...SHEET, nodes }, { ...SHOT, camera: { ...SHOT.camera, eye: [1, 2, 6] } })
    expect(laid.t.content).toMatchObject({ corners: planeCorners(block(), SHEET, SHOT) })
    expect(laid.t.content).not.toEqual(moved.t.content)
    expect(laid.o).toBe(other)
    expect(node.content).not.toHaveProperty('corners')
    expect(laidNodes({ ...SHEET, nodes: { o: other } }, SHOT).o).toBe(other)
  })
  it('is not seen where it reaches behind the eye', () => {
    const behind = block({ plane: { at: [0, 0, 7], normal: [0, 1, 0], width: 4, turnDeg: 0 } })
    const nodes = { t: newLayer({ id: 't', name: 'Tide', content: behind }) }
    expect(laidNodes({ ...SHEET, nodes }, SHOT).t.visible).toBe(false)
  })
})
