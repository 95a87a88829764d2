import { expect, it } from 'vitest'
import { retimed } from './retimed'
import { newTurn, turnSchema, type Turn } from './turn-schema'

const turn: Turn = {
  ...newTurn('t', 'T', 's', { turns: 2, framesPerTurn: 100 }),
  reveals: [
    {
      id: 'r',
      layerId: 'a',
      kind: 'fade',
      from: 50,
      whole: 100,
      goes: 180,
      gone: 200,
      ease: 'even',
      angleDeg: 0,
      softness: 0,
      centre: [0.5, 0.5],
      parts: [],
    },
  ],
  tracks: [
    {
      path: ['nodes', 'a', 'opacity'],
      keys: [0, 3, 6, 150].map((at) => ({ at, value: at / 150, ease: 'even' as const })),
    },
  ],
  marks: [20, 120],
}

it('keeps everything at its place in the turns', () => {
  const slower = retimed(turn, { ...turn.motion, framesPerTurn: 250 })
  expect(slower.reveals[0]).toMatchObject({ from: 125, whole: 250, goes: 450, gone: 500 })
  expect(slower.tracks[0].keys.map(({ at }) => at)).toEqual([0, 8, 15, 375])
  expect(slower.marks).toEqual([50, 300])
  expect(turnSchema.safeParse(slower).success).toBe(true)
})
it('leaves out a key that would lie on another', () => {
  const quick = retimed(turn, { ...turn.motion, framesPerTurn: 10 })
  expect(quick.tracks[0].keys.map(({ at }) => at)).toEqual([0, 1, 15])
  expect(turnSchema.safeParse(quick).success).toBe(true)
})
it('with more turns lets what is gone at the end be gone at the end', () => {
  const longer = retimed(turn, { ...turn.motion, turns: 3 })
  expect(longer.reveals[0]).toMatchObject({ from: 50, whole: 100, goes: 180, gone: 300 })
  const shorter = retimed(turn, { ...turn.motion, turns: 1 })
  expect(shorter.reveals[0]).toMatchObject({ from: 50, whole: 100, goes: 100, gone: 100 })
  expect(turnSchema.safeParse(shorter).success).toBe(true)
})
it('changes nothing where only the rate does', () => {
  const other = retimed(turn, { ...turn.motion, rate: 60 })
  expect(other).toEqual({ ...turn, motion: other.motion })
})
