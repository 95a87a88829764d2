import { z } from 'zod'
import { gridNoise } from '../../math/noise'
import { parseHex } from '../../math/colour'
import { colourParam, numberParam, pointParam } from '../../params'
import { defineContent } from './content-kind'

const schema = z.object({
  source: pointParam({ label: 'Light', default: [0.7, 0.25] }),
  size: numberParam({ label: 'Size', unit: '%', min: 1, max: 200, step: 1, default: 28 }),
  colour: colourParam({ label: 'Colour', default: '#ffd9a0' }),
  strength: numberParam({ label: 'Strength', min: 0, max: 2, step: 0.01, default: 1 }),
  rays: numberParam({ label: 'Rays', min: 0, max: 32, step: 1, default: 10 }),
  ring: numberParam({ label: 'Ring', min: 0, max: 1, step: 0.01, default: 0.35 }),
  ghosts: numberParam({ label: 'Ghosts', min: 0, max: 16, step: 1, default: 6 }),
  seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
})

/** What a strong light leaves in a lens: a glow with rays and a ring, and ghosts of the lens along the line through the middle. */
export const flareContent = defineContent({
  kind: 'flare',
  version: 1,
  label: 'Light flare',
  summary: 'A strong light’s glow, rays and ghosts, placed on the proof.',
  schema,
  shape: schema.shape,
  paint({ source, size, colour, strength, rays, ring, ghosts, seed }, { window, view }) {
    const [r, g, b] = parseHex(colour)
    const [lx, ly] = [source[0] * view.width, source[1] * view.height]
    const unit = (size / 100) * Math.min(view.width, view.height)
    const [mx, my] = [view.width / 2, view.height / 2]
    const whole = Math.round(seed)
    const spots = Array.from({ length: Math.round(ghosts) }, (_, k) => {
      // Behind the middle and before it, each farther than the last.
      const along = -1.6 + (3.1 * (k + 0.3 + 0.5 * gridNoise(k, 0, whole))) / Math.max(1, ghosts)
      const warm = gridNoise(k, 1, whole)
      return {
        x: mx - (lx - mx) * along,
        y: my - (ly - my) * along,
        radius: unit * (0.07 + 0.32 * gridNoise(k, 2, whole) ** 2),
        strength: 0.1 + 0.16 * gridNoise(k, 3, whole),
        rgb: [
          r * (0.6 + 0.4 * warm),
          g * (0.75 + 0.25 * gridNoise(k, 4, whole)),
          b + (1 - b) * (1 - warm) * 0.7,
        ],
      }
    })
    const out = new Float32Array(4 * window.width * window.height)
    for (let y = 0, i = 0; y < window.height; y++)
      for (let x = 0; x < window.width; x++, i += 4) {
        const [px, py] = [window.x + x + 0.5, window.y + y + 0.5]
        const [dx, dy] = [px - lx, py - ly]
        const far = Math.sqrt(dx * dx + dy * dy) / unit
        // 1. A core, and a glow that falls off as scattered light does.
        let glow = Math.exp(-((far * 9) ** 2)) + 0.5 * Math.exp(-far * 4.2)
        // 2. Rays: of many lengths about the light.
        if (rays > 0 && far > 0) {
          const turn = (Math.atan2(dy, dx) / (2 * Math.PI) + 0.5) * Math.round(rays)
          const k = Math.floor(turn)
          const off = Math.abs(turn - k - 0.5) * 2
          const long = 0.35 + 1.1 * gridNoise(k, 7, whole)
          glow += 0.5 * (1 - off) ** 6 * Math.exp((-far * 3) / long)
        }
        // 3. A ring about it.
        glow += 0.35 * ring * Math.exp(-(((far - 0.9) * 16) ** 2))
        const sum = [r * glow, g * glow, b * glow]
        // White where it is brightest.
        const core = Math.exp(-((far * 12) ** 2))
        for (let c = 0; c < 3; c++) sum[c] += core * (1 - sum[c])
        for (const spot of spots) {
          const away = Math.hypot(px - spot.x, py - spot.y) / spot.radius
          if (away > 1.1) continue
          const edge = Math.min(1, Math.max(0, (1.02 - away) * Math.max(2, spot.radius / 3)))
          const own = spot.strength * edge * (0.45 + 0.55 * away * away)
          for (let c = 0; c < 3; c++) sum[c] += own * spot.rgb[c]
        }
        // Light as a picture with an alpha: as bright as its brightest channel is opaque.
        const alpha = Math.min(1, strength * Math.max(sum[0], sum[1], sum[2]))
        if (alpha <= 0) continue
        for (let c = 0; c < 3; c++) out[i + c] = Math.min(1, Math.max(0, (strength * sum[c]) / alpha))
        out[i + 3] = alpha
      }
    return out
  },
})
