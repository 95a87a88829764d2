import { cloudNoise } from '../../math/noise'
import { disc, type TipKind } from './tip-kind'

/** A blunt stick: its face is uneven, its rim crumbles. */
export const chalk: TipKind = {
  kind: 'chalk',
  label: 'Chalk',
  summary: 'Dry and broken, with the tooth of the paper.',
  brush: {
    spacing: 0.12,
    flow: 0.62,
    grain: 'chalk',
    bite: 0.85,
    jitterAngle: 1,
    jitterSize: 0.08,
    leastSize: 0.7,
  },
  touches(x, y, seed, fine) {
    const rim = 0.78 + 0.3 * (cloudNoise(3 * x + 9, 3 * y + 9, seed, 2) - 0.5)
    const face = cloudNoise(9 * x, 9 * y, seed + 5, 3)
    return disc(x, y, rim, fine + 0.03) * Math.min(1, Math.max(0, 2.4 * (face - 0.28)))
  },
}
