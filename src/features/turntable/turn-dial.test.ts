import { describe, expect, it } from 'vitest'
import { STEADY } from '@/core/turn/turn-schema'
import { placeInTurns } from '@/core/turn/turn-motion'
import { frameAtAngle, turnInWords } from './turn-dial'

const motion = { ...STEADY, turns: 2, framesPerTurn: 36 }

describe('the dial', () => {
  it('tells turn and angle of a frame', () => {
    expect(placeInTurns(motion, 0)).toEqual({ turn: 0, deg: 0 })
    expect(placeInTurns(motion, 9)).toEqual({ turn: 0, deg: 90 })
    expect(placeInTurns(motion, 36 + 18)).toEqual({ turn: 1, deg: 180 })
  })
  it('goes round the same way whichever way it turns, from wherever it begins', () => {
    expect(placeInTurns({ ...motion, direction: 'clockwise', startDeg: 77 }, 9).deg).toBeCloseTo(90, 9)
  })
  it('finds the nearest frame of an angle, in the turn where the playhead is', () => {
    expect(frameAtAngle(motion, 91, 3)).toBe(9)
    expect(frameAtAngle(motion, 91, 40)).toBe(45)
    expect(frameAtAngle(motion, 1, 70)).toBe(0)
  })
  it('says it in words', () => {
    expect(turnInWords(motion, 1)).toBe('of the second turn')
    expect(turnInWords({ ...motion, turns: 1 }, 0)).toBe('of the turn')
    expect(turnInWords({ ...motion, turns: 40 }, 11)).toBe('of turn 12')
  })
})
