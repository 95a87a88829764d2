import { describe, expect, it } from 'vitest'
import { STEADY } from './turn-schema'
import { turnWords } from './turn-words'

const motion = { ...STEADY, turns: 2, framesPerTurn: 36, rate: 12 }

describe('words of a turntable', () => {
  it('say where a frame stands', () =>
    expect(turnWords(motion, 45)).toEqual({
      frame: '45',
      frames: '72',
      turn: '2',
      turns: '2',
      angle: '90',
      seconds: '3.75',
    }))
  it('are those of the first frame where it closes', () =>
    expect(turnWords(motion, 72)).toEqual(turnWords(motion, 0)))
  it('never say 360 degrees', () => {
    const fine = { ...motion, framesPerTurn: 1000 }
    expect(turnWords(fine, 999).angle).toBe('0')
  })
})
