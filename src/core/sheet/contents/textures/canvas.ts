import { grains, type TextureStyle } from './texture-style'

/** Threads over and under each other. */
export const canvas: TextureStyle = {
  kind: 'canvas',
  label: 'Canvas',
  tone(place) {
    const threads = 96
    const [u, v] = [threads * place.x, threads * place.y]
    const over = (Math.floor(u) + Math.floor(v)) % 2 === 0
    const [fu, fv] = [u - Math.floor(u), v - Math.floor(v)]
    // A thread is round across and rises along where it goes over.
    const [across, along] = over ? [fv, fu] : [fu, fv]
    const round = Math.sin(Math.PI * across)
    const high = Math.sin(Math.PI * along)
    const fine = Math.min(1, Math.max(0, place.pixels / threads / 2 - 0.5))
    const own = grains(place, over ? 8 : threads, over ? threads : 8, 3) - 0.5
    return (
      0.5 +
      fine * (0.5 * round * (0.45 + 0.55 * high) - 0.26) +
      0.3 * own +
      0.15 * (grains(place, 24, 24, 4) - 0.5)
    )
  },
}
