import { MOST_REACH, type EffectWork } from '../../effects/effect-kind'
import { TILE, TILE_PIXELS } from '../../picture/tile-form'
import { gatherCells, type TileInput } from './blur-tile'
import { EMPTY } from './kept-tiles'
import type { MapTiles } from './map-tiles'
import type { MapStep } from './sheet-plan'
import type { Workbench } from './workbench'

/**
 * A tile of an effect that looks about each pixel. One that looks farther than memory allows, as in a picture that is seen
 * many times enlarged, is worked out from means of d × d pixels.
 * @param to premultiplied blocks of f32.
 */
export function areaTile(
  bench: Workbench,
  maps: MapTiles,
  input: TileInput,
  work: Extract<EffectWork, { by: 'area' }>,
  asked: readonly MapStep[],
  tx: number,
  ty: number,
  to: number,
): void {
  const { tiles, kernel } = bench
  const { scale, size, isDraft } = bench.planned
  // 1. How finely: a pixel at a time, if that can be.
  let d = isDraft && work.isHeavy ? 2 : 1
  const viewAt = (cell: number) => ({ width: size.width / cell, height: size.height / cell })
  const reachAt = (cell: number) => Math.max(0, Math.ceil(work.reach(scale / cell, viewAt(cell))))
  while (d < TILE && reachAt(d) > MOST_REACH) d *= 2
  const reach = Math.min(MOST_REACH, reachAt(d))
  // 2. What lies about the tile; of cells, one more on every side: straight lines are drawn between them.
  const margin = d === 1 ? 0 : 1
  const own = TILE / d
  const made = own + 2 * margin
  const side = made + 2 * reach
  const sizes = [16 * side * side, 16 * made * made, 16 * made]
  const rooms = sizes.map((bytes) => tiles.take(bytes))
  const [inputAt, outAt, line] = rooms
  const more: { readonly at: number; readonly bytes: number }[] = []
  try {
    gatherCells(bench, input, d, { tx, ty, first: -margin - reach, side }, inputAt)
    const planes = asked.map((step) =>
      gatherMap(bench, maps, step, d, {
        x: tx * own - margin - reach,
        y: ty * own - margin - reach,
        side,
      }),
    )
    // 3. The effect itself.
    work.apply({
      window: { x: tx * own - margin, y: ty * own - margin, width: made, height: made },
      view: viewAt(d),
      scale: scale / d,
      reach,
      input: inputAt,
      out: outAt,
      kernel,
      room: (bytes) => {
        const at = tiles.take(bytes)
        more.push({ at, bytes })
        return at
      },
      numbers: (address, length) => tiles.floats(address, length),
      map: (index) => planes[index],
    })
    if (d === 1) kernel.rowsToBlocks(outAt, to, TILE_PIXELS)
    else kernel.grow(outAt, to, d, line)
  } finally {
    rooms.forEach((at, i) => tiles.giveBack(at, sizes[i]))
    for (const { at, bytes } of more) tiles.giveBack(at, bytes)
  }
}

/** A square of a map, a number for each cell of d × d pixels: that of the pixel in its middle. The picture's border repeats. */
function gatherMap(
  bench: Workbench,
  maps: MapTiles,
  step: MapStep,
  d: number,
  { x, y, side }: { readonly x: number; readonly y: number; readonly side: number },
): Float32Array {
  const { width, height } = bench.planned.size
  const out = new Float32Array(side * side).fill(NaN)
  const pixelOf = (cell: number, length: number) => Math.min(length - 1, Math.max(0, d * cell + (d >> 1)))
  for (let row = 0; row < side; row++) {
    const py = pixelOf(y + row, height)
    for (let column = 0; column < side;) {
      const px = pixelOf(x + column, width)
      const tile = maps.tile(step, Math.floor(px / TILE), Math.floor(py / TILE))
      const from = Math.floor(px / TILE) * TILE
      const plane = tile.flags & EMPTY ? null : bench.tiles.floats(tile.address, TILE_PIXELS)
      // As long as it is the same tile.
      for (; column < side; column++) {
        const own = pixelOf(x + column, width)
        if (own < from || own >= from + TILE) break
        if (plane) out[row * side + column] = plane[(py % TILE) * TILE + (own % TILE)]
      }
    }
  }
  return out
}
