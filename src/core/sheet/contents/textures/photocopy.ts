import { cloudGrains, grains, type TextureStyle } from './texture-style'

/** Toner: black specks on white, thicker in patches, with faint bands of the drum. */
export const photocopy: TextureStyle = {
  kind: 'photocopy',
  label: 'Photocopy',
  tone(place) {
    const patches = cloudGrains(place, 5, 4, 1)
    const speck = 0.7 * grains(place, 230, 230, 2) + 0.3 * grains(place, 420, 420, 4)
    const limit = 0.86 - 0.42 * Math.max(0, patches - 0.42)
    const bands = 0.05 * (grains(place, 1, 40, 3) - 0.5)
    const soft = 0.05 + 4 / Math.max(1, place.pixels)
    return 0.86 + bands - 0.86 * Math.min(1, Math.max(0, 0.5 + (speck - limit) / soft))
  },
}
