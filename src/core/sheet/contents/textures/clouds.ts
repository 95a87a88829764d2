import { cloudGrains, type TextureStyle } from './texture-style'

/** Clouds: soft patches of many sizes. */
export const clouds: TextureStyle = {
  kind: 'clouds',
  label: 'Clouds',
  tone: (place) => 0.5 + 1.5 * (cloudGrains(place, 4, 6, 1) - 0.5),
}
