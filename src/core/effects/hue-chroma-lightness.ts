import { z } from 'zod'
import { choiceParam, grouped, numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

const DEGREES = Math.PI / 180

/** Turns hues, strengthens or weakens chroma, lightens or darkens, in OKLCh: for all, or for what lies about one hue. */
export const hueChromaLightness = defineEffect({
  kind: 'hueChromaLightness',
  version: 1,
  label: 'Hue, chroma, lightness',
  group: 'Colour',
  summary: 'Turns hues and sets how strong and how light colours are.',
  schema: z.object({
    hueDeg: numberParam({ label: 'Hue', unit: '°', min: -180, max: 180, step: 1, default: 0 }),
    chroma: numberParam({ label: 'Chroma', unit: '×', min: 0, max: 4, step: 0.01, default: 1.2 }),
    lightness: numberParam({ label: 'Lightness', min: -1, max: 1, step: 0.005, default: 0 }),
    of: choiceParam({
      label: 'For',
      options: { all: 'All colours', range: 'Colours about one hue' },
      default: 'all',
    }),
    ...grouped('About one hue', {
      aboutDeg: numberParam({ label: 'Hue meant', unit: '°', min: 0, max: 360, step: 1, default: 40 }),
      widthDeg: numberParam({ label: 'Width', unit: '°', min: 1, max: 180, step: 1, default: 60 }),
      softDeg: numberParam({ label: 'Soft ends', unit: '°', min: 1, max: 90, step: 1, default: 20 }),
    }),
  }),
  neutral: { hueDeg: 0, chroma: 1, lightness: 0 },
  work({ hueDeg, chroma, lightness, of, aboutDeg, widthDeg, softDeg }) {
    const change = (lab: Float64Array, share: number) => {
      const turn = share * hueDeg * DEGREES
      const k = 1 + share * (chroma - 1)
      const [cos, sin] = [k * Math.cos(turn), k * Math.sin(turn)]
      const [, a, b] = lab
      lab[0] += share * lightness
      lab[1] = cos * a - sin * b
      lab[2] = sin * a + cos * b
    }
    if (of === 'range')
      return {
        by: 'colour',
        space: 'oklab',
        change(lab) {
          const [, a, b] = lab
          const off = Math.abs(((Math.atan2(b, a) / DEGREES - aboutDeg + 540) % 360) - 180)
          // Greys have no hue: what is nearly one is left alone.
          const coloured = smoothStep(0.005, 0.04, Math.sqrt(a * a + b * b))
          const share =
            coloured * (1 - smoothStep(widthDeg / 2 - softDeg / 2, widthDeg / 2 + softDeg / 2, off))
          if (share > 0) change(lab, share)
        },
      }
    return {
      by: 'colour',
      space: 'oklab',
      change: (lab) => change(lab, 1),
      fast({ kernel }, blocks, count) {
        const [cos, sin] = [chroma * Math.cos(hueDeg * DEGREES), chroma * Math.sin(hueDeg * DEGREES)]
        kernel.toOklab(blocks, count)
        kernel.turnOklab(blocks, count, cos, sin, lightness)
        kernel.fromOklab(blocks, count)
      },
    }
  },
})
