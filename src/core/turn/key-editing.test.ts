import { expect, it } from 'vitest'
import { trackValue, type Ease } from '../sheet/tracks'
import {
  keyMoved,
  keysClosed,
  keysCopied,
  keysLooped,
  keysReversed,
  keysStretched,
  withKey,
  withoutKey,
  type LaneKey,
} from './key-editing'

const LAST = 100
const keys: LaneKey<number>[] = [
  { at: 10, value: 0, ease: 'slow out' },
  { at: 20, value: 1, ease: [0.2, 0.1, 0.7, 1.4] },
  { at: 40, value: 0.25, ease: 'slow in' },
]
const valueAt = (of: readonly LaneKey<number>[], at: number) =>
  trackValue({ keys: of.map((key) => ({ ...key })) }, at, 'number') as number
const times = (of: readonly LaneKey<number>[]) => of.map(({ at }) => at)

it('sets a key where none was, leaving as the one before it', () => {
  const next = withKey(keys, 15, 0.5)
  expect(times(next)).toEqual([10, 15, 20, 40])
  expect(next[1]).toEqual({ at: 15, value: 0.5, ease: 'slow out' })
  expect(withKey([], 7, 3)).toEqual([{ at: 7, value: 3, ease: 'slow both' }])
})
it('gives a key that is there another value and keeps its ease', () => {
  expect(withKey(keys, 20, 9)[1]).toEqual({ ...keys[1], value: 9 })
  expect(times(withoutKey(keys, 20))).toEqual([10, 40])
})
it('moves a key between its neighbours only', () => {
  expect(times(keyMoved(keys, 20, 33, LAST))).toEqual([10, 33, 40])
  expect(times(keyMoved(keys, 20, 3, LAST))).toEqual([10, 11, 40])
  expect(times(keyMoved(keys, 20, 90, LAST))).toEqual([10, 39, 40])
  expect(times(keyMoved(keys, 40, 900, LAST))).toEqual([10, 20, LAST])
  expect(times(keyMoved(keys, 10, -5, LAST))).toEqual([0, 20, 40])
})
it('copies keys to another time', () => {
  const next = keysCopied(keys, 60, LAST)
  expect(times(next)).toEqual([10, 20, 40, 60, 70, 90])
  for (const at of [10, 13, 27, 40]) expect(valueAt(next, at + 50)).toBeCloseTo(valueAt(keys, at), 12)
  expect(times(keysCopied(keys, 85, LAST))).toEqual([10, 20, 40, 85, 95])
})
it('stretches time about the first key', () => {
  const next = keysStretched(keys, 2, LAST)
  for (const at of [10, 12, 20, 31, 40])
    expect(valueAt(next, 10 + 2 * (at - 10))).toBeCloseTo(valueAt(keys, at), 12)
  // Keys never fall onto each other.
  expect(times(keysStretched(keys, 0.01, LAST))).toEqual([10, 11, 12])
})
it('goes backwards as it went', () => {
  const next = keysReversed(keys)
  expect(times(next)).toEqual([10, 30, 40])
  for (let at = 10; at <= 40; at += 1.5) expect(valueAt(next, 50 - at)).toBeCloseTo(valueAt(keys, at), 9)
  const twice = keysReversed(next)
  for (let at = 10; at <= 40; at += 1.5) expect(valueAt(twice, at)).toBeCloseTo(valueAt(keys, at), 9)
})
it('repeats until the end', () => {
  const closed = keysClosed(keys.slice(0, 2), 40)
  const next = keysLooped(closed, LAST)
  expect(times(next)).toEqual([10, 20, 40, 50, 70, 80, 100])
  for (const at of [10, 15, 22, 35, 39])
    for (const by of [30, 60]) expect(valueAt(next, at + by)).toBeCloseTo(valueAt(closed, at), 12)
  expect(keysLooped(keys.slice(0, 1), LAST)).toEqual(keys.slice(0, 1))
})
it('ends where it began', () => {
  const next = keysClosed(keys, LAST)
  expect(valueAt(next, LAST)).toBe(valueAt(next, 10))
})
it.each<Ease>(['even', 'hold', 'slow out', 'slow in', 'slow both'])(
  'turns %s round twice to itself',
  (ease) => {
    const two: LaneKey<number>[] = [
      { at: 0, value: 0, ease },
      { at: 8, value: 1, ease: 'even' },
    ]
    expect(keysReversed(keysReversed(two))[0].ease).toBe(ease)
  },
)
