import { inBlocks, TILE, TILE_PIXELS, WEIGHT_TILE_BYTES } from '../../picture/tile-form'
import { shotMapWindow } from '../shot-map-window'
import { EMPTY, type KeptTile } from './kept-tiles'
import type { MapStep, MaskStep, Source } from './plan-sheet'
import { tileNumber, type Workbench } from './workbench'

/** Writes a tile of what a layer alone shows through its mask: premultiplied display values, blocks of f32. */
export type ReadLayer = (source: Source, mask: MaskStep | null, tx: number, ty: number, to: number) => void

/** Makes and keeps the tiles of maps: an f32 a pixel, row after row. */
export class MapTiles {
  constructor(
    private readonly bench: Workbench,
    private readonly readLayer: ReadLayer,
  ) {}

  tile(step: MapStep, tx: number, ty: number): KeptTile {
    const { bench } = this
    const key = bench.key('map', step.key)
    return bench.tiles.obtain(key, tileNumber(tx, ty), WEIGHT_TILE_BYTES, (address) => {
      const plane = this.made(step, tx, ty)
      if (!plane) return EMPTY
      bench.tiles.floats(address, TILE_PIXELS).set(plane)
      return 0
    })
  }

  /** Numbers of a tile, TILE to a row; null where there is nothing to make them from. */
  private made({ request, layer }: MapStep, tx: number, ty: number): Float32Array | null {
    const { bench } = this
    const plane = new Float32Array(TILE_PIXELS)
    if (request.from === 'shot') {
      const target = bench.target(tx, ty)
      const found = shotMapWindow(request, target, bench.planned.sheet.shotId)
      if (!found) return null
      const { width, height } = target.window
      for (let y = 0; y < height; y++) plane.set(found.subarray(y * width, (y + 1) * width), y * TILE)
      return plane
    }
    if (!layer) return null
    const room = bench.room()
    this.readLayer(layer.source, layer.mask, tx, ty, room)
    const blocks = bench.tiles.floats(room, 4 * TILE_PIXELS)
    for (let i = 0; i < TILE_PIXELS; i++) {
      const at = inBlocks(i, 0)
      const alpha = blocks[at + 12]
      if (request.measure === 'alpha') plane[i] = alpha
      // What is not there is black.
      else plane[i] = 0.3 * blocks[at] + 0.59 * blocks[at + 4] + 0.11 * blocks[at + 8]
    }
    bench.release(room)
    return plane
  }
}
