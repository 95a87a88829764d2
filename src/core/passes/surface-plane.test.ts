import { describe, expect, it } from 'vitest'
import { ball, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { surfacePlane } from './surface-plane'

const SIZE = { width: 96, height: 72 }
const CAMERA = fromFront(4)
const scene = [sceneModel(ball(1, 48), 'ball')]
const [id, depth] = (['id', 'depth'] as const).map((kind) => renderPass(kind, scene, CAMERA, SIZE).result)

describe('the plane of a surface', () => {
  it('touches a ball where it is seen, and faces away from its middle', () => {
    for (const [x, y] of [
      [48, 36],
      [40, 30],
      [55, 44],
    ]) {
      const found = surfacePlane(id, depth, CAMERA, x, y)
      expect(found).not.toBeNull()
      const { at, normal } = found?.plane ?? { at: [0, 0, 0], normal: [0, 0, 0] }
      expect(Math.hypot(...at)).toBeCloseTo(1, 1)
      at.forEach((v, i) => expect(normal[i]).toBeCloseTo(v, 0.8))
      expect(Math.hypot(...normal)).toBeCloseTo(1, 6)
    }
  })
  it('is none where nothing is', () => {
    expect(surfacePlane(id, depth, CAMERA, 1, 1)).toBeNull()
    expect(surfacePlane(id, depth, CAMERA, -4, 900)).toBeNull()
  })
})
