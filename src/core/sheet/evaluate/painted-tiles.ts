import { hashText } from '../../math/stable-hash'
import { LAYER_TILE_BYTES, MASK_TILE_BYTES } from '../../paint/cut-paint'
import { liveAddress, placeName, regionName, type PaintGrid } from '../../paint/paint-grid'
import { KEPT_TILE_BYTES, TILE, TILE_PIXELS } from '../../picture/tile-form'
import { EMPTY, type KeptTile, type StepKey } from './kept-tiles'
import { tileNumber, type Workbench } from './workbench'

const CLEAR: KeptTile = { address: 0, flags: EMPTY }

/** Makes tiles of painted layers: their own tiles where the view is as large as they are, means of them where it is smaller. */
export class PaintedTiles {
  constructor(private readonly bench: Workbench) {}

  /**
   * A tile of the view, straight, 16 bits.
   * @param address where it is written, where it is none of the grid's own.
   * @returns its flags.
   */
  make(grid: PaintGrid, tx: number, ty: number, address: number): number {
    const { bench } = this
    const { kernel, tiles } = bench
    const { width, height } = bench.planned.size
    if (width === grid.width && height === grid.height) {
      const own = this.stored(grid, tx, ty, false)
      if (own.flags & EMPTY) return EMPTY
      tiles.bytes(address, KEPT_TILE_BYTES).set(tiles.bytes(own.address, KEPT_TILE_BYTES))
      return own.flags
    }
    // 1. The level of means whose pixels are about as large as the view's.
    const level = Math.max(0, Math.round(Math.log2(grid.width / width)))
    const shrunk = 2 ** level
    const stepX = grid.width / width / shrunk
    const stepY = grid.height / height / shrunk
    const [across, down] = [Math.ceil(grid.width / shrunk), Math.ceil(grid.height / shrunk)]
    // 2. What of it lies about the tile.
    const place = (at: number, step: number) => (at + 0.5) * step - 0.5
    const last = bench.lastOf(tx, ty)
    const cut = (v: number, most: number) => Math.min(most - 1, Math.max(0, v))
    const left = cut(Math.floor(place(tx * TILE, stepX)), across)
    const top = cut(Math.floor(place(ty * TILE, stepY)), down)
    const right = cut(Math.ceil(place(tx * TILE + last.x, stepX)), across) + 1
    const bottom = cut(Math.ceil(place(ty * TILE + last.y, stepY)), down) + 1
    const [columns, rows] = [right - left, bottom - top]
    const bytes = 16 * columns * rows
    const region = tiles.take(bytes)
    try {
      if (!this.gather(grid, level, { left, top, right, bottom }, region)) return EMPTY
      // 3. Straight lines between its pixels.
      const made = bench.room()
      const [x0, y0] = [place(tx * TILE, stepX) - left, place(ty * TILE, stepY) - top]
      kernel.sampleRows(region, columns, rows, made, TILE, x0, y0, stepX, stepY)
      kernel.straighten(made, made, TILE_PIXELS)
      kernel.keep(made, address, TILE_PIXELS)
      bench.release(made)
    } finally {
      tiles.giveBack(region, bytes)
    }
    return kernel.keptFlags(address, TILE_PIXELS)
  }

  /** Premultiplied rows of a part of a level. @returns whether anything is in it. */
  private gather(
    grid: PaintGrid,
    level: number,
    { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number },
    region: number,
  ): boolean {
    const { bench } = this
    const { kernel, tiles } = bench
    const columns = right - left
    let isAny = false
    tiles.bytes(region, 16 * columns * (bottom - top)).fill(0)
    for (let ty = Math.floor(top / TILE); ty * TILE < bottom; ty++)
      for (let tx = Math.floor(left / TILE); tx * TILE < right; tx++) {
        const own = this.tile(grid, tx, ty, level)
        if (own.flags & EMPTY) continue
        isAny = true
        const [blocks, rows] = [bench.room(), bench.room()]
        kernel.open(own.address, blocks, TILE_PIXELS)
        kernel.premultiply(blocks, blocks, TILE_PIXELS)
        kernel.blocksToRows(blocks, rows, TILE_PIXELS)
        const x0 = Math.max(left, tx * TILE)
        const x1 = Math.min(right, (tx + 1) * TILE)
        for (let y = Math.max(top, ty * TILE); y < Math.min(bottom, (ty + 1) * TILE); y++) {
          const from = rows + 16 * ((y - ty * TILE) * TILE + x0 - tx * TILE)
          const to = region + 16 * ((y - top) * columns + x0 - left)
          tiles.bytes(to, 16 * (x1 - x0)).set(tiles.bytes(from, 16 * (x1 - x0)))
        }
        bench.release(blocks, rows)
      }
    return isAny
  }

  /** A tile of the grid, or of means of 2^level pixels on each axis. */
  private tile(grid: PaintGrid, tx: number, ty: number, level: number): KeptTile {
    return level === 0 ? this.stored(grid, tx, ty, false) : this.means(grid, tx, ty, level)
  }

  /** A tile of the grid as it is stored. @param isMask a layer's is blocks of RGBA, a mask's a number a pixel: unorm16 both. */
  stored(grid: PaintGrid, tx: number, ty: number, isMask: boolean): KeptTile {
    const { tiles, resources } = this.bench
    const bytes = isMask ? MASK_TILE_BYTES : LAYER_TILE_BYTES
    const name = grid.tiles[placeName(tx, ty)] as string | undefined
    if (name === undefined) return CLEAR
    const live = liveAddress(name)
    if (live !== null) return { address: live, flags: 0 }
    return tiles.obtain(
      this.bench.key(isMask ? 'mask paint' : 'paint', hashText(name)),
      0,
      bytes,
      (address) => {
        const words = resources.paintTile(name)
        // What is gone from the storage shows nothing: the layer's card says so.
        if (words?.byteLength !== bytes) return EMPTY
        new Uint16Array(tiles.memory.buffer, address, words.length).set(words)
        return isMask ? 0 : this.bench.kernel.keptFlags(address, TILE_PIXELS)
      },
    )
  }

  private means(grid: PaintGrid, tx: number, ty: number, level: number): KeptTile {
    const { bench } = this
    const { kernel, tiles } = bench
    const side = TILE * 2 ** level
    const painted = regionName(grid, tx * side, ty * side, (tx + 1) * side, (ty + 1) * side)
    const salt = bench.key(`paint by ${level}`, hashText(`${grid.width} ${grid.height}`))
    const key: StepKey = { a: painted.a ^ salt.a, b: painted.b ^ salt.b }
    return tiles.obtain(key, tileNumber(tx, ty), KEPT_TILE_BYTES, (address) => {
      tiles.bytes(address, KEPT_TILE_BYTES).fill(0)
      let isAny = false
      for (const y of [0, 1])
        for (const x of [0, 1]) {
          const part = this.tile(grid, 2 * tx + x, 2 * ty + y, level - 1)
          if (part.flags & EMPTY) continue
          kernel.halve(part.address, address, x, y)
          isAny = true
        }
      return isAny ? kernel.keptFlags(address, TILE_PIXELS) : EMPTY
    })
  }
}
