import { cloudNoise } from '../../math/noise'
import type { TipKind } from './tip-kind'

/** A wide dry brush that leaves paint on what stands up only. */
export const canvasDrag: TipKind = {
  kind: 'canvasDrag',
  label: 'Canvas drag',
  summary: 'Paint caught by the threads of a canvas.',
  brush: {
    spacing: 0.05,
    flow: 0.35,
    roundness: 0.7,
    turns: 'stroke',
    grain: 'canvas',
    bite: 1,
    leastSize: 0.8,
  },
  touches(x, y, seed) {
    const edge = 1 - Math.max(Math.abs(x) ** 4, Math.abs(y) ** 4)
    if (Math.abs(x) >= 1 || Math.abs(y) >= 1) return 0
    return Math.max(0, edge) * Math.min(1, Math.max(0, 1.5 * (cloudNoise(3 * x, 12 * y, seed, 2) - 0.12)))
  },
}
