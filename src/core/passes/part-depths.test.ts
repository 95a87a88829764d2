import { describe, expect, it } from 'vitest'
import { ball, cube, fromFront, renderPass, sceneModel } from '../testing/shapes'
import { AT_ORIGIN, placementMatrix } from '../scene/placement'
import { partDepths, partSilhouette, partsNearer } from './part-depths'

const SIZE = { width: 60, height: 40 }
const at = (name: string, z: number, x: number) => ({
  ...sceneModel(name === 'ball' ? ball(0.6, 20) : cube(0.5), name),
  transforms: [placementMatrix({ ...AT_ORIGIN, position: [x, 0, z] })],
})
const scene = [at('near block', 1.2, -1), at('ball', -1, 0.2), at('far block', -3, 1.6)]
const [idPass, depthPass] = (['id', 'depth'] as const).map(
  (kind) => renderPass(kind, scene, fromFront(4), SIZE).result,
)

describe('parts by depth', () => {
  const parts = partDepths(idPass, depthPass)
  it('are told from the farthest to the nearest', () => {
    expect(parts.map(({ name }) => name)).toEqual(['far block', 'ball', 'near block'])
    for (const { depth, nearest, farthest } of parts) {
      expect(nearest).toBeLessThanOrEqual(depth + 1e-6)
      expect(farthest).toBeGreaterThanOrEqual(depth - 1e-6)
    }
  })
  it('have the depth of what is seen of them: a block seen head on is as far as its face', () => {
    const near = parts.find(({ name }) => name === 'near block')
    const { near: from, far: to } = depthPass.facts as { near: number; far: number }
    // The eye is 10 away from the origin along z; the face lies at 1.2 + 0.5.
    const away = from + (near?.nearest ?? NaN) * (to - from)
    const other = parts.find(({ name }) => name === 'far block')
    const farAway = from + (other?.nearest ?? NaN) * (to - from)
    expect(farAway - away).toBeCloseTo(4.2, 1)
  })
  it('cover what they cover, and lie in their boxes', () => {
    const total = parts.reduce((sum, { covers }) => sum + covers, 0)
    expect(total).toBeGreaterThan(0.03)
    expect(total).toBeLessThan(1)
    for (const { box } of parts) expect(box[2]).toBeGreaterThan(box[0])
  })
  it('are nearer than a depth, or not', () => {
    const [far, middle, near] = parts
    expect(partsNearer(parts, (far.depth + middle.depth) / 2)).toEqual([middle.part, near.part])
    expect(partsNearer(parts, -5)).toEqual([])
  })
  it('are worked out once', () => {
    expect(partDepths(idPass, depthPass)).toBe(parts)
  })
  it('have silhouettes that stand on the ground line', () => {
    const round = parts.find(({ name }) => name === 'ball')
    if (!round) throw new Error('no ball')
    const own = partSilhouette(idPass, round, 24)
    expect(own).toHaveLength(24 * 24)
    expect(Math.max(...own.subarray(24 * 23))).toBeGreaterThan(0)
    const middle = own[24 * 12 + 12]
    expect(middle).toBe(255)
    expect(own[0]).toBeLessThan(40)
  })
})
