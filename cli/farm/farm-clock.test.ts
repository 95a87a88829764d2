import { describe, expect, it } from 'vitest'
import { runClock, type ClockedFarm } from './farm-clock'

const CALM: ClockedFarm = {
  frames: 2000,
  shares: 400,
  machines: 100,
  frameSeconds: 20,
  setUpSeconds: 4,
  slowShare: 0,
  slowFactor: 1,
  lossSeconds: Infinity,
  awaySeconds: 600,
  leaseSeconds: 4,
  seed: 1,
}
const ran = (more: Partial<ClockedFarm> = {}) => runClock({ ...CALM, ...more })

describe('a farm on a clock', () => {
  it('takes what rounds of equal shares take, where nothing goes wrong', () => {
    for (const [shares, machines] of [
      [400, 100],
      [100, 100],
      [250, 100],
      [2000, 7],
      [1, 100],
    ]) {
      const { seconds, again, lostSeconds, setUpSeconds } = ran({ shares, machines })
      const frames = 2000 / shares
      expect(seconds).toBeCloseTo(Math.ceil(shares / machines) * (4 + 20 * frames), 6)
      expect([again, lostSeconds]).toEqual([0, 0])
      expect(setUpSeconds).toBeCloseTo(4 * shares, 6)
    }
  })
  it('has no more shares than frames', () => {
    expect(ran({ frames: 10, shares: 1000, machines: 10 }).seconds).toBeCloseTo(24, 6)
  })
  it('is never quicker than its machines together, however unlike they are', () => {
    for (let seed = 1; seed < 30; seed++) {
      const run = ran({ slowShare: 0.1, slowFactor: 4, lossSeconds: 3000, seed })
      expect(run.seconds).toBeGreaterThan(run.idealSeconds)
      expect(run.again).toBeGreaterThan(0)
    }
  })
  it('waits for the slow ones the longer, the larger their last shares are', () => {
    const slow = { slowShare: 0.05, slowFactor: 4 }
    const [large, small] = [100, 1000].map((shares) => ran({ ...slow, shares }).seconds)
    // One share each: the slow ones have twenty frames, four times as long.
    expect(large).toBeCloseTo(4 * (4 + 20 * 20), 6)
    expect(small).toBeLessThan(0.5 * large)
  })
  it('loses less than a frame each time that a machine is lost', () => {
    for (let seed = 1; seed < 30; seed++) {
      const { lostSeconds, again } = ran({ lossSeconds: 2000, seed })
      expect(lostSeconds).toBeLessThanOrEqual(20 * again)
    }
  })
  it('runs the same with the same seed', () => {
    const run = { lossSeconds: 2000, slowShare: 0.1, slowFactor: 3 }
    expect(ran(run)).toEqual(ran(run))
    expect(ran({ ...run, seed: 2 })).not.toEqual(ran(run))
  })
})
