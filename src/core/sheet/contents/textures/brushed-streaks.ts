import { grains, type TextureStyle } from './texture-style'

/** Long streaks in one direction, as a dry brush or a metal brush leaves them. */
export const brushedStreaks: TextureStyle = {
  kind: 'brushedStreaks',
  label: 'Brushed streaks',
  tone: (place) =>
    0.5 +
    0.5 * (grains(place, 3, 120, 1) - 0.5) +
    0.4 * (grains(place, 5, 320, 2) - 0.5) +
    0.35 * (grains(place, 2, 24, 3) - 0.5),
}
