import type { Ease } from '../sheet/tracks'

/** Keys of a lane, in order of time: each of these gives others, none changes what it was given. Times are frames. */
export interface LaneKey<T> {
  readonly at: number
  readonly value: T
  readonly ease: Ease
}
type Keys<T> = readonly LaneKey<T>[]

/** Every key once: of two at one time the later given stays. */
function sorted<T>(keys: Keys<T>): LaneKey<T>[] {
  const byTime = new Map(keys.map((key) => [key.at, key]))
  return [...byTime.values()].sort((a, b) => a.at - b.at)
}

/** A key at a time: a new one, or another value for one that is there. It leaves as the one before it does. */
export function withKey<T>(keys: Keys<T>, at: number, value: T, ease?: Ease): LaneKey<T>[] {
  const there = keys.find((key) => key.at === at)
  const before = keys.filter((key) => key.at < at).at(-1)
  return sorted([...keys, { at, value, ease: ease ?? there?.ease ?? before?.ease ?? 'slow both' }])
}

export const withoutKey = <T>(keys: Keys<T>, at: number): LaneKey<T>[] => keys.filter((key) => key.at !== at)

/** A key moved in time: it stays between its neighbours, and within the turntable. */
export function keyMoved<T>(keys: Keys<T>, from: number, to: number, last: number): LaneKey<T>[] {
  const i = keys.findIndex((key) => key.at === from)
  if (i < 0) return [...keys]
  const least = i === 0 ? 0 : keys[i - 1].at + 1
  const most = i === keys.length - 1 ? last : keys[i + 1].at - 1
  const at = Math.min(Math.max(least, Math.round(to)), Math.max(least, most))
  return keys.map((key, k) => (k === i ? { ...key, at } : key))
}

/** The same keys once more, so that the first of the copies lies at a time; what was there gives way. */
export function keysCopied<T>(keys: Keys<T>, to: number, last: number): LaneKey<T>[] {
  if (keys.length === 0) return []
  const by = to - keys[0].at
  return sorted([...keys, ...keys.map((key) => ({ ...key, at: key.at + by }))]).filter(({ at }) => at <= last)
}

/** Keys drawn apart or together, the first staying where it is. @param factor above 0. */
export function keysStretched<T>(keys: Keys<T>, factor: number, last: number): LaneKey<T>[] {
  if (keys.length === 0) return []
  const start = keys[0].at
  let before = -1
  return keys
    .map((key) => {
      // Whole frames, each at least one behind the other.
      const at = Math.max(before + 1, Math.round(start + (key.at - start) * factor))
      before = at
      return { ...key, at }
    })
    .filter(({ at }) => at <= last)
}

/** How a lane goes backwards: the way out of a key becomes the way into it. */
function turnedRound(ease: Ease): Ease {
  if (typeof ease !== 'string') return [1 - ease[2], 1 - ease[3], 1 - ease[0], 1 - ease[1]]
  return ease === 'slow out' ? 'slow in' : ease === 'slow in' ? 'slow out' : ease
}

/** Keys from the last to the first, within the time that they take. A value that was held jumps at the same place. */
export function keysReversed<T>(keys: Keys<T>): LaneKey<T>[] {
  if (keys.length === 0) return []
  const [start, end] = [keys[0].at, keys[keys.length - 1].at]
  return keys
    .map((key, i) => ({
      at: start + end - key.at,
      value: key.value,
      // What was the way from the key before to this one is the way from this one.
      ease: turnedRound(i === 0 ? keys[keys.length - 1].ease : keys[i - 1].ease),
    }))
    .reverse()
}

/** Keys again and again until the end: the first of each round takes the place of the last of the one before. */
export function keysLooped<T>(keys: Keys<T>, last: number): LaneKey<T>[] {
  if (keys.length < 2) return [...keys]
  const length = keys[keys.length - 1].at - keys[0].at
  const out: LaneKey<T>[] = [...keys]
  for (let by = length; keys[0].at + by < last; by += length)
    out.push(...keys.map((key) => ({ ...key, at: key.at + by })))
  return sorted(out).filter(({ at }) => at <= last)
}

/** A lane whose end is its beginning, so that nothing jumps where the turntable closes. */
export function keysClosed<T>(keys: Keys<T>, last: number): LaneKey<T>[] {
  if (keys.length === 0) return []
  return withKey(keys, last, keys[0].value)
}
