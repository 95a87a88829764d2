import { describe, expect, it } from 'vitest'
import { setBench, useViewStore } from '@/state/view-store'
import { fewerPoints, setBrush, sizeBrush } from './line-brush'

describe('a way a hand went', () => {
  it('keeps the points its form needs, and no more', () => {
    const straight = Array.from({ length: 50 }, (_, i) => [i / 50, 0.5]).flat()
    expect(fewerPoints(straight)).toEqual([0, 0.5, 0.98, 0.5])
    const round = Array.from({ length: 200 }, (_, i) => {
      const angle = (i / 199) * Math.PI
      return [0.5 + 0.2 * Math.cos(angle), 0.5 - 0.2 * Math.sin(angle)]
    }).flat()
    const fewer = fewerPoints(round)
    expect(fewer.length).toBeLessThan(round.length / 4)
    // Every given point is near a piece of what is kept.
    for (let i = 0; i < round.length; i += 2) {
      let least = Infinity
      for (let k = 0; k + 3 < fewer.length; k += 2) {
        const [ax, ay, bx, by] = fewer.slice(k, k + 4)
        const [dx, dy] = [bx - ax, by - ay]
        const share = Math.min(
          1,
          Math.max(0, ((round[i] - ax) * dx + (round[i + 1] - ay) * dy) / (dx * dx + dy * dy)),
        )
        least = Math.min(least, Math.hypot(ax + share * dx - round[i], ay + share * dy - round[i + 1]))
      }
      expect(least).toBeLessThan(0.00041)
    }
    expect(fewerPoints([0.1, 0.2])).toEqual([0.1, 0.2])
  })
})

describe('the brush', () => {
  it('grows and shrinks within its bounds, and so does the line it draws', () => {
    setBench({ lineBrush: { tool: 'erase', radius: 0.25, strength: 1, weight: 30 } })
    for (let i = 0; i < 9; i++) sizeBrush(1.25)
    expect(useViewStore.getState().lineBrush).toMatchObject({ radius: 0.3, weight: 30 })
    setBrush({ tool: 'draw' })
    for (let i = 0; i < 40; i++) sizeBrush(0.8)
    expect(useViewStore.getState().lineBrush).toMatchObject({ radius: 0.3, weight: 0.2 })
  })
})
