import { z } from 'zod'
import { oklabToSrgb, srgbToOklab } from '../math/oklab'
import { choiceParam, grouped, numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { smoothStep } from './pattern'

/** Linear sRGB to cone responses, and what makes OKLab of their cube roots (Ottosson 2020); rows. */
const TO_CONES = [
  0.4122214708, 0.5363325363, 0.0514459929, 0.2119034982, 0.6806995451, 0.1073969566, 0.0883024619,
  0.2817188376, 0.6299787005,
]
const TO_LAB = [
  0.2104542553, 0.793617785, -0.0040720468, 1.9779984951, -2.428592205, 0.4505937099, 0.0259040371,
  0.7827717662, -0.808675766,
]
const FROM_LAB = [
  1, 0.3963377774, 0.2158037573, 1, -0.1055613458, -0.0638541728, 1, -0.0894841775, -1.291485548,
]
const FROM_CONES = [
  4.0767416621, -3.3077115913, 0.2309699292, -1.2684380046, 2.6097574011, -0.3413193965, -0.0041960863,
  -0.7034186147, 1.707614701,
]

const times = (a: readonly number[], b: readonly number[]): number[] =>
  Array.from({ length: 9 }, (_, i) => {
    const [row, column] = [3 * Math.floor(i / 3), i % 3]
    return a[row] * b[column] + a[row + 1] * b[3 + column] + a[row + 2] * b[6 + column]
  })

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
    const changed = (l: number, a: number, b: number, share: number) => {
      const turn = share * hueDeg * DEGREES
      const k = 1 + share * (chroma - 1)
      const [cos, sin] = [k * Math.cos(turn), k * Math.sin(turn)]
      return oklabToSrgb([l + share * lightness, cos * a - sin * b, sin * a + cos * b])
    }
    if (of === 'range')
      return {
        by: 'colour',
        change(rgb) {
          const [l, a, b] = srgbToOklab([rgb[0], rgb[1], rgb[2]])
          const off = Math.abs(((Math.atan2(b, a) / DEGREES - aboutDeg + 540) % 360) - 180)
          // Greys have no hue: what is nearly one is left alone.
          const coloured = smoothStep(0.005, 0.04, Math.hypot(a, b))
          const share =
            coloured * (1 - smoothStep(widthDeg / 2 - softDeg / 2, widthDeg / 2 + softDeg / 2, off))
          if (share > 0) rgb.set(changed(l, a, b, share))
        },
      }
    return {
      by: 'colour',
      change(rgb) {
        const [l, a, b] = srgbToOklab([rgb[0], rgb[1], rgb[2]])
        rgb.set(changed(l, a, b, 1))
      },
      fast({ kernel, table }, blocks, count) {
        const [cos, sin] = [chroma * Math.cos(hueDeg * DEGREES), chroma * Math.sin(hueDeg * DEGREES)]
        const numbers = table('oklab', 30, (list) => {
          const change = times(FROM_LAB, times([1, 0, 0, 0, cos, -sin, 0, sin, cos], TO_LAB))
          list.set([...TO_CONES, ...change, ...FROM_CONES, lightness, lightness, lightness])
        })
        kernel.changeInOklab(blocks, count, numbers)
      },
    }
  },
})
