import { z } from 'zod'
import { parseHex } from '../../math/colour'
import { cloudNoise, gridNoise } from '../../math/noise'
import { colourParam, grouped, numberParam, toggleParam } from '../../params'
import type { Tile } from '../../passes/tile'
import { shotMapWindow } from '../shot-map-window'
import { defineContent, type PaintTarget } from './content-kind'

const thousandths = (label: string, max: number, byDefault: number) =>
  numberParam({ label, unit: '‰', min: 0, max, step: 0.1, default: byDefault })

const schema = z.object({
  many: numberParam({
    label: 'Specks a plane',
    min: 1,
    max: 20000,
    step: 1,
    default: 110,
    logarithmic: true,
  }),
  size: numberParam({
    label: 'Size',
    unit: '‰',
    min: 0.2,
    max: 60,
    step: 0.1,
    default: 5,
    logarithmic: true,
  }),
  uneven: numberParam({ label: 'Uneven size', min: 0, max: 1, step: 0.01, default: 0.7 }),
  brightness: numberParam({ label: 'Brightness', min: 0, max: 3, step: 0.01, default: 1.2 }),
  glow: numberParam({ label: 'Glow', min: 0, max: 1, step: 0.01, default: 0.4 }),
  flicker: numberParam({ label: 'Uneven brightness', min: 0, max: 1, step: 0.01, default: 0.7 }),
  colour: colourParam({ label: 'Near colour', default: '#ffe6b8' }),
  farColour: colourParam({ label: 'Far colour', default: '#f4c58a' }),
  clumps: numberParam({ label: 'In clouds', min: 0, max: 1, step: 0.01, default: 0.6 }),
  ...grouped('Drift', {
    drift: thousandths('Drift', 200, 0),
    driftDeg: numberParam({ label: 'Towards', unit: '°', min: -180, max: 180, step: 1, default: 20 }),
  }),
  ...grouped('Depth and focus', {
    planes: numberParam({ label: 'Planes', min: 1, max: 8, step: 1, default: 4 }),
    near: numberParam({ label: 'Nearest at', min: -1, max: 2, step: 0.01, default: -0.6 }),
    far: numberParam({ label: 'Farthest at', min: -1, max: 2, step: 0.01, default: 0.9 }),
    focus: numberParam({ label: 'Sharp at', min: -1, max: 2, step: 0.01, default: 0.35 }),
    aperture: thousandths('Aperture', 100, 14),
    hides: toggleParam({ label: 'What is nearer hides them', default: true }),
  }),
  seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
})

/** How much larger what floats at the subject's nearest point looks than what floats at its farthest. */
const GROWTH = 2.2
/** A disc of this radius, in pixels, is the smallest that is drawn: smaller ones are fainter instead. */
const LEAST_RADIUS = 0.6
/** The most specks of a cell, of which one is there on average: Poisson's distribution cut off there. */
const MOST_OF_CELL = 4
/** A glow reaches so many radii. */
const GLOW_REACH = 4
/** How many clouds lie beside each other across a sheet's height. */
const CLOUDS = 3.2

/** One speck. Pixels of the view. */
interface Speck {
  readonly x: number
  readonly y: number
  readonly depth: number
  readonly radius: number
  /** How soft its rim is. */
  readonly rim: number
  readonly strength: number
  readonly drift: readonly [number, number]
}

type Specks = z.infer<typeof schema>

/**
 * Particles that float in several planes of depth: before parts or hidden by them, and out of focus by how far they are from
 * where it is sharp, as the blur by depth has it.
 */
export const specksContent = defineContent({
  kind: 'specks',
  version: 1,
  label: 'Specks',
  summary: 'Floating particles in several planes of depth, before parts and behind them.',
  schema,
  shape: schema.shape,
  shotPasses: ({ hides }) => (hides ? ['depth'] : []),
  paint(specks, target) {
    const { window } = target
    const count = Math.round(specks.planes)
    const depths = specks.hides ? depthsAbout(target) : null
    const [nearRgb, farRgb] = [parseHex(specks.colour), parseHex(specks.farColour)]
    const out = new Float32Array(4 * window.width * window.height)
    // The farthest first: nearer ones float before it.
    for (let k = count - 1; k >= 0; k--) {
      const share = count === 1 ? 0.5 : k / (count - 1)
      const rgb = nearRgb.map((v, c) => v + (farRgb[c] - v) * share) as [number, number, number]
      for (const speck of specksOf(specks, k, share, target))
        draw(out, window, speck, rgb, specks.glow, depths)
    }
    return straight(out)
  },
})

