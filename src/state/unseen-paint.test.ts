import { expect, it } from 'vitest'
import { MOST_UNSEEN, overduePaint } from './unseen-paint'

const names = (count: number, word = 'tile') => Array.from({ length: count }, (_, i) => `${word} ${i}`)
const none = new Set<string>()

it('lets go of what was shown longest ago, and of nothing that a sheet may still name', () => {
  const held = new Set(names(MOST_UNSEEN + 40))
  const unseen = new Set<string>()
  expect(overduePaint(held, held, none, unseen)).toEqual([])
  // Taken away just now: the worker’s own sheet still names them.
  expect(overduePaint(held, new Set(), none, unseen)).toEqual([])
  expect(overduePaint(held, new Set(['tile 3']), none, unseen)).toEqual(
    names(40).filter((name) => name !== 'tile 3'),
  )
  expect(unseen.size).toBe(MOST_UNSEEN)
})

it('begins to count anew where something was shown again', () => {
  const held = new Set(names(MOST_UNSEEN + 1))
  const unseen = new Set<string>()
  overduePaint(held, new Set(), none, unseen)
  overduePaint(held, new Set(['tile 0']), none, unseen)
  // The first of all is the youngest now.
  expect(overduePaint(held, new Set(), none, unseen)).toEqual([])
  expect([...unseen].at(-1)).toBe('tile 0')
  expect(overduePaint(held, new Set(), none, unseen)).toEqual(['tile 1'])
})

it('keeps no more than that, however long is painted', () => {
  const held = new Set<string>()
  const unseen = new Set<string>()
  for (let stroke = 0; stroke < 200; stroke++) {
    const own = names(7, `stroke ${stroke}`)
    for (const name of own) held.add(name)
    for (const name of overduePaint(held, new Set(own), none, unseen)) held.delete(name)
    expect(held.size).toBeLessThanOrEqual(MOST_UNSEEN + 3 * 7)
  }
  expect(held.size).toBeGreaterThanOrEqual(MOST_UNSEEN)
})

it('keeps what storage has not taken yet, for as long as that is', () => {
  const held = new Set(names(MOST_UNSEEN + 2))
  const owed = new Set(['tile 0'])
  const unseen = new Set<string>()
  const next = () => overduePaint(held, none, owed, unseen)
  expect(next()).toEqual([])
  for (const name of next()) held.delete(name)
  expect(held.has('tile 0')).toBe(true)
  expect(held.has('tile 1')).toBe(false)
  owed.clear()
  expect(next()).toEqual([])
  // It counts from when it was stored: others were not seen for longer.
  expect(next()).toEqual(['tile 2'])
})
