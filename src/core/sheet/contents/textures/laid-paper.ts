import { cloudGrains, grains, type TextureStyle } from './texture-style'

/** Laid paper: close lines of the mould's wires across, chains down it. */
export const laidPaper: TextureStyle = {
  kind: 'laidPaper',
  label: 'Laid paper',
  tone(place) {
    const { x, y, pixels } = place
    const wander = 0.12 * (grains(place, 6, 6, 9) - 0.5)
    const fine = Math.min(1, Math.max(0, pixels / 180 - 1))
    const wires = fine * 0.11 * Math.cos(2 * Math.PI * (90 * y + wander))
    const chain = Math.abs((((8 * x + 0.3 * wander) % 1) + 1) % 1) - 0.5
    const chains = -0.1 * Math.exp(-((chain * 46) ** 2))
    return (
      0.5 +
      wires +
      chains +
      0.3 * (cloudGrains(place, 10, 5, 1) - 0.5) +
      0.2 * (grains(place, 300, 300, 2) - 0.5)
    )
  },
}
