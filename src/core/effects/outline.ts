import { z } from 'zod'
import { parseHex } from '../math/colour'
import { choiceParam, colourParam, numberParam } from '../params'
import type { MapRequest } from '../passes/shot-maps'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

const MAPS = {
  brightness: [],
  depth: [{ from: 'shot', map: 'depth', id: '' }],
  normals: [
    { from: 'shot', map: 'normalX', id: '' },
    { from: 'shot', map: 'normalY', id: '' },
    { from: 'shot', map: 'normalZ', id: '' },
  ],
} as const satisfies Readonly<Record<string, readonly MapRequest[]>>

/** Lines where brightness, depth or direction changes at once: differences across each pixel, at the width of the line. */
export const outline = defineEffect({
  kind: 'outline',
  version: 1,
  label: 'Outline',
  group: 'Detail',
  summary: 'Lines where forms, distances or tones change at once.',
  schema: z.object({
    of: choiceParam({
      label: 'Found by',
      options: { brightness: 'Brightness', depth: 'Depth', normals: 'Normals' },
      default: 'brightness',
    }),
    width: numberParam({ label: 'Width', unit: 'px', min: 0.5, max: 12, step: 0.1, default: 1.5 }),
    threshold: numberParam({ label: 'From a change of', min: 0.005, max: 1, step: 0.005, default: 0.12 }),
    colour: colourParam({ label: 'Line', default: '#1f1a17' }),
    amount: numberParam({ label: 'Amount', min: 0, max: 1, step: 0.01, default: 1 }),
    ground: choiceParam({
      label: 'Over',
      options: { picture: 'The picture', white: 'White', clear: 'Nothing' },
      default: 'picture',
    }),
  }),
  work({ of, width, threshold, colour, amount, ground }) {
    const [r, g, b] = parseHex(colour)
    const maps = MAPS[of]
    return {
      by: 'area',
      reach: (scale) => Math.ceil((width * scale) / 2) + 2,
      maps,
      apply({ window, reach, scale, input, out, numbers, map }) {
        const across = window.width + 2 * reach
        const down = window.height + 2 * reach
        const pixels = numbers(input, 4 * across * down)
        const made = numbers(out, 4 * window.width * window.height)
        const planes = maps.map((_, i) => map(i))
        const own =
          of === 'brightness'
            ? [
                Float32Array.from({ length: across * down }, (_, i) => {
                  const a = pixels[4 * i + 3]
                  // What is clear counts as white paper.
                  return 0.3 * pixels[4 * i] + 0.59 * pixels[4 * i + 1] + 0.11 * pixels[4 * i + 2] + 1 - a
                }),
              ]
            : planes
        const half = Math.max(0.5, (width * scale) / 2)
        const at = (plane: Float32Array, x: number, y: number) => {
          const [x0, y0] = [Math.floor(x), Math.floor(y)]
          const [u, v] = [x - x0, y - y0]
          const p = y0 * across + x0
          const top = plane[p] + (plane[p + 1] - plane[p]) * u
          return top + (plane[p + across] + (plane[p + across + 1] - plane[p + across]) * u - top) * v
        }
        for (let y = 0, o = 0; y < window.height; y++)
          for (let x = 0; x < window.width; x++, o += 4) {
            const [cx, cy] = [x + reach, y + reach]
            let change = 0
            for (const plane of own) {
              const dx = at(plane, cx + half, cy) - at(plane, cx - half, cy)
              const dy = at(plane, cx, cy + half) - at(plane, cx, cy - half)
              const across1 =
                at(plane, cx + half * 0.7, cy + half * 0.7) - at(plane, cx - half * 0.7, cy - half * 0.7)
              const across2 =
                at(plane, cx + half * 0.7, cy - half * 0.7) - at(plane, cx - half * 0.7, cy + half * 0.7)
              change += Math.max(dx * dx + dy * dy, across1 * across1 + across2 * across2)
            }
            const found = Number.isNaN(change) ? 0 : Math.sqrt(change)
            const line = amount * smoothStep(threshold * 0.6, threshold * 1.4, found)
            const i = 4 * (cy * across + cx)
            const [pr, pg, pb, pa] =
              ground === 'picture'
                ? [pixels[i], pixels[i + 1], pixels[i + 2], pixels[i + 3]]
                : ground === 'white'
                  ? [1, 1, 1, 1]
                  : [0, 0, 0, 0]
            made[o] = pr * (1 - line) + r * line
            made[o + 1] = pg * (1 - line) + g * line
            made[o + 2] = pb * (1 - line) + b * line
            made[o + 3] = pa * (1 - line) + line
          }
      },
    }
  },
})
