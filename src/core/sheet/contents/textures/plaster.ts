import { cloudGrains, type TextureStyle } from './texture-style'

/** A trowelled wall under light from one side: how its height falls off towards the light. */
export const plaster: TextureStyle = {
  kind: 'plaster',
  label: 'Plaster',
  tone(place) {
    const height = (x: number, y: number) => {
      const at = { ...place, x, y }
      const rough = cloudGrains(at, 7, 6, 1)
      return 1 - Math.abs(2 * rough - 1) + 0.25 * cloudGrains(at, 60, 3, 2)
    }
    const step = 0.004
    const slope =
      (height(place.x - step, place.y - step) - height(place.x + step, place.y + step)) / (2 * step)
    return 0.5 + 0.022 * slope + 0.12 * (cloudGrains(place, 4, 3, 5) - 0.5)
  },
}
