import { describe, expect, it } from 'vitest'
import type { HandEdit } from '../lines/hand-weights'
import { ball, cube, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { lookAtRect, passPart, passPicture, passStrokes } from './pass-picture'
import { passKind } from './registry'

const FRAME = { width: 96, height: 64 }
const MODELS = [sceneModel(cube(0.6), 'block'), sceneModel(ball(0.9, 24), 'ball')]
const CAMERA = { ...fromFront(3), eye: [4, 3, 9] as const }
const contour = renderPass('contour', MODELS, CAMERA, FRAME).result
const wires = renderPass('wireframe', MODELS, CAMERA, FRAME).result
const { look } = passKind('contour').readyLooks.brush
const farthest = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0)
/** A rectangle of an RGBA picture. */
const cut = (pixels: Float32Array, width: number, x: number, y: number, w: number, h: number): number[] =>
  Array.from({ length: h }, (_, row) => [
    ...pixels.subarray(4 * ((y + row) * width + x), 4 * ((y + row) * width + x + w)),
  ]).flat()

describe('pictures of passes with lines', () => {
  it.each([
    ['contour', contour, look],
    ['wireframe over its fill', wires, { fill: 1, bySides: true, weight: 8 }],
  ])('of a part of a %s are those of the whole', (_name, result, own) => {
    const whole = passPicture(result, own).pixels
    expect(whole.some((v, i) => i % 4 === 3 && v > 0 && v < 1)).toBe(true)
    const rect = { x: 24, y: 16, width: 40, height: 32 }
    const expected = cut(whole, 96, 24, 16, 40, 32)
    expect(farthest(lookAtRect(result, rect, own), expected)).toBeLessThan(1e-5)
    expect(farthest(passPart(result, own, rect, rect).pixels, expected)).toBeLessThan(1e-5)
  })
  it('are inked at the size asked for, not enlarged', () => {
    const twice = passPart(contour, look, { x: 24, y: 16, width: 40, height: 32 }, { width: 80, height: 64 })
    const whole = passPicture(contour, look, { width: 192, height: 128 }).pixels
    expect(farthest(twice.pixels, cut(whole, 192, 48, 32, 80, 64))).toBeLessThan(1e-5)
  })
  it('are small where every third pixel is taken', () => {
    const small = lookAtRect(contour, { x: 0, y: 0, ...FRAME }, look, 4)
    const own = passPicture(contour, look, { width: 24, height: 16 }).pixels
    expect(farthest(small, own)).toBeLessThan(1e-5)
  })
  it('fit a sheet whose sides are rounded otherwise', () => {
    const wide = passPicture(contour, look, { width: 97, height: 64 }).pixels
    const ink = (pixels: Float32Array) => pixels.reduce((sum, v, i) => sum + (i % 4 === 3 ? v : 0), 0)
    expect(ink(wide) / ink(passPicture(contour, look).pixels)).toBeCloseTo(1, 1)
  })
  it('change by hand, and keep the last strokes', () => {
    const strokes = passStrokes(contour, look)
    expect(passStrokes(contour, { ...look })).toBe(strokes)
    const erase: HandEdit = { kind: 'weight', path: [0.75, 0.5], radius: 1, amount: -1, parts: ['ball'] }
    const without = passStrokes(contour, look, [erase])
    expect(without).not.toBe(strokes)
    expect(without?.count).toBeLessThan(strokes?.count ?? 0)
    expect(passStrokes(renderPass('depth', MODELS, CAMERA, FRAME).result, {})).toBeNull()
  })
})
