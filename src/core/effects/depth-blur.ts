import { z } from 'zod'
import { mapParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'

/** Turns a sunflower's seeds lie apart: as even over a disc as places get (Vogel 1979). */
const GOLDEN = Math.PI * (3 - Math.sqrt(5))

/**
 * The blur of a lens, by depth: discs as large as a thing is far from what is sharp. Each pixel gathers the discs that reach it;
 * those from behind it no farther than its own, so that what is sharp keeps its edge and the ground behind it its size.
 */
export const depthBlur = defineEffect({
  kind: 'depthBlur',
  version: 1,
  label: 'Depth blur',
  group: 'Blur and focus',
  summary: 'Sharp at one distance and ever softer before and behind it.',
  schema: z.object({
    map: mapParam({ label: 'Depth', pass: 'depth' }),
    focus: numberParam({
      label: 'Sharp at',
      unit: '% of subject',
      min: -100,
      max: 300,
      step: 1,
      default: 20,
    }),
    aperture: numberParam({
      label: 'Aperture',
      unit: 'px',
      min: 0,
      max: 60,
      step: 0.5,
      default: 12,
      logarithmic: true,
    }),
    sharp: numberParam({
      label: 'Sharp range',
      unit: '% of subject',
      min: 0,
      max: 200,
      step: 1,
      default: 10,
    }),
    blades: numberParam({ label: 'Blades', min: 0, max: 9, step: 1, default: 0 }),
    bloom: numberParam({ label: 'Bright points bloom', min: 0, max: 8, step: 0.1, default: 1 }),
  }),
  neutral: { aperture: 0 },
  work: ({ map, focus, aperture, sharp, blades, bloom }) => ({
    by: 'area',
    isHeavy: true,
    reach: (scale) => Math.ceil(2 * aperture * scale) + 1,
    maps: [{ from: 'shot', map: 'depth', id: map }],
    apply({ window: { width, height }, scale, reach, input, out, kernel, room, numbers, map: mapOf }) {
      const count = (width + 2 * reach) * (height + 2 * reach)
      const depth = mapOf(0)
      const most = Math.max(0, reach - 1)
      const [discsAt, depthsAt] = [room(4 * count), room(4 * count)]
      const taps = tapsOver(most, Math.round(blades))
      const tapsAt = room(4 * taps.length)
      const [discs, depths] = [numbers(discsAt, count), numbers(depthsAt, count)]
      for (let i = 0; i < count; i++) {
        // Without a depth everything is as far as what is sharp.
        const z = Number.isNaN(depth[i]) ? focus / 100 : depth[i]
        const off = Math.max(0, Math.abs(z - focus / 100) - sharp / 200)
        discs[i] = Math.min(most, aperture * scale * off)
        depths[i] = z
      }
      numbers(tapsAt, taps.length).set(taps)
      kernel.blurByDepth(input, discsAt, depthsAt, out, width, height, reach, tapsAt, taps.length / 3, bloom)
    },
  }),
})

/** Places over a disc of a radius, or over the polygon that so many blades leave open: x, y, distance. */
function tapsOver(radius: number, blades: number): Float32Array {
  if (radius < 1) return new Float32Array(0)
  const count = Math.min(72, Math.max(12, Math.ceil(radius * 3)))
  const out = new Float32Array(3 * count)
  for (let i = 0; i < count; i++) {
    const away = radius * Math.sqrt((i + 0.5) / count)
    const angle = i * GOLDEN
    let share = 1
    if (blades >= 3) {
      const sector = (2 * Math.PI) / blades
      const within = angle - Math.floor(angle / sector) * sector - sector / 2
      share = Math.cos(sector / 2) / Math.cos(within)
    }
    // A polygon's edge counts as a disc's: how far it is said to be is how far it would be on that.
    out.set([share * away * Math.cos(angle), share * away * Math.sin(angle), away], 3 * i)
  }
  return out
}