/** Specks of a plane that may reach into a window, in the order of their cells. */
function specksOf(
  { near, far, planes, many, size, uneven, brightness, flicker, clumps, focus, aperture, ...rest }: Specks,
  plane: number,
  share: number,
  { window, view }: PaintTarget,
): Speck[] {
  const own = Math.round(rest.seed) * 16 + plane
  const cell = Math.sqrt((view.width * view.height) / Math.round(many))
  const angle = (rest.driftDeg * Math.PI) / 180
  // Within its plane each floats where it will.
  const apart = planes > 1 ? (far - near) / (planes - 1) : far - near
  const nearest = near + (far - near) * share - apart / 2
  const perMille = view.height / 1000
  const growthAt = (depth: number) => GROWTH ** (0.5 - depth)
  const widest = Math.max(Math.abs(nearest - focus), Math.abs(nearest + apart - focus))
  const most = growthAt(Math.min(nearest, nearest + apart)) * perMille
  const reach = GLOW_REACH * (size * most + aperture * perMille * widest) + rest.drift * most + 2
  const found: Speck[] = []
  const last = (to: number) => Math.floor((to + reach) / cell)
  for (let cy = Math.floor((window.y - reach) / cell); cy <= last(window.y + window.height); cy++)
    for (let cx = Math.floor((window.x - reach) / cell); cx <= last(window.x + window.width); cx++) {
      const there = poisson(gridNoise(cx, cy, own + 1013))
      for (let n = 0; n < there; n++) {
        const chance = (what: number) => gridNoise(cx, cy, own + 4001 + 1013 * (8 * n + what))
        const depth = nearest + apart * chance(0)
        const growth = growthAt(depth) * perMille
        // Many small ones, few large ones.
        const sharp = (size / 2) * growth * (1 - uneven * (1 - 1.9 * chance(1) ** 3))
        const blur = aperture * perMille * Math.abs(depth - focus)
        const wide = Math.hypot(sharp, blur)
        const [x, y] = [(cx + chance(2)) * cell, (cy + chance(3)) * cell]
        const cloud = cloudNoise((x / view.height) * CLOUDS + 40, (y / view.height) * CLOUDS + 40, own, 3)
        const gathered = 1 - clumps * (1 - Math.min(1, Math.max(0, 3.2 * (cloud - 0.36))))
        const drift = rest.drift * growth
        // Light that is spread over a wider disc, or along its way, is fainter.
        const spread = (sharp / wide) ** 1.2 * Math.sqrt(wide / (wide + drift))
        const drawn = Math.max(LEAST_RADIUS, wide)
        const strength =
          brightness * (1 - flicker * chance(4) ** 0.7) * gathered * spread * (wide / drawn) ** 2
        if (strength < 0.004) continue
        found.push({
          ...{ x, y, depth, strength },
          radius: drawn,
          rim: Math.max(0.5, Math.min(drawn, 0.7 * sharp + 0.16 * blur)),
          drift: [drift * Math.cos(angle), -drift * Math.sin(angle)],
        })
      }
    }
  return found
}

/** How many there are, one on average. @param chance 0…1. */
function poisson(chance: number): number {
  let [count, weight, sum] = [0, Math.exp(-1), Math.exp(-1)]
  while (chance > sum && count < MOST_OF_CELL) {
    count++
    weight /= count
    sum += weight
  }
  return count
}

/** Lays a speck over premultiplied pixels of a window. @param depths see {@link depthsAbout}. */
function draw(
  out: Float32Array,
  window: Tile,
  { x, y, depth, radius, rim, strength, drift: [dx, dy] }: Speck,
  rgb: readonly [number, number, number],
  glow: number,
  depths: Float32Array | null,
): void {
  const reach = glow > 0 ? Math.max(GLOW_REACH * radius, radius + rim + 1) : radius + rim + 1
  const [hx, hy] = [dx / 2, dy / 2]
  const left = Math.max(0, Math.floor(x - Math.abs(hx) - reach - window.x))
  const right = Math.min(window.width - 1, Math.ceil(x + Math.abs(hx) + reach - window.x))
  const top = Math.max(0, Math.floor(y - Math.abs(hy) - reach - window.y))
  const bottom = Math.min(window.height - 1, Math.ceil(y + Math.abs(hy) + reach - window.y))
  const long = dx * dx + dy * dy
  for (let py = top; py <= bottom; py++)
    for (let px = left; px <= right; px++) {
      const [ax, ay] = [window.x + px + 0.5 - x, window.y + py + 0.5 - y]
      // From the way it drifted while it was seen.
      const along = long > 0 ? Math.min(0.5, Math.max(-0.5, (ax * dx + ay * dy) / long)) : 0
      const away = Math.hypot(ax - along * dx, ay - along * dy)
      const t = Math.min(1, Math.max(0, 0.5 + (radius - away) / (2 * rim)))
      const u = glow > 0 ? Math.max(0, 1 - away / (GLOW_REACH * radius)) : 0
      const light = t * t * (3 - 2 * t) + 0.3 * glow * u * u * u
      if (light === 0) continue
      const i = py * window.width + px
      const alpha = Math.min(1, strength * light) * (depths ? openAt(depths, window, px, py, depth) : 1)
      if (alpha <= 0) continue
      for (let c = 0; c < 3; c++) out[4 * i + c] = rgb[c] * alpha + out[4 * i + c] * (1 - alpha)
      out[4 * i + 3] = alpha + out[4 * i + 3] * (1 - alpha)
    }
}

/** Depth of a window and a pixel about it; null without a depth pass. */
function depthsAbout(target: PaintTarget): Float32Array | null {
  const { x, y, width, height } = target.window
  const window = { x: x - 1, y: y - 1, width: width + 2, height: height + 2 }
  return shotMapWindow({ from: 'shot', map: 'depth', id: '' }, { ...target, window }, target.sheet.shotId)
}

/** How much of a pixel lies open before a depth: soft over a pixel, so that nothing is cut off in steps. */
function openAt(depths: Float32Array, { width }: Tile, x: number, y: number, depth: number): number {
  const row = width + 2
  const at = (y + 1) * row + x + 1
  // What hides the pixel's middle hides it: only its border is shared.
  if (depths[at] < depth) return 0
  let sum = 0
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++)
      if (depths[at + dy * row + dx] >= depth) sum += (2 - Math.abs(dx)) * (2 - Math.abs(dy))
  return sum / 16
}

/** From premultiplied pixels. */
function straight(pixels: Float32Array): Float32Array {
  for (let i = 0; i < pixels.length; i += 4) {
    const alpha = pixels[i + 3]
    if (alpha > 0) for (let c = 0; c < 3; c++) pixels[i + c] = Math.min(1, pixels[i + c] / alpha)
  }
  return pixels
}
