import { cloudNoise, smoothNoise } from '../../math/noise'
import { disc, type TipKind } from './tip-kind'

/** Holes of many sizes. */
export const sponge: TipKind = {
  kind: 'sponge',
  label: 'Sponge',
  summary: 'Dabbed, full of holes.',
  brush: { spacing: 0.55, flow: 0.7, jitterAngle: 1, jitterSize: 0.2, scatter: 0.15, leastSize: 0.8 },
  touches(x, y, seed, fine) {
    const rim = 0.8 + 0.35 * (smoothNoise(2.5 * x + 5, 2.5 * y + 5, seed) - 0.5)
    const holes = cloudNoise(8 * x, 8 * y, seed + 3, 3)
    return disc(x, y, rim, fine + 0.02) * Math.min(1, Math.max(0, 6 * (holes - 0.46)))
  },
}
