import { z } from 'zod'
import { linearToSrgbFast, parseHex, srgbToLinear } from '../math/colour'
import { concentricDisc, sobolPair } from '../math/sampling'
import type { Vec3 } from '../math/vec3'
import { add, normalize, scale } from '../math/vec3'
import { colourParam, numberParam } from '../params'
import { BLOCKS_LIGHT } from '../scene/part-role'
import type { CameraBasis } from '../scene/camera'
import { definePass } from './pass-kind'
import { FAR } from './primary-hits'
import { shadeSamples } from './shade-samples'

/**
 * Direction towards the key light. It turns with the camera about the vertical, so a light from the left stays on the
 * left: azimuth 0 is from behind the camera, 90 from the right.
 */
export function keyDirection(camera: CameraBasis, azimuthDeg: number, elevationDeg: number): Vec3 {
  const flatBack = normalize(
    [camera.back[0], 0, camera.back[2]],
    normalize([-camera.up[0], 0, -camera.up[2]]),
  )
  const flatRight: Vec3 = [flatBack[2], 0, -flatBack[0]]
  const azimuth = (azimuthDeg * Math.PI) / 180
  const elevation = (elevationDeg * Math.PI) / 180
  const level = add(scale(flatBack, Math.cos(azimuth)), scale(flatRight, Math.sin(azimuth)))
  return add(scale(level, Math.cos(elevation)), [0, Math.sin(elevation), 0])
}

/** Keeps highlights from clipping: linear below the knee, then a smooth approach to 1. Linear light in and out. */
function shoulder(value: number): number {
  const knee = 0.6
  if (value <= knee) return value
  return knee + (1 - knee) * (1 - Math.exp(-(value - knee) / (1 - knee)))
}

const linearOf = (hex: string): Vec3 => {
  const [r, g, b] = parseHex(hex)
  return [srgbToLinear(r), srgbToLinear(g), srgbToLinear(b)]
}

/**
 * One matte material for all, under a soft key and a dome. The key's irradiance and highlight and the dome's light
 * from above and from below are separate channels, so strength and colour of each stay live.
 */
