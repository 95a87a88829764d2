import { cellNumber, type TextureStyle } from './texture-style'

const CELLS = 26
const LINES = 9

/** An old plate: white specks and hairs, and thin scratches that run nearly straight. */
export const dustScratches: TextureStyle = {
  kind: 'dustScratches',
  label: 'Dust and scratches',
  tone({ x, y, pixels, seed }) {
    let light = 0
    const soft = 1 / Math.max(1, pixels)
    const [cx, cy] = [Math.floor(x * CELLS), Math.floor(y * CELLS)]
    for (let j = cy - 1; j <= cy + 1; j++)
      for (let i = cx - 1; i <= cx + 1; i++) {
        if (cellNumber(i, j, CELLS, seed) > 0.34) continue
        const px = (i + cellNumber(i, j, CELLS, seed + 1)) / CELLS
        const py = (j + cellNumber(i, j, CELLS, seed + 2)) / CELLS
        const radius = 0.0006 + 0.0022 * cellNumber(i, j, CELLS, seed + 3) ** 4
        const far = Math.hypot(x - px, y - py)
        light = Math.max(light, Math.min(1, Math.max(0, 0.5 + (radius - far) / soft)))
      }
    for (let k = 0; k < LINES; k++) {
      // Whole numbers of turns, so that a scratch goes on in the next tile.
      const lean = Math.round(2 * cellNumber(k, 0, LINES, seed + 11) - 1)
      const start = cellNumber(k, 1, LINES, seed + 12)
      const bow = 0.012 * Math.sin(2 * Math.PI * (y + start))
      const at = x - start - lean * y - bow
      const off = Math.abs(at - Math.round(at))
      const along = Math.sin(2 * Math.PI * (y * (1 + (k % 3)) + cellNumber(k, 2, LINES, seed + 13)))
      const strength = 0.7 * Math.max(0, along - 0.35)
      light = Math.max(light, strength * Math.min(1, Math.max(0, 0.5 + (0.0007 - off) / soft)))
    }
    return light
  },
}
