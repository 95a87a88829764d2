import { z } from 'zod'
import { choiceParam, colourParam, numberParam } from '../params'
import { parseHex } from '../math/colour'
import { POINT, POINT_NUMBERS } from '../trace/point-block'
import { idleWhere } from './idle-params'
import { definePass } from './pass-kind'
import { SEEN_ONLY_EFFORTS } from './effort'
import { shadePoints } from './shade-points'

/**
 * The surface's direction in camera space: +X right, +Y up, +Z to the viewer. `D` is how far directions within a pixel lie
 * apart, 0 on a plane, 1 where two of a pixel's halves stand at a right angle: an outline of every turn of the form.
 */
export const normal = definePass({
  kind: 'normal',
  label: 'Normal',
  summary: 'Which way every surface faces: to light by, to tint by, and as an outline of turns.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    show: choiceParam({
      label: 'Shown as',
      options: { encoded: 'Colours', saturation: 'Tint', outline: 'Outline' },
      default: 'encoded',
    }),
    flipY: choiceParam({ label: 'Green is', options: { up: 'Up', down: 'Down' }, default: 'up' }),
    strength: numberParam({ label: 'Strength', min: 0, max: 4, step: 0.05, default: 1 }),
    line: colourParam({ label: 'Outline', default: '#1c1815' }),
  }),
  channels: [
    { name: 'X', format: 'half' },
    { name: 'Y', format: 'half' },
    { name: 'Z', format: 'half' },
    { name: 'D', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  isData: true,
  efforts: SEEN_ONLY_EFFORTS,
  layer: { mode: 'overlay', opacity: 0.5 },

  idleLook: ({ show }) =>
    idleWhere(
      [show === 'outline', ['flipY'], 'Shown as an outline'],
      [show === 'encoded', ['strength'], 'Shown as colours'],
      [show !== 'outline', ['line'], 'Not shown as an outline'],
    ),

  createRenderer(context) {
    const { right, up, back } = context.camera
    return (tileContext) => {
      const { tile } = tileContext
      const pixels = tile.width * tile.height
      /** Mean direction in each pixel, as it comes; its length tells how far directions lie apart. */
      const planes = shadePoints(tileContext, 3, ({ count, floats, ints }, [x, y, z]) => {
        for (let i = 0; i < count; i++) {
          const at = POINT_NUMBERS * i
          const pixel = ints[at + POINT.pixel]
          const share = floats[at + POINT.share]
          const nx = floats[at + POINT.normal]
          const ny = floats[at + POINT.normal + 1]
          const nz = floats[at + POINT.normal + 2]
          x[pixel] += share * (nx * right[0] + ny * right[1] + nz * right[2])
          y[pixel] += share * (nx * up[0] + ny * up[1] + nz * up[2])
          z[pixel] += share * (nx * back[0] + ny * back[1] + nz * back[2])
        }
      })
      const [x, y, z, alpha] = planes
      const difference = new Float32Array(pixels)
      for (let p = 0; p < pixels; p++) {
        const length = Math.sqrt(x[p] * x[p] + y[p] * y[p] + z[p] * z[p])
        // Two directions at an angle 2a have a mean of length cos a.
        difference[p] = alpha[p] > 0 ? Math.min(1, Math.sqrt(Math.max(0, 2 - 2 * length * length))) : 0
        if (length < 1e-6) continue
        x[p] /= length
        y[p] /= length
        z[p] /= length
      }
      return [x, y, z, difference, alpha]
    }
  },

  look({ count, planes }, params, out) {
    const [x, y, z, difference, alpha] = planes
    const line = parseHex(params.line)
    const sign = params.flipY === 'up' ? 1 : -1
    for (let i = 0; i < count; i++) {
      const o = 4 * i
      out[o + 3] = alpha[i]
      if (params.show === 'encoded') {
        out[o] = 0.5 + 0.5 * x[i]
        out[o + 1] = 0.5 + 0.5 * sign * y[i]
        out[o + 2] = 0.5 + 0.5 * z[i]
      } else if (params.show === 'saturation') {
        // Around grey, so that an overlay tints without lighting: the three always sum to the same.
        const mean = (x[i] + y[i]) / 3
        out[o] = Math.min(1, Math.max(0, 0.5 + 0.25 * params.strength * (x[i] - mean)))
        out[o + 1] = Math.min(1, Math.max(0, 0.5 + 0.25 * params.strength * (sign * y[i] - mean)))
        out[o + 2] = Math.min(1, Math.max(0, 0.5 - 0.25 * params.strength * mean))
      } else {
        for (let c = 0; c < 3; c++) out[o + c] = line[c]
        out[o + 3] = alpha[i] * Math.min(1, difference[i] * params.strength)
      }
    }
  },
})
