import type { PaintGrid } from './paint-grid'

/** Something painted that a step of a picture is made from, and how far about a pixel it looks at it. Pixels of the view. */
export interface PaintUse {
  readonly grid: PaintGrid
  readonly reach: number
}
export type PaintUses = readonly PaintUse[]
export const NO_PAINT: PaintUses = []

/** All that several things are made from. */
export function bothUses(...all: readonly PaintUses[]): PaintUses {
  const some = all.filter((uses) => uses.length > 0)
  if (some.length <= 1) return some[0] ?? NO_PAINT
  return [...new Set(some.flat())]
}

const grown = new WeakMap<PaintUse, Map<number, PaintUse>>()

/** The same, looked at from farther about. Equal ones are one object: what is worked out of it is worked out once. */
export function reachingUses(uses: PaintUses, reach: number): PaintUses {
  if (reach <= 0 || uses.length === 0) return uses
  return uses.map((use) => {
    let known = grown.get(use)
    if (!known) grown.set(use, (known = new Map()))
    let made = known.get(reach)
    if (!made) known.set(reach, (made = { grid: use.grid, reach: use.reach + reach }))
    return made
  })
}

const first = new WeakMap<PaintGrid['tiles'], PaintUse>()

/** The use of a grid by itself. */
export function paintUse(grid: PaintGrid): PaintUse {
  let made = first.get(grid.tiles)
  if (made?.grid.width !== grid.width || made.grid.height !== grid.height)
    first.set(grid.tiles, (made = { grid, reach: 0 }))
  return made
}