export const clay = definePass({
  kind: 'clay',
  label: 'Clay',
  summary: 'The form in one material, under a soft key and a dome: the base of a picture.',
  renderSchema: z.object({
    keyAzimuthDeg: numberParam({ label: 'Key from', unit: '°', min: -180, max: 180, step: 1, default: -42 }),
    keyElevationDeg: numberParam({ label: 'Key height', unit: '°', min: -10, max: 90, step: 1, default: 38 }),
    keySizeDeg: numberParam({ label: 'Key softness', unit: '°', min: 0, max: 60, step: 0.5, default: 9 }),
    roughness: numberParam({ label: 'Highlight width', min: 0.1, max: 1, step: 0.01, default: 0.5 }),
  }),
  lookSchema: z.object({
    colour: colourParam({ label: 'Clay', default: '#d8cfc2' }),
    key: numberParam({ label: 'Key', min: 0, max: 4, step: 0.01, default: 0.95 }),
    keyColour: colourParam({ label: 'Key colour', default: '#fff3e0' }),
    dome: numberParam({ label: 'Dome', min: 0, max: 4, step: 0.01, default: 0.55 }),
    above: colourParam({ label: 'Dome above', default: '#dfe8f2' }),
    below: colourParam({ label: 'Dome below', default: '#c9b49c' }),
    sheen: numberParam({ label: 'Sheen', min: 0, max: 1, step: 0.01, default: 0.06 }),
    exposure: numberParam({ label: 'Exposure', unit: 'EV', min: -4, max: 4, step: 0.05, default: 0 }),
  }),
  channels: [
    { name: 'key', format: 'half' },
    { name: 'highlight', format: 'half' },
    { name: 'above', format: 'half' },
    { name: 'below', format: 'half' },
    { name: 'A', format: 'half' },
  ],
  efforts: { draft: { samples: 2, rays: 4 }, final: { samples: 8, rays: 8 } },
  layer: { mode: 'normal', opacity: 1 },

  createRenderer(context, params) {
    const { kernel, effort } = context
    const [lx, ly, lz] = keyDirection(context.camera, params.keyAzimuthDeg, params.keyElevationDeg)
    const tangent = normalize(Math.abs(ly) < 0.9 ? [lz, 0, -lx] : [0, lz, -ly])
    const spread = Math.tan((params.keySizeDeg * Math.PI) / 360)
    // b = l × tangent.
    const bx = ly * tangent[2] - lz * tangent[1]
    const by = lz * tangent[0] - lx * tangent[2]
    const bz = lx * tangent[1] - ly * tangent[0]
    const alphaSquared = params.roughness ** 4
    const keyRays = Math.max(1, effort.rays >> 2)
    const unit = new Float64Array(2)
    const disc = new Float64Array(2)
    return (tile) =>
      shadeSamples(context, tile, 4, (point, ray, run, sums) => {
        const { seed } = run
        // 1. Key: rays to points of its disc.
        const firstKeyRay = run.first(keyRays)
        let key = 0
        let highlight = 0
        for (let r = 0; r < keyRays; r++) {
          sobolPair(firstKeyRay + r, seed ^ 0x5bd1e995, unit)
          concentricDisc(unit[0], unit[1], disc)
          const a = disc[0] * spread
          const b = disc[1] * spread
          let dx = lx + a * tangent[0] + b * bx
          let dy = ly + a * tangent[1] + b * by
          let dz = lz + a * tangent[2] + b * bz
          const inverse = 1 / Math.sqrt(dx * dx + dy * dy + dz * dz)
          dx *= inverse
          dy *= inverse
          dz *= inverse
          const cosine = dx * point.nx + dy * point.ny + dz * point.nz
          if (cosine <= 0 || dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
          if (kernel.blocked(point.x, point.y, point.z, dx, dy, dz, 0, FAR, BLOCKS_LIGHT)) continue
          key += cosine
          // Walter et al. 2007 (GGX) lobe, scaled to 1 at its peak.
          let hx = dx - ray.dx
          let hy = dy - ray.dy
          let hz = dz - ray.dz
          const half = 1 / Math.sqrt(hx * hx + hy * hy + hz * hz || 1)
          hx *= half
          hy *= half
          hz *= half
          const nh = hx * point.nx + hy * point.ny + hz * point.nz
          const lobe = alphaSquared / (nh * nh * (alphaSquared - 1) + 1)
          highlight += cosine * lobe * lobe
        }
        sums[0] += key / keyRays
        sums[1] += highlight / keyRays

        // 2. Dome: cosine-weighted, split by how much each direction looks up or down.
        const firstRay = run.first(effort.rays)
        let above = 0
        let below = 0
        for (let r = 0; r < effort.rays; r++) {
          sobolPair(firstRay + r, seed, unit)
          concentricDisc(unit[0], unit[1], disc)
          const a = disc[0]
          const b = disc[1]
          const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
          const dx = a * point.ux + b * point.vx + c * point.nx
          const dy = a * point.uy + b * point.vy + c * point.ny
          const dz = a * point.uz + b * point.vz + c * point.nz
          if (dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
          if (kernel.blocked(point.x, point.y, point.z, dx, dy, dz, 0, FAR, BLOCKS_LIGHT)) continue
          above += 0.5 + 0.5 * dy
          below += 0.5 - 0.5 * dy
        }
        sums[2] += above / effort.rays
        sums[3] += below / effort.rays
      })
  },

  look({ count, planes }, params, out) {
    const [key, highlight, above, below, alpha] = planes
    const clayColour = linearOf(params.colour)
    const keyColour = linearOf(params.keyColour)
    const aboveColour = linearOf(params.above)
    const belowColour = linearOf(params.below)
    const gain = 2 ** params.exposure
    for (let i = 0; i < count; i++) {
      const k = key[i] * params.key
      const up = above[i] * params.dome
      const down = below[i] * params.dome
      const shine = highlight[i] * params.sheen * params.key
      for (let c = 0; c < 3; c++) {
        const light = k * keyColour[c] + up * aboveColour[c] + down * belowColour[c]
        out[4 * i + c] = linearToSrgbFast(shoulder((clayColour[c] * light + shine * keyColour[c]) * gain))
      }
      out[4 * i + 3] = alpha[i]
    }
  },
})
