import { gridNoise } from '../../math/noise'
import { disc, type TipKind } from './tip-kind'

const DROPS = 22

/** Drops about the middle, fewer and smaller towards the rim. */
export const spatter: TipKind = {
  kind: 'spatter',
  label: 'Spatter',
  summary: 'Drops thrown about the way.',
  brush: { spacing: 0.5, flow: 1, jitterAngle: 1, jitterSize: 0.5, scatter: 0.4, leastSize: 1 },
  touches(x, y, seed, fine) {
    let most = 0
    for (let i = 0; i < DROPS; i++) {
      const far = 0.9 * gridNoise(i, 1, seed) ** 0.7
      const turn = 2 * Math.PI * gridNoise(i, 2, seed)
      const radius = 0.02 + 0.1 * gridNoise(i, 3, seed) ** 3 * (1.2 - far)
      most = Math.max(most, disc(x - far * Math.cos(turn), y - far * Math.sin(turn), radius, fine))
    }
    return most
  },
}
