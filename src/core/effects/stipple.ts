import { z } from 'zod'
import { gridNoise } from '../math/noise'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { darkness, inking, inkParams } from './ink'
import { covered, overPixel } from './pattern'

/** Dots of one pen strewn so that there are as many as it is dark: jittered places, each with a tone from which it shows. */
export const stipple = defineEffect({
  kind: 'stipple',
  version: 1,
  label: 'Stipple',
  group: 'Print and pen',
  summary: 'Dots of a pen, the darker the closer.',
  schema: z.object({
    size: numberParam({ label: 'Dot', unit: 'px', min: 1, max: 20, step: 0.1, default: 2.2 }),
    spread: numberParam({ label: 'Apart', unit: '×', min: 1, max: 4, step: 0.05, default: 1.2 }),
    uneven: numberParam({ label: 'Unevenness', min: 0, max: 1, step: 0.01, default: 0.4 }),
    seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
    ...inkParams,
  }),
  work({ size, spread, uneven, seed, ...rest }) {
    const lay = inking(rest)
    const cell = size * spread
    let dark = 0
    /** Dots of one grid, each with a tone from which it shows. */
    const grid = (x: number, y: number, softPx: number, much: number, own: number): number => {
      const [cx, cy] = [Math.floor(x / cell), Math.floor(y / cell)]
      let inked = 0
      for (let j = cy - 1; j <= cy + 1; j++)
        for (let i = cx - 1; i <= cx + 1; i++) {
          // Steps of the plastic number keep dots of like tones apart (Roberts 2018, "R2").
          const shows = (i * 0.7548776662 + j * 0.5698402909 + 0.12 * gridNoise(i, j, own) + 1e4) % 1
          if (shows >= much) continue
          const radius = (size / 2) * (1 - 0.6 * uneven * gridNoise(i, j, own + 1))
          const dx = x - (i + 0.5 + 0.6 * (gridNoise(i, j, own + 2) - 0.5)) * cell
          const dy = y - (j + 0.5 + 0.6 * (gridNoise(i, j, own + 3) - 0.5)) * cell
          inked = Math.max(inked, covered(radius - Math.sqrt(dx * dx + dy * dy), softPx))
        }
      return inked
    }
    /** Three grids, one after the other: one is never so full that it is black. */
    const dots = (x: number, y: number, softPx: number): number => {
      let paper = 1
      for (let k = 0; k < 3; k++) {
        const much = 3 * dark - k
        if (much > 0) paper *= 1 - grid(x + k * 0.37 * cell, y + k * 0.61 * cell, softPx, much, seed + 50 * k)
      }
      return 1 - paper
    }
    return {
      by: 'point',
      isHeavy: true,
      beside: [[{ by: 'blur', sigmaPx: size / 2 }]],
      change(rgba, place) {
        dark = darkness(place.beside[0])
        lay(rgba, dark <= 0 ? 0 : overPixel(place, dots))
      },
    }
  },
})
