import { describe, expect, it } from 'vitest'
import { seededRandom } from '@/core/math/sampling'
import { TurnClock } from './turn-clock'
import { coarseToFine } from './turn-plan'

const pose = (passes: number) => ({ passIds: Array.from({ length: passes }, (_, i) => String(i)) })

describe('how long a turntable still takes', () => {
  it('is not told before two poses are known', () => {
    const clock = new TurnClock()
    clock.tell(pose(3), 9)
    expect(clock.secondsLeft([pose(3)])).toBeNull()
  })
  it('is within a fifth after ten poses of uneven cost', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const random = seededRandom(seed)
      const poses = Array.from({ length: 60 }, () => pose(3 + Math.floor(3 * random())))
      const costs = poses.map(({ passIds }) => (1 + passIds.length) * (0.8 + 0.4 * random()))
      const clock = new TurnClock()
      // The first pays for what comes but once.
      for (let i = 0; i < 10; i++) clock.tell(poses[i], costs[i] + (i === 0 ? 12 : 0))
      const left = costs.slice(10).reduce((sum, cost) => sum + cost)
      const told = clock.secondsLeft(poses.slice(10)) ?? 0
      expect(Math.abs(told - left) / left).toBeLessThan(0.2)
    }
  })
  it('follows what became dearer', () => {
    const clock = new TurnClock()
    for (let i = 0; i < 40; i++) clock.tell(pose(1), 1)
    for (let i = 0; i < 40; i++) clock.tell(pose(1), 3)
    expect(clock.secondsLeft([pose(1)])).toBeCloseTo(3, 6)
  })
})

describe('from coarse to fine', () => {
  it.each([1, 7, 16, 100, 288])('every one of %i frames once, every sixteenth first', (count) => {
    const order = coarseToFine(count)
    expect([...order].sort((a, b) => a - b)).toEqual(Array.from({ length: count }, (_, i) => i))
    const first = Math.ceil(count / 16)
    expect(order.slice(0, first)).toEqual(Array.from({ length: first }, (_, i) => 16 * i))
  })
})
