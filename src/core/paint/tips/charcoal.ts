import { cloudNoise } from '../../math/noise'
import { disc, type TipKind } from './tip-kind'

/** A burnt stick held flat: wide, softer to one side. */
export const charcoal: TipKind = {
  kind: 'charcoal',
  label: 'Charcoal',
  summary: 'Wide and dusty, dark on one side.',
  brush: {
    spacing: 0.08,
    flow: 0.4,
    roundness: 0.45,
    grain: 'paper',
    bite: 0.9,
    jitterAngle: 0.06,
    leastSize: 0.6,
  },
  touches(x, y, seed, fine) {
    const face = cloudNoise(7 * x, 16 * y, seed, 3)
    const side = 0.45 + 0.55 * (0.5 + 0.5 * y)
    return disc(x, y, 0.92, fine + 0.06) * side * Math.min(1, Math.max(0, 1.9 * (face - 0.22)))
  },
}
