import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { darkness, inking, inkParams } from './ink'
import { covered, overPixel } from './pattern'

/** Parallel lines as wide as it is dark. */
export const lineScreen = defineEffect({
  kind: 'lineScreen',
  version: 1,
  label: 'Line screen',
  group: 'Print and pen',
  summary: 'Even lines, thick where it is dark.',
  schema: z.object({
    size: numberParam({ label: 'Spacing', unit: 'px', min: 2, max: 80, step: 0.5, default: 6 }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -90, max: 90, step: 1, default: 30 }),
    wave: numberParam({ label: 'Waves', unit: 'px', min: 0, max: 60, step: 0.5, default: 0 }),
    ...inkParams,
  }),
  work({ size, angleDeg, wave, ...rest }) {
    const lay = inking(rest)
    const [cos, sin] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)]
    let dark = 0
    const lines = (x: number, y: number, softPx: number) => {
      const along = cos * x + sin * y
      const across = (cos * y - sin * x + wave * Math.sin(along / (6 * size))) / size
      const off = Math.abs(across - Math.floor(across) - 0.5) * size
      return covered((dark * size) / 2 - off, softPx)
    }
    return {
      by: 'point',
      isHeavy: true,
      beside: [[{ by: 'blur', sigmaPx: size / 4 }]],
      change(rgba, place) {
        dark = darkness(place.beside[0])
        lay(rgba, overPixel(place, lines))
      },
    }
  },
})
