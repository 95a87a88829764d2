import type { SheetPlan } from './sheet-plan'

/** Tiles of other sheets that layers show. */
export interface SheetTiles {
  /** A tile of a planned sheet: premultiplied display values, blocks of f32. @param use is given its address. */
  readonly tile: (
    name: string,
    plan: SheetPlan,
    tx: number,
    ty: number,
    use: (address: number) => void,
  ) => void
}
