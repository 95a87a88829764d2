import { cellNumber, cloudGrains, grains, type TextureStyle, type TilePlace } from './texture-style'

/**
 * Crumpled paper of facets: each leans its own way, and where two meet there is a worn ridge. Facets are the cells about strewn
 * points (Worley 1996), so that ridges are straight.
 */
function facets({ x, y, seed }: TilePlace, cells: number, own: number): number {
  const [cx, cy] = [Math.floor(x * cells), Math.floor(y * cells)]
  let nearest = Infinity
  let second = Infinity
  let lean = 0
  for (let j = cy - 1; j <= cy + 1; j++)
    for (let i = cx - 1; i <= cx + 1; i++) {
      const dx = x * cells - i - cellNumber(i, j, cells, seed + own)
      const dy = y * cells - j - cellNumber(i, j, cells, seed + own + 1)
      const far = dx * dx + dy * dy
      if (far < nearest) {
        second = nearest
        nearest = far
        const turn = 2 * Math.PI * cellNumber(i, j, cells, seed + own + 2)
        // How much light a facet gets, and that it is bowed a little.
        lean = 0.5 * Math.cos(turn) + 0.5 * (dx * Math.cos(turn) + dy * Math.sin(turn))
      } else if (far < second) second = far
    }
  const ridge = Math.sqrt(second) - Math.sqrt(nearest)
  return 0.17 * lean + 0.3 * Math.exp(-ridge * 26) - 0.1 * Math.exp(-ridge * 7)
}

/** A sheet that was folded and crumpled: folds across and down, facets between them. */
export const creases: TextureStyle = {
  kind: 'creases',
  label: 'Creases',
  tone(place) {
    const { x, y } = place
    // Folds at the quarters, pale where the surface broke, with a light and a dark side.
    const fold = (v: number, own: number) => {
      const wander = 0.005 * (grains(place, 9, 9, own) - 0.5)
      const off = v + wander - Math.round(2 * (v + wander)) / 2
      return 0.3 * Math.exp(-((off * 260) ** 2)) + 2.4 * off * Math.exp(-((off * 32) ** 2))
    }
    // Ridges do not run quite straight.
    const bent = {
      ...place,
      x: x + 0.012 * (grains(place, 10, 10, 31) - 0.5),
      y: y + 0.012 * (grains(place, 10, 10, 32) - 0.5),
    }
    return (
      0.5 +
      fold(x + 0.25, 21) +
      fold(y + 0.25, 22) +
      facets(bent, 4, 1) +
      0.55 * facets(bent, 9, 5) +
      0.14 * (cloudGrains(place, 40, 4, 4) - 0.5)
    )
  },
}
