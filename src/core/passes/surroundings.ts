import { z } from 'zod'
import { numberParam } from '../params'
import { CameraRay } from '../scene/camera-ray'
import { BLOCKS_LIGHT } from '../scene/part-role'
import type { RenderedLight } from '../scene/rendered-light'
import type { LightPicture } from '../trace/light-record'
import { SEEN_ONLY_EFFORTS } from './effort'
import { definePass } from './pass-kind'
import { placeLights } from './placed-light'
import { toDisplay } from './tone'

/** Looks into a pixel, side by side and beneath each other: pictures of surroundings have edges. */
const LOOKS = 2

/** Channels of what surrounds: of a sky how much of each of its two colours, of a picture red, green and blue. */
const channelNames = (lights: readonly Pick<RenderedLight, 'planes'>[]): string[] =>
  lights.flatMap(({ planes }, i) =>
    planes === 'light' ? [] : (planes === 'dome' ? ['up', 'down'] : ['r', 'g', 'b']).map((c) => `S${i}${c}`),
  )

/**
 * What the domes of the rig look like where the camera looks, behind everything: a backdrop that fits the light. Alone it is a
 * picture of its own; parts have no place in it.
 */
export const surroundings = definePass({
  kind: 'surroundings',
  label: 'Surroundings',
  summary: 'What the domes of the rig look like behind everything: sky, or a picture all round.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    exposure: numberParam({ label: 'Exposure', unit: 'EV', min: -6, max: 6, step: 0.05, default: 0 }),
    saturation: numberParam({ label: 'Saturation', min: 0, max: 2, step: 0.01, default: 1 }),
  }),
  channels: (lights) => [
    ...channelNames(lights).map((name) => ({ name, format: 'half' as const })),
    { name: 'A', format: 'half' },
  ],
  usesLights: true,
  // Nothing of it lies on surfaces.
  adaptive: false,
  efforts: SEEN_ONLY_EFFORTS,
  layer: { mode: 'normal', opacity: 1 },

  createRenderer(context) {
    const blockers = { mask: BLOCKS_LIGHT, parts: null }
    const domes = placeLights(context.rig.lights, { ...context, blockers }).filter(({ values }) => values > 1)
    const ray = new CameraRay(context.camera, context.frame)
    const found = new Float64Array(3)
    return ({ tile, memory, cancelled }) => {
      const count = tile.width * tile.height
      const planes = domes.map(({ values }) => Array.from({ length: values }, () => memory.floats(count)))
      const alpha = memory.floats(count)
      const share = 1 / (LOOKS * LOOKS)
      for (let p = 0; p < count && !cancelled(); p++) {
        const [x, y] = [tile.x + (p % tile.width), tile.y + Math.floor(p / tile.width)]
        for (let look = 0; look < LOOKS * LOOKS; look++) {
          ray.aim(x + ((look % LOOKS) + 0.5) / LOOKS, y + (Math.floor(look / LOOKS) + 0.5) / LOOKS)
          domes.forEach(({ asked, values }, d) => {
            if (asked?.record.kind === 'picture') lookRound(asked.record, ray.dx, ray.dy, ray.dz, found)
            else found.set(asked ? [0.5 + 0.5 * ray.dy, 0.5 - 0.5 * ray.dy, 0] : [0, 0, 0])
            for (let k = 0; k < values; k++) planes[d][k][p] += share * found[k]
          })
        }
        alpha[p] = domes.length > 0 ? 1 : 0
      }
      return [...planes.flat(), alpha]
    }
  },

  look({ count, planes, lights }, params, out) {
    const gain = 2 ** params.exposure
    const alpha = planes[planes.length - 1]
    const domes = lights.filter((light) => light.planes !== 'light')
    for (let p = 0; p < count; p++) {
      let [r, g, b] = [0, 0, 0]
      let at = 0
      for (const { planes: kind, colour, below } of domes) {
        if (kind === 'dome') {
          const [up, down] = [planes[at][p], planes[at + 1][p]]
          r += colour[0] * up + below[0] * down
          g += colour[1] * up + below[1] * down
          b += colour[2] * up + below[2] * down
          at += 2
        } else {
          r += colour[0] * planes[at][p]
          g += colour[1] * planes[at + 1][p]
          b += colour[2] * planes[at + 2][p]
          at += 3
        }
      }
      const grey = 0.2126 * r + 0.7152 * g + 0.0722 * b
      const toned = (value: number) =>
        toDisplay(gain * Math.max(0, grey + (value - grey) * params.saturation))
      out[4 * p] = toned(r)
      out[4 * p + 1] = toned(g)
      out[4 * p + 2] = toned(b)
      out[4 * p + 3] = alpha[p]
    }
  },
})

/** What a picture of surroundings shows in a unit direction of the world, between its pixels in proportion; it goes on round. */
function lookRound(
  { picture, turnRad }: { readonly picture: LightPicture; readonly turnRad: number },
  wx: number,
  wy: number,
  wz: number,
  out: Float64Array,
): void {
  const { width, height, pixels } = picture
  const [cosine, sine] = [Math.cos(turnRad), Math.sin(turnRad)]
  const [x, z] = [cosine * wx - sine * wz, sine * wx + cosine * wz]
  const across = (Math.atan2(x, z) / (2 * Math.PI) + 0.5) * width - 0.5
  const down = (Math.acos(Math.min(1, Math.max(-1, wy))) / Math.PI) * height - 0.5
  const [x0, y0] = [Math.floor(across), Math.floor(down)]
  const [u, v] = [across - x0, down - y0]
  const column = (own: number) => ((own % width) + width) % width
  const row = (own: number) => Math.min(height - 1, Math.max(0, own))
  const at = (cx: number, cy: number) => 3 * (row(cy) * width + column(cx))
  const [a, b, c, d] = [at(x0, y0), at(x0 + 1, y0), at(x0, y0 + 1), at(x0 + 1, y0 + 1)]
  for (let k = 0; k < 3; k++)
    out[k] =
      (1 - v) * ((1 - u) * pixels[a + k] + u * pixels[b + k]) +
      v * ((1 - u) * pixels[c + k] + u * pixels[d + k])
}
