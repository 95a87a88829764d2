import { expect, it } from 'vitest'
import { frameDue, nearestThere, roundLength, stepsTo } from './frame-film'

const range = { from: 3, to: 7, isPingPong: false }
const dues = (film: Parameters<typeof frameDue>[0], count: number) =>
  Array.from({ length: count }, (_, i) => frameDue(film, i))

it('goes round', () => {
  expect(dues(range, 9)).toEqual([3, 4, 5, 6, 3, 4, 5, 6, 3])
  expect(frameDue(range, -1)).toBe(6)
})
it('goes there and back, with its ends shown once', () => {
  const film = { ...range, isPingPong: true }
  expect(dues(film, 8)).toEqual([3, 4, 5, 6, 5, 4, 3, 4])
  expect(roundLength(film)).toBe(6)
})
it('of one or two frames goes on', () => {
  expect(dues({ from: 5, to: 6, isPingPong: true }, 3)).toEqual([5, 5, 5])
  expect(dues({ from: 5, to: 7, isPingPong: true }, 4)).toEqual([5, 6, 5, 6])
})
it('begins where the playhead is', () => {
  expect(stepsTo(range, 5)).toBe(2)
  expect(stepsTo(range, 0)).toBe(0)
  expect(stepsTo(range, 99)).toBe(3)
})
it('holds the frame before one that is not there', () => {
  const names = ['a', null, null, 'b', null]
  expect([0, 1, 2, 3, 4].map((frame) => nearestThere({ names }, frame))).toEqual([0, 0, 0, 3, 3])
  expect(nearestThere({ names: [null, null, 'z'] }, 1)).toBe(2)
  expect(nearestThere({ names: [null] }, 0)).toBeNull()
})
