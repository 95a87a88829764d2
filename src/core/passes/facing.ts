import { z } from 'zod'
import { colourParam, numberParam, toggleParam } from '../params'
import { parseHex } from '../math/colour'
import { idleWhere } from './idle-params'
import { definePass, SEEN_ONLY_EFFORTS } from './pass-kind'
import { shadeSamples } from './shade-samples'

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

  createRenderer(context) {
    return (tile) =>
      shadeSamples(context, tile, 1, {
        shade: ({ point, ray, pixel, share }, [plane]) => {
          const cosine = -(point.nx * ray.dx + point.ny * ray.dy + point.nz * ray.dz)
          plane[pixel] += share * Math.min(1, Math.max(0, cosine))
        },
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
