import { describe, expect, it } from 'vitest'
import type { PassResult } from '../../passes/pass-result'
import { encodeChannel } from '../../picture/channel'
import { contentOf, evenFill, newMask, newTerm } from '../new-layer'
import type { Sheet } from '../sheet-schema'
import { composed, testLayer, testResources, testSheet } from '../testing/sheets'

const SIZE = { width: 200, height: 160 }
const HIGH = 4
/** A wall that is looked at straight, eight units away, by a parallel projection four units high. */
const WALL = 8
const CAMERA = { eye: [0, 0, 10], target: [0, 0, 0], fovDeg: 30, orthoHeight: HIGH } as const

/** Depths: the wall, and at the left something before all. */
function depthPass(nearAt = 0): PassResult {
  const count = SIZE.width * SIZE.height
  const far = Float32Array.from({ length: count }, (_, i) => (i % SIZE.width < nearAt ? 2 : WALL))
  return {
    kind: 'depth',
    ...SIZE,
    channels: [encodeChannel('float32', far), encodeChannel('half', new Float32Array(count).fill(1))],
    surfaces: [],
    lights: [],
    params: {},
    facts: { near: 4, far: 8 },
  }
}
const resources = (pass = depthPass()) =>
  testResources({}, { shotPass: (_, kind) => (kind === 'depth' ? pass : null), shotRevision: () => 'there' })

/** A square of a fill that stands at a depth, and its shadow. @param depth 0 is four units away, 1 eight. */
function sheetWith(given: Readonly<Record<string, unknown>>, depth = 0.5): Sheet {
  const square = (points: number[][]) => newTerm('polygon', { points, curved: false })
  const mask = { ...newMask(), terms: [newTerm('standing', { depth })] }
  // The square is a group: what is masked within it is its own shape.
  const shape = testLayer('shape', {
    content: evenFill('#ffffff'),
    mask: {
      ...newMask(),
      terms: [
        square([
          [0.4, 0.4],
          [0.6, 0.4],
          [0.6, 0.6],
          [0.4, 0.6],
        ]),
      ],
    },
  })
  const group = testLayer('title', {
    content: { kind: 'group', version: 1, children: ['shape'], isolated: true, folded: false },
    mask,
  })
  const shadow = testLayer('shadow', {
    content: contentOf('castShadow', { of: 'title', colour: '#000000', sizeDeg: 0, occlusion: 0, ...given }),
  })
  return testSheet(SIZE, [shadow, shape, group], {
    shotId: 'shot',
    background: null,
    seenBy: { camera: CAMERA, frame: SIZE },
    roots: ['shadow'],
  })
}
const withTitle = (sheet: Sheet): Sheet => ({ ...sheet, roots: ['shadow', 'title'] })

describe('the shadow of a layer that stands at a depth', () => {
  it('falls on what is behind it, off to the side by the distance times the slope of the light', () => {
    // Light from the left, 45°: two units behind it the shadow lies two units to the right.
    const sheet = sheetWith({ strength: 1, azimuthDeg: -45, elevationDeg: 0 })
    const pixels = composed(sheet, resources())
    const alpha = (x: number, y: number) => pixels[4 * (y * SIZE.width + x) + 3]
    const shift = (2 / HIGH) * SIZE.height
    const [left, right] = [0.4 * SIZE.width + shift, 0.6 * SIZE.width + shift]
    for (const y of [66, 80, 94]) {
      expect(alpha(Math.round(left) - 2, y)).toBeCloseTo(0, 2)
      expect(alpha(Math.round(left) + 2, y)).toBeCloseTo(1, 2)
      expect(alpha(Math.round(right) - 2, y)).toBeCloseTo(1, 2)
      expect(alpha(Math.round(right) + 2, y)).toBeCloseTo(0, 2)
    }
    expect(alpha(Math.round(left + 20), 62)).toBeCloseTo(0, 2)
    expect(alpha(Math.round(left + 20), 98)).toBeCloseTo(0, 2)
  })
  it('falls nowhere on what stands before it, where the light comes from the front', () => {
    const sheet = sheetWith({ strength: 1, azimuthDeg: -45, elevationDeg: 0 })
    const before = composed(sheet, resources(depthPass(SIZE.width)))
    expect(before.every((v) => v === 0)).toBe(true)
  })
  it('is the softer the farther it falls and the larger the light is', () => {
    const edge = (sizeDeg: number, depth: number) => {
      const pixels = composed(
        sheetWith({ strength: 1, azimuthDeg: 0, elevationDeg: 0, sizeDeg }, depth),
        resources(),
      )
      let soft = 0
      for (let x = 0; x < SIZE.width; x++) {
        const alpha = pixels[4 * (80 * SIZE.width + x) + 3]
        if (alpha > 0.05 && alpha < 0.95) soft++
      }
      return soft
    }
    expect(edge(0, 0.5)).toBeLessThanOrEqual(2)
    expect(edge(20, 0.5)).toBeGreaterThan(edge(6, 0.5))
    expect(edge(20, 0)).toBeGreaterThan(edge(20, 0.9))
  })
  it('keeps light from what is close behind it, less with the distance', () => {
    const middle = (depth: number) =>
      composed(sheetWith({ strength: 0, occlusion: 1, reach: 20 }, depth), resources())[
        4 * (80 * SIZE.width + 100) + 3
      ]
    expect(middle(0.98)).toBeGreaterThan(0.8)
    expect(middle(0.7)).toBeLessThan(middle(0.9))
    expect(middle(1.2)).toBe(0)
  })
  it('is nothing of a layer that is gone or hidden, without a shot, or of itself', () => {
    const sheet = sheetWith({ strength: 1 })
    const isClear = (own: Sheet, held = resources()) => composed(own, held).every((v) => v === 0)
    expect(isClear({ ...sheet, nodes: { shadow: sheet.nodes.shadow } })).toBe(true)
    expect(isClear({ ...sheet, seenBy: undefined })).toBe(true)
    expect(isClear(sheet, testResources())).toBe(true)
    const own = { ...sheet.nodes.shadow, content: contentOf('castShadow', { of: 'shadow' }) }
    expect(isClear({ ...sheet, nodes: { ...sheet.nodes, shadow: own } })).toBe(true)
  })
  it('is the same whichever tile is made first', () => {
    const sheet = withTitle(sheetWith({ strength: 0.7, sizeDeg: 9, occlusion: 0.5 }))
    expect(composed(sheet, resources())).toEqual(composed(sheet, resources()))
  })
})
