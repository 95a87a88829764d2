import { describe, expect, it } from 'vitest'
import { seededRandom } from '@/core/math/sampling'
import type { TurnPose } from '@/data/turn-frames'
import { TurnClock } from './turn-clock'
import { coarseToFine } from './turn-plan'

const pose = (passes: number, deg = 0): Pick<TurnPose, 'passIds' | 'poses'> => ({
  passIds: Array.from({ length: passes }, (_, i) => String(i)),
  poses: [
    {
      camera: {
        eye: [5 * Math.sin((deg * Math.PI) / 180), 1, 5 * Math.cos((deg * Math.PI) / 180)],
        target: [0, 0, 0],
        fovDeg: 30,
        orthoHeight: null,
      },
      lightsTurnDeg: 0,
    },
  ],
})
/** Poses of a turn in the order in which they are rendered. */
const turned = (count: number, passes = 4) =>
  coarseToFine(count).map((frame) => pose(passes, (360 * frame) / count))

describe('how long a turntable still takes', () => {
  it('is not told before two poses are known', () => {
    const clock = new TurnClock()
    clock.tell(pose(3), 9)
    expect(clock.secondsLeft([pose(3)])).toBeNull()
  })
  // Ten frames of two turns are five poses.
  it.each([60, 144])(
    'is within a fifth after ten frames, of %i poses that cost more as they are new',
    (count) => {
      for (let seed = 1; seed <= 20; seed++) {
        const random = seededRandom(seed)
        const poses = turned(count).map(({ poses: own }) => ({
          ...pose(4 + Math.round(random())),
          poses: own,
        }))
        const costs = poses.map((own, i) => {
          const fresh = newness(own, poses.slice(0, i))
          return (1 + own.passIds.length) * (0.9 + 0.2 * random()) * (1 + 1.5 * fresh)
        })
        expect(off(poses, costs, 5)).toBeLessThan(0.2)
      }
    },
  )
  it('follows what became dearer', () => {
    const clock = new TurnClock()
    for (let i = 0; i < 40; i++) clock.tell(pose(1), 1)
    for (let i = 0; i < 40; i++) clock.tell(pose(1), 3)
    expect(clock.secondsLeft([pose(1)])).toBeCloseTo(3, 6)
  })
})

/** How much of a pose no other has shown: by how far their cameras are apart. */
const newness = (
  { poses: [{ camera }] }: ReturnType<typeof pose>,
  others: ReturnType<typeof turned>,
): number =>
  others.reduce(
    (least, { poses: [{ camera: other }] }) =>
      Math.min(least, Math.hypot(...other.eye.map((v, i) => v - camera.eye[i])) / Math.sqrt(26)),
    1,
  )

/** How far it is off after some poses, as a share; the first pays for what comes but once. */
function off(poses: ReturnType<typeof turned>, costs: readonly number[], after: number): number {
  const clock = new TurnClock()
  for (let i = 0; i < after; i++) clock.tell(poses[i], costs[i] + (i === 0 ? 12 : 0))
  const left = costs.slice(after).reduce((sum, cost) => sum + cost)
  return Math.abs((clock.secondsLeft(poses.slice(after)) ?? 0) - left) / left
}

describe('from coarse to fine', () => {
  it.each([1, 7, 16, 100, 288])('every one of %i frames once, every sixteenth first', (count) => {
    const order = coarseToFine(count)
    expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: count }, (_, i) => i))
    const first = Math.ceil(count / 16)
    expect(order.slice(0, first)).toEqual(Array.from({ length: first }, (_, i) => 16 * i))
  })
})
