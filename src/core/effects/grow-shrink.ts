import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect, type EffectArea } from './effect-kind'

/** Larger discs are grown by one of these after the other: discs add up to discs. */
const MOST_AT_ONCE = 6

/** Grows what is light and opaque by a disc, or shrinks it: the greatest, or least, of what lies within the radius. */
export const growShrink = defineEffect({
  kind: 'growShrink',
  version: 1,
  label: 'Grow or shrink',
  group: 'Detail',
  summary: 'Makes what is light, and shapes on clear ground, thicker; below nothing, thinner.',
  schema: z.object({
    radius: numberParam({ label: 'Radius', unit: 'px', min: -60, max: 60, step: 0.5, default: 3 }),
  }),
  neutral: { radius: 0 },
  work: ({ radius }) => ({
    by: 'area',
    reach: (scale) => Math.ceil(Math.abs(radius) * scale) + 1,
    apply(area) {
      const { window, reach, scale, input, out, numbers, room } = area
      const wanted = Math.abs(radius) * scale
      const isGrown = radius > 0
      // 1. By whole pixels, disc after disc, each on less of the border.
      let [from, left] = [input, reach]
      let rest = Math.floor(wanted)
      while (rest > 0) {
        const step = Math.min(MOST_AT_ONCE, rest)
        rest -= step
        left -= step
        const to = room(16 * (window.width + 2 * left) * (window.height + 2 * left))
        extreme(area, from, to, left, step, isGrown)
        from = to
      }
      // 2. By what is left of a pixel, a share of one more.
      const share = wanted - Math.floor(wanted)
      const next = room(16 * window.width * window.height)
      extreme(area, from, next, 0, left, isGrown, 1)
      const count = 4 * window.width * window.height
      const across = window.width + 2 * left
      const [made, more, whole] = [
        numbers(out, count),
        numbers(next, count),
        numbers(from, 4 * across * (window.height + 2 * left)),
      ]
      for (let y = 0, i = 0; y < window.height; y++) {
        let at = 4 * ((y + left) * across + left)
        for (let x = 0; x < 4 * window.width; x++, i++, at++)
          made[i] = whole[at] + share * (more[i] - whole[at])
      }
    },
  }),
})

/**
 * The greatest or least within a disc.
 * @param margin how far what is made goes beyond the window. @param around how much farther the input goes. @param radius of the disc.
 */
function extreme(
  { window, kernel, room, numbers }: EffectArea,
  from: number,
  to: number,
  margin: number,
  around: number,
  isGrown: boolean,
  radius = around,
): void {
  const [width, height] = [window.width + 2 * margin, window.height + 2 * margin]
  const across = width + 2 * around
  const places: number[] = []
  for (let y = -radius; y <= radius; y++)
    for (let x = -radius; x <= radius; x++)
      if (x * x + y * y <= (radius + 0.25) ** 2) places.push(y * across + x)
  const taps = room(4 * places.length)
  new Int32Array(numbers(taps, places.length).buffer, taps, places.length).set(places)
  kernel.extremeShifted(from, to, width, height, around, taps, places.length, isGrown ? 1 : 0)
}
