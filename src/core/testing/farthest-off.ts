/**
 * How far numbers are from those they are held against, where they are farthest: one thing to expect of a whole picture, where
 * one for every number takes half a minute of a million. Not a number where any is none, or one list is longer.
 */
export function farthestOff(a: ArrayLike<number>, b: ArrayLike<number>): number {
  if (a.length !== b.length) return NaN
  let most = 0
  for (let i = 0; i < a.length; i++) {
    const off = Math.abs(a[i] - b[i])
    if (!(off <= most)) most = off
    if (Number.isNaN(most)) return NaN
  }
  return most
}
