import { cloudGrains, fibres, type TextureStyle } from './texture-style'

/** Soft paper: clouded pulp with short fibres in several directions. */
export const paperFibre: TextureStyle = {
  kind: 'paperFibre',
  label: 'Paper fibre',
  tone: (place) =>
    0.5 +
    0.5 * (cloudGrains(place, 12, 5, 1) - 0.5) +
    0.35 * (cloudGrains(place, 160, 2, 2) - 0.5) +
    0.3 * (fibres(place, 1, 0, 40, 220, 3) - 0.5) +
    0.3 * (fibres(place, 1, 2, 16, 100, 4) - 0.5) +
    0.3 * (fibres(place, 2, -1, 16, 100, 5) - 0.5),
}
