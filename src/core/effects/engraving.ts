import { z } from 'zod'
import { mapParam, numberParam } from '../params'
import { defineEffect } from './effect-kind'
import { darkness, inking, inkParams } from './ink'
import { covered, overPixel } from './pattern'

/** Lines that swell where it is dark and bend round the forms: their course follows the way surfaces face. */
export const engraving = defineEffect({
  kind: 'engraving',
  version: 1,
  label: 'Engraving',
  group: 'Print and pen',
  summary: 'Swelling lines that bend round the forms.',
  schema: z.object({
    map: mapParam({ label: 'Normal', pass: 'normal' }),
    size: numberParam({ label: 'Spacing', unit: 'px', min: 2, max: 40, step: 0.5, default: 5 }),
    angleDeg: numberParam({ label: 'Angle', unit: '°', min: -90, max: 90, step: 1, default: 12 }),
    bend: numberParam({ label: 'Bends', unit: 'px', min: 0, max: 200, step: 1, default: 14 }),
    cross: numberParam({ label: 'Crossed from', min: 0.3, max: 1, step: 0.01, default: 0.7 }),
    ...inkParams,
  }),
  work({ map, size, angleDeg, bend, cross, ...rest }) {
    const lay = inking(rest)
    const [cos, sin] = [Math.cos((angleDeg * Math.PI) / 180), Math.sin((angleDeg * Math.PI) / 180)]
    let dark = 0
    let shift = 0
    let turn = 0
    const line = (across: number, much: number, softPx: number): number => {
      const at = across / size
      const off = Math.abs(at - Math.floor(at) - 0.5) * size
      return covered((size / 2) * much - off, softPx)
    }
    const lines = (x: number, y: number, softPx: number): number => {
      const first = line(cos * y - sin * x + shift, 0.12 + 0.8 * dark, softPx) * Math.min(1, dark * 12)
      const much = dark - cross
      if (much <= 0) return first
      const second = line(cos * x + sin * y + turn, Math.min(0.6, 1.4 * much), softPx)
      return 1 - (1 - first) * (1 - second)
    }
    return {
      by: 'point',
      isHeavy: true,
      maps: [
        { from: 'shot', map: 'normalX', id: map },
        { from: 'shot', map: 'normalY', id: map },
      ],
      beside: [[{ by: 'blur', sigmaPx: size / 3 }]],
      change(rgba, place) {
        const [nx, ny] = place.maps
        dark = darkness(place.beside[0])
        const [right, down] = Number.isNaN(nx) ? [0, 0] : [nx, -ny]
        shift = bend * (cos * down - sin * right)
        turn = bend * (cos * right + sin * down)
        lay(rgba, overPixel(place, lines))
      },
    }
  },
})
