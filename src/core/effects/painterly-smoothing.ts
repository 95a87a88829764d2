import { z } from 'zod'
import { numberParam } from '../params'
import { defineEffect, type EffectArea } from './effect-kind'

/** How wide directions are smoothed, in radii. */
const FLOW_SIGMA = 0.4

/**
 * Smooths along forms and keeps edges: an anisotropic Kuwahara filter (Kyprianidis, Kang & Döllner 2009; polynomial weights 2010).
 */
export const painterlySmoothing = defineEffect({
  kind: 'painterlySmoothing',
  version: 1,
  label: 'Painterly smoothing',
  group: 'Detail',
  summary: 'Strokes of even colour along the forms; edges stay.',
  schema: z.object({
    radius: numberParam({
      label: 'Radius',
      unit: 'px',
      min: 1,
      max: 24,
      step: 0.5,
      default: 5,
      logarithmic: true,
    }),
    sharpness: numberParam({ label: 'Sharpness', min: 1, max: 20, step: 0.5, default: 8 }),
    stretch: numberParam({ label: 'Along forms', min: 0, max: 1, step: 0.05, default: 0.8 }),
  }),
  work: ({ radius, sharpness, stretch }) => ({
    by: 'area',
    isHeavy: true,
    reach: (scale) => 2 * Math.ceil(radius * scale * 1.6) + 2,
    apply(area) {
      const { window, scale, input, out, kernel, reach } = area
      const r = Math.max(1, radius * scale)
      const flow = flowOf(area, r, stretch)
      const zeta = 2 / r
      const bend = (zeta + Math.cos(0.58)) / Math.sin(0.58) ** 2
      kernel.smoothPainterly(input, flow, out, window.width, window.height, reach, zeta, bend, sharpness)
    },
  }),
})

/** For each pixel the direction along its edge and the ellipse: cos, sin, long and short axis; from the structure tensor. */
function flowOf(
  { window, input, reach, numbers, room }: EffectArea,
  radius: number,
  stretch: number,
): number {
  const [width, height] = [window.width, window.height]
  const across = width + 2 * reach
  // 1. The tensor of brightness gradients (Sobel), as far as its smoothing needs.
  const blur = Math.min(reach - 2, Math.ceil(2 * FLOW_SIGMA * radius) + 1)
  const [w, h] = [width + 2 * blur, height + 2 * blur]
  const at = room(16 * width * height)
  const pixels = numbers(input, 4 * across * (height + 2 * reach))
  const tone = new Float32Array(across * (height + 2 * reach))
  for (let i = 0; i < tone.length; i++)
    tone[i] = 0.3 * pixels[4 * i] + 0.59 * pixels[4 * i + 1] + 0.11 * pixels[4 * i + 2]
  const tensor = [0, 1, 2].map(() => new Float32Array(w * h))
  const [xx, xy, yy] = tensor
  for (let y = 0, o = 0; y < h; y++)
    for (let x = 0; x < w; x++, o++) {
      const p = (y + reach - blur) * across + x + reach - blur
      const gx =
        tone[p + 1 - across] +
        2 * tone[p + 1] +
        tone[p + 1 + across] -
        tone[p - 1 - across] -
        2 * tone[p - 1] -
        tone[p - 1 + across]
      const gy =
        tone[p + across - 1] +
        2 * tone[p + across] +
        tone[p + across + 1] -
        tone[p - across - 1] -
        2 * tone[p - across] -
        tone[p - across + 1]
      xx[o] = gx * gx
      xy[o] = gx * gy
      yy[o] = gy * gy
    }
  // 2. Smoothed: one direction for what belongs together.
  const weights = Array.from({ length: 2 * blur + 1 }, (_, k) =>
    Math.exp(-((k - blur) ** 2) / (2 * Math.max(0.5, FLOW_SIGMA * radius) ** 2)),
  )
  const smooth = tensor.map((plane) => smoothed(plane, w, width, height, weights))
  // 3. Its eigenvectors: along the edge, and how much of an edge there is.
  const flow = numbers(at, 4 * width * height)
  for (let i = 0; i < width * height; i++) {
    const [a, b, c] = [smooth[0][i], smooth[1][i], smooth[2][i]]
    const root = Math.sqrt((a - c) ** 2 + 4 * b * b)
    const [most, least] = [(a + c + root) / 2, (a + c - root) / 2]
    const [tx, ty] = [most - a, -b]
    const length = Math.hypot(tx, ty)
    const isEdge = length > 1e-9
    const anisotropy = most + least > 1e-9 ? (stretch * (most - least)) / (most + least) : 0
    flow[4 * i] = isEdge ? tx / length : 1
    flow[4 * i + 1] = isEdge ? ty / length : 0
    flow[4 * i + 2] = radius * (1 + 0.6 * anisotropy)
    flow[4 * i + 3] = radius / (1 + 0.6 * anisotropy)
  }
  return at
}

/** A plane through one filter across and down. */
function smoothed(
  plane: Float32Array,
  across: number,
  width: number,
  height: number,
  weights: readonly number[],
): Float32Array {
  const sum = weights.reduce((a, b) => a + b, 0)
  const rows = height + weights.length - 1
  const middle = new Float32Array(width * rows)
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < width; x++) {
      let v = 0
      for (let k = 0; k < weights.length; k++) v += weights[k] * plane[y * across + x + k]
      middle[y * width + x] = v / sum
    }
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = 0
      for (let k = 0; k < weights.length; k++) v += weights[k] * middle[(y + k) * width + x]
      out[y * width + x] = v / sum
    }
  return out
}
