import { z } from 'zod'
import { colourParam, numberParam, toggleParam } from '../params'
import { parseHex } from '../math/colour'
import { POINT, POINT_NUMBERS } from '../trace/point-block'
import { idleWhere } from './idle-params'
import { definePass } from './pass-kind'
import { SEEN_ONLY_EFFORTS } from './effort'
import { shadePoints } from './shade-points'

/** Cosine of the angle between the surface and the view: 1 head on, 0 at the rim. */
export const facing = definePass({
  kind: 'facing',
  label: 'Facing',
  summary: 'Rims against fronts: glowing edges, velvet, dust on what lies flat.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    curve: numberParam({ label: 'Curve', min: 0.1, max: 16, step: 0.1, default: 2.5, logarithmic: true }),
    from: numberParam({ label: 'From', unit: '°', min: 0, max: 90, step: 1, default: 0 }),
    rim: colourParam({ label: 'Rim', default: '#ffffff' }),
    front: colourParam({ label: 'Front', default: '#000000' }),
    clear: toggleParam({ label: 'Front is clear', default: false }),
  }),
  channels: [
    { name: 'F', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  isData: true,
  efforts: SEEN_ONLY_EFFORTS,
  layer: { mode: 'normal', opacity: 1 },

  idleLook: ({ clear }) => idleWhere([clear, ['front'], 'The front is clear']),

  createRenderer() {
    return (tile) =>
      shadePoints(tile, 1, ({ count, floats, ints }, [plane]) => {
        for (let i = 0; i < count; i++) {
          const at = POINT_NUMBERS * i
          const cosine = -(
            floats[at + POINT.normal] * floats[at + POINT.view] +
            floats[at + POINT.normal + 1] * floats[at + POINT.view + 1] +
            floats[at + POINT.normal + 2] * floats[at + POINT.view + 2]
          )
          plane[ints[at + POINT.pixel]] += floats[at + POINT.share] * Math.min(1, Math.max(0, cosine))
        }
      })
  },

  look({ count, planes }, params, out) {
    const [cosine, alpha] = planes
    const rim = parseHex(params.rim)
    const front = parseHex(params.front)
    const from = Math.min(0.999, params.from / 90)
    for (let i = 0; i < count; i++) {
      const angle = Math.acos(Math.min(1, cosine[i])) / (Math.PI / 2)
      const t = Math.pow(Math.max(0, (angle - from) / (1 - from)), params.curve)
      const share = params.clear ? 1 : t
      for (let c = 0; c < 3; c++) out[4 * i + c] = front[c] + (rim[c] - front[c]) * share
      out[4 * i + 3] = alpha[i] * (params.clear ? t : 1)
    }
  },
})
