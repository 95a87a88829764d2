import { gridNoise } from '../../math/noise'
import type { TipKind } from './tip-kind'

/** Bristles along the tip's width, each with as much paint as it holds. */
export const dryBristle: TipKind = {
  kind: 'dryBristle',
  label: 'Dry bristle',
  summary: 'Streaks that run with the stroke.',
  brush: { spacing: 0.03, flow: 0.5, turns: 'stroke', grain: 'canvas', bite: 0.4, leastSize: 0.6 },
  touches(x, y, seed) {
    // The stroke runs along x: bristles stand side by side along y.
    const bristles = 46
    const at = (0.5 + 0.5 * y) * bristles
    const own = gridNoise(Math.floor(at), 3, seed)
    const round = 1 - (2 * (at - Math.floor(at)) - 1) ** 2
    const depth = 0.16 + 0.12 * gridNoise(Math.floor(at), 7, seed)
    const along = 1 - (x / depth) ** 2
    if (along <= 0 || Math.abs(y) >= 1 || own < 0.34) return 0
    return Math.min(1, 1.6 * round) * Math.min(1, 2 * along) * (0.35 + 0.65 * own) * (1 - y ** 6)
  },
}
