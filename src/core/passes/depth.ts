import { z } from 'zod'
import { colourParam, numberParam, toggleParam } from '../params'
import { parseHex } from '../math/colour'
import type { CameraBasis, Frame } from '../scene/camera'
import { POINT, POINT_NUMBERS } from '../trace/point-block'
import type { PassFacts } from './pass-facts'
import { definePass } from './pass-kind'
import { SEEN_ONLY_EFFORTS } from './effort'
import { shadePoints } from './shade-points'

const numberOf = (facts: PassFacts, name: string, fallback: number): number => {
  const value = facts[name]
  return typeof value === 'number' ? value : fallback
}

/**
 * How high what a pixel sees lies, by its place and its depth Z: (a + b·x + c·y) + Z · (d + e·x + f·y), in world units.
 * x and y are pixels from the top left.
 */
function heightsOf(
  camera: CameraBasis,
  { width, height }: Frame,
): [number, number, number, number, number, number] {
  const { eye, right, up, back, parallel, halfWidth, halfHeight, centreX, centreY } = camera
  const across = (2 * halfWidth * right[1]) / width
  const down = (-2 * halfHeight * up[1]) / height
  const start = (centreX - halfWidth) * right[1] + (centreY + halfHeight) * up[1]
  return parallel
    ? [eye[1] + start, across, down, -back[1], 0, 0]
    : [eye[1], 0, 0, start - back[1], across, down]
}

/** The height of what a pixel sees, as a share of that of the subject: 0 at its foot; null where the pass does not tell it. */
export function heightIn(facts: PassFacts): ((x: number, y: number, depth: number) => number) | null {
  const { heights, low, high } = facts
  if (!Array.isArray(heights) || typeof low !== 'number' || typeof high !== 'number') return null
  const [a, b, c, d, e, f] = heights as readonly number[]
  const span = Math.max(1e-9, high - low)
  return (x, y, depth) => (a + b * x + c * y + depth * (d + e * x + f * y) - low) / span
}

/**
 * Distance along the view axis, in world units, as it is; what of it is near and far is live, and fitted to the subject
 * by itself.
 */
export const depth = definePass({
  kind: 'depth',
  label: 'Depth',
  summary: 'How far away everything is: for haze, falling focus and gates by distance.',
  renderSchema: z.object({}),
  lookSchema: z.object({
    near: numberParam({ label: 'Near', unit: '% of subject', min: -400, max: 400, step: 1, default: 0 }),
    far: numberParam({ label: 'Far', unit: '% of subject', min: -400, max: 1000, step: 1, default: 100 }),
    curve: numberParam({ label: 'Curve', min: 0.1, max: 8, step: 0.05, default: 1, logarithmic: true }),
    invert: toggleParam({ label: 'Invert', default: false }),
    nearColour: colourParam({ label: 'Near colour', default: '#ffffff' }),
    farColour: colourParam({ label: 'Far colour', default: '#000000' }),
  }),
  channels: [
    { name: 'Z', format: 'float32' },
    { name: 'A', format: 'half' },
  ],
  isData: true,
  efforts: SEEN_ONLY_EFFORTS,
  layer: { mode: 'normal', opacity: 1 },

  createRenderer(context) {
    const { back } = context.camera
    const { parts, subjectBounds } = context.scene
    const heights = heightsOf(context.camera, context.frame)
    const ends = { low: subjectBounds.min[1], high: subjectBounds.max[1] }
    const hasSubject = parts.some((part) => part.role === 'subject')
    return (tile) => {
      let near = Infinity
      let far = -Infinity
      const { hits, samples } = tile.points
      const planes = shadePoints(tile, 1, ({ count, floats, ints }, [z]) => {
        for (let i = 0; i < count; i++) {
          const at = POINT_NUMBERS * i
          const along =
            -hits.distances[samples[i]] *
            (floats[at + POINT.view] * back[0] +
              floats[at + POINT.view + 1] * back[1] +
              floats[at + POINT.view + 2] * back[2])
          z[ints[at + POINT.pixel]] += floats[at + POINT.share] * along
          if (hasSubject && parts[ints[at + POINT.part]].role !== 'subject') continue
          near = Math.min(near, along)
          far = Math.max(far, along)
        }
      })
      if (far >= near) tile.tell({ near, far, heights, ...ends })
      return planes
    }
  },

  facts: {
    live: true,
    merge: (a, b) => ({
      // All else is of the whole picture, and the same in every tile.
      ...a,
      ...b,
      near: Math.min(numberOf(a, 'near', Infinity), numberOf(b, 'near', Infinity)),
      far: Math.max(numberOf(a, 'far', -Infinity), numberOf(b, 'far', -Infinity)),
    }),
    finish: (told) => {
      const near = numberOf(told, 'near', 0)
      const far = numberOf(told, 'far', 1)
      return {
        ...told,
        ...(Number.isFinite(near) && Number.isFinite(far) ? { near, far } : { near: 0, far: 1 }),
      }
    },
  },

  look({ count, planes, facts }, params, out) {
    const [distance, alpha] = planes
    const first = numberOf(facts, 'near', 0)
    const span = Math.max(1e-9, numberOf(facts, 'far', 1) - first)
    const near = params.near / 100
    const range = (params.far - params.near) / 100 || 1e-9
    const a = parseHex(params.nearColour)
    const b = parseHex(params.farColour)
    for (let i = 0; i < count; i++) {
      let t = Math.min(1, Math.max(0, ((distance[i] - first) / span - near) / range))
      t = Math.pow(t, params.curve)
      if (params.invert) t = 1 - t
      for (let c = 0; c < 3; c++) out[4 * i + c] = a[c] + (b[c] - a[c]) * t
      out[4 * i + 3] = alpha[i]
    }
  },
})
