import type { PassFacts } from './pass-facts'
import type { FactRules } from './pass-kind'
import type { Tile } from './tile'

/** Which tile shows which material, as one number. */
const touchOf = ({ x, y }: Pick<Tile, 'x' | 'y'>, material: number): number =>
  ((y >> 5) * 512 + (x >> 5)) * 65536 + material
const listOf = ({ touched = [] }: PassFacts): readonly number[] =>
  Array.isArray(touched) ? touched : [touched]

/** What a tile tells of the materials that its pixels show, straight, mirrored or through glass. */
export const touchFacts = (tile: Tile, materials: Iterable<number>): PassFacts => ({
  touched: Array.from(materials, (m) => touchOf(tile, m)),
})

/** Joins them to what is known of the whole picture. */
export const touchRules: FactRules = {
  merge(a, b) {
    // Thousands of tiles are joined one after the other: in place.
    const all = Array.isArray(a.touched) ? a.touched : []
    for (const touch of listOf(b)) all.push(touch)
    return { touched: all }
  },
  // In whatever order tiles came, the same.
  finish: (told) => ({ touched: [...listOf(told)].sort((a, b) => a - b) }),
}

/**
 * How much of a picture its tiles take that show one of some materials, 0…1; null where the pass does not know.
 * @param facts of the pass. @param tileSide of its tiles, pixels.
 */
export function shareShowing(
  facts: PassFacts,
  materials: readonly number[],
  { width, height }: { readonly width: number; readonly height: number },
  tileSide: number,
): number | null {
  const known = listOf(facts)
  if (known.length === 0) return null
  const wanted = new Set(materials)
  const tiles = new Set<number>()
  for (const touch of known) if (wanted.has(touch % 65536)) tiles.add(Math.floor(touch / 65536))
  return tiles.size / (Math.ceil(width / tileSide) * Math.ceil(height / tileSide))
}

/**
 * Whether a tile of a pass shows one of some materials; true where the pass does not know.
 * @param facts of the pass.
 */
export function showsMaterial(facts: PassFacts, materials: readonly number[]): (tile: Tile) => boolean {
  const known = new Set(listOf(facts))
  return (tile) => known.size === 0 || materials.some((m) => known.has(touchOf(tile, m)))
}
