import { FLOAT_TILE_BYTES, inBlocks, KEPT_TILE_BYTES, TILE, TILE_PIXELS } from '../picture/tile-form'
import type { KeptTiles } from '../sheet/evaluate/kept-tiles'
import { planLayer, planSheet } from '../sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '../sheet/evaluate/sheet-evaluator'
import type { RenderSize, SheetResources } from '../sheet/sheet-resources'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { placeName } from './paint-grid'

/** The most tiles that stay in memory. */
const MOST = 200

/** What a stroke that clones paints with: a picture as it was when the stroke began, moved. */
export class CloneSource {
  private readonly evaluator: SheetEvaluator
  private readonly read: (tx: number, ty: number, use: (address: number) => void) => void
  /** Tiles of the picture that were looked at last, by their places. */
  private readonly kept = new Map<string, number>()
  private readonly rows: number
  private readonly blocks: number

  /**
   * @param of a layer's id, which is then seen alone through its mask; null: the whole sheet.
   * @param size of the pixels that are painted. @param dx, dy where what is painted comes from, in those pixels.
   */
  constructor(
    private readonly tiles: KeptTiles,
    resources: SheetResources,
    sheet: Sheet,
    of: string | null,
    private readonly size: RenderSize,
    private readonly dx: number,
    private readonly dy: number,
  ) {
    this.evaluator = new SheetEvaluator(tiles, resources)
    const { evaluator } = this
    const node = of === null ? null : ((sheet.nodes[of] as SheetNode | undefined) ?? null)
    const layer = node && planLayer(node, sheet, { size }, resources)
    const plan = planSheet(of === null ? sheet : { ...sheet, roots: [] }, { size }, resources)
    evaluator.begin(plan, 'clone')
    this.read = layer
      ? (tx, ty, use) => evaluator.layerTile(layer.source, layer.mask, tx, ty, use)
      : (tx, ty, use) => evaluator.tile(tx, ty, use)
    this.rows = tiles.take(FLOAT_TILE_BYTES)
    this.blocks = tiles.take(FLOAT_TILE_BYTES)
  }

  /** What lies where a tile is painted from: premultiplied, blocks of f32; good until it is asked again. */
  at(tx: number, ty: number): number {
    const { tiles, rows, blocks } = this
    const [left, top] = [tx * TILE + this.dx, ty * TILE + this.dy]
    tiles.bytes(rows, FLOAT_TILE_BYTES).fill(0)
    for (let y = Math.floor(top / TILE); y * TILE < top + TILE; y++)
      for (let x = Math.floor(left / TILE); x * TILE < left + TILE; x++) {
        const address = this.tile(x, y)
        if (address !== 0) tiles.kernel.gatherKept(address, rows, TILE, TILE, x * TILE - left, y * TILE - top)
      }
    tiles.kernel.rowsToBlocks(rows, blocks, TILE_PIXELS)
    return blocks
  }

  close(): void {
    for (const address of this.kept.values()) this.tiles.giveBack(address, KEPT_TILE_BYTES)
    this.kept.clear()
    this.tiles.giveBack(this.rows, FLOAT_TILE_BYTES)
    this.tiles.giveBack(this.blocks, FLOAT_TILE_BYTES)
  }

  private tile(tx: number, ty: number): number {
    const { tiles, size } = this
    const [width, height] = [size.width - tx * TILE, size.height - ty * TILE]
    if (tx < 0 || ty < 0 || width <= 0 || height <= 0) return 0
    const place = placeName(tx, ty)
    const known = this.kept.get(place)
    if (known !== undefined) return known
    const address = tiles.take(KEPT_TILE_BYTES)
    this.read(tx, ty, (made) => {
      tiles.kernel.straighten(made, this.blocks, TILE_PIXELS)
      tiles.kernel.keep(this.blocks, address, TILE_PIXELS)
    })
    this.clearBeyond(address, width, height)
    this.kept.set(place, address)
    for (const [old, at] of this.kept) {
      if (this.kept.size <= MOST) break
      tiles.giveBack(at, KEPT_TILE_BYTES)
      this.kept.delete(old)
    }
    return address
  }

  private clearBeyond(kept: number, width: number, height: number): void {
    if (width >= TILE && height >= TILE) return
    const words = new Uint16Array(this.tiles.memory.buffer, kept, 4 * TILE_PIXELS)
    for (let y = 0; y < TILE; y++)
      for (let x = y < height ? Math.min(TILE, width) : 0; x < TILE; x++)
        for (let c = 0; c < 4; c++) words[inBlocks(y * TILE + x, c)] = 0
  }
}
