import { z } from 'zod'
import { parseHex } from '../../math/colour'
import { choiceParam, colourParam, numberParam, toggleParam } from '../../params'
import { defineContent } from './content-kind'
import { findTexture, textureLabels } from './textures/registry'

const schema = z.object({
  style: choiceParam({ label: 'Texture', options: textureLabels, default: 'paperFibre' }),
  size: numberParam({
    label: 'Tile',
    unit: 'px',
    min: 64,
    max: 8192,
    step: 1,
    default: 900,
    logarithmic: true,
  }),
  strength: numberParam({ label: 'Strength', min: 0, max: 3, step: 0.01, default: 1 }),
  turnDeg: numberParam({ label: 'Turned', unit: '°', min: -180, max: 180, step: 1, default: 0 }),
  dark: colourParam({ label: 'Dark', default: '#6f675c' }),
  light: colourParam({ label: 'Light', default: '#ffffff' }),
  clear: toggleParam({ label: 'Light is clear', default: false }),
  seed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
})

/** A texture that is worked out, not photographed: seeded, of any size, its tiles meet without a seam. */
export const textureContent = defineContent({
  kind: 'texture',
  version: 1,
  label: 'Texture',
  summary: 'Paper, canvas, plaster and more, worked out at any size.',
  schema,
  shape: schema.shape,
  paint({ style, size, strength, turnDeg, dark, light, clear, seed }, { window, view, sheet }) {
    const found = findTexture(style)
    if (!found) return null
    const scale = view.width / sheet.width
    const pixels = size * scale
    const angle = (turnDeg * Math.PI) / 180
    const [cos, sin] = [Math.cos(angle) / size, Math.sin(angle) / size]
    const [a, b] = [parseHex(dark), parseHex(light)]
    const out = new Float32Array(4 * window.width * window.height)
    const whole = Math.round(seed)
    for (let y = 0, i = 0; y < window.height; y++)
      for (let x = 0; x < window.width; x++, i += 4) {
        // From the sheet's middle, so that it grows about it.
        const sx = (window.x + x + 0.5) / scale - sheet.width / 2
        const sy = (window.y + y + 0.5) / scale - sheet.height / 2
        const u = cos * sx + sin * sy
        const v = cos * sy - sin * sx
        const tone = found.tone({ x: u - Math.floor(u), y: v - Math.floor(v), pixels, seed: whole })
        const t = Math.min(1, Math.max(0, 0.5 + strength * (tone - 0.5)))
        if (clear) {
          out.set([a[0], a[1], a[2], 1 - t], i)
          continue
        }
        for (let c = 0; c < 3; c++) out[i + c] = a[c] + (b[c] - a[c]) * t
        out[i + 3] = 1
      }
    return out
  },
})
