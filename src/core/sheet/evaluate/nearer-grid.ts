import type { PaintGrid } from '../../paint/paint-grid'
import { placeName } from '../../paint/paint-grid'
import { ID_PAIRS } from '../../passes/id'
import type { PartDepth } from '../../passes/part-depths'
import type { PassResult } from '../../passes/pass-result'
import type { Tile } from '../../passes/tile'
import { TILE } from '../../picture/tile-form'
import type { RenderSize } from '../sheet-resources'

/** Cells of the longer side of a view, at most; and how small they are at least, in its pixels. */
const MOST_CELLS = 64
const LEAST_CELL_PX = 32
/** Parts of a pass are looked for in squares of so many pixels. */
const BLOCK = 8
/** Grids that are kept of a view: a hand drags to and fro. */
const KEPT_GRIDS = 200

/** Which parts reach into each of some places: a bit a part, `words` numbers a place. */
interface Presence {
  readonly across: number
  readonly down: number
  readonly words: number
  readonly bits: Uint32Array
}

interface ViewCells extends Presence {
  readonly width: number
  readonly height: number
  readonly grids: Map<string, PaintGrid>
}

const blocksOf = new WeakMap<
  PassResult,
  { readonly parts: readonly PartDepth[]; readonly blocks: Presence }
>()
const viewsOf = new WeakMap<Presence, Map<string, ViewCells>>()

/**
 * Which parts count where, as a grid of names over a view: places in which the same parts are nearer bear one name. What stands at
 * a depth is made anew only where a part lies that it passes.
 * @param parts of the pass, the farthest first. @param count how many of the last of them are nearer.
 * @param placed where the pass lies on the view.
 */
export function nearerGrid(
  idPass: PassResult,
  parts: readonly PartDepth[],
  count: number,
  size: RenderSize,
  placed: Tile,
): PaintGrid {
  const blocks = presentIn(idPass, parts)
  let views = viewsOf.get(blocks)
  if (!views) viewsOf.set(blocks, (views = new Map()))
  const name = [size.width, size.height, placed.x, placed.y, placed.width, placed.height].join(' ')
  let cells = views.get(name)
  if (!cells) {
    if (views.size > 8) views.clear()
    views.set(name, (cells = cellsOf(idPass, blocks, size, placed)))
  }
  const key = String(count)
  let grid = cells.grids.get(key)
  if (!grid) {
    if (cells.grids.size > KEPT_GRIDS) cells.grids.clear()
    cells.grids.set(key, (grid = gridOf(cells, parts.length - count)))
  }
  return grid
}

/** @param from the first of the parts that are nearer. */
function gridOf({ width, height, across, down, words, bits }: ViewCells, from: number): PaintGrid {
  const tiles: Record<string, string> = {}
  for (let cy = 0, at = 0; cy < down; cy++)
    for (let cx = 0; cx < across; cx++, at += words) {
      let name = ''
      for (let w = 0; w < words; w++) {
        const first = from - 32 * w
        const counted = first <= 0 ? 0xffffffff : first >= 32 ? 0 : (0xffffffff << first) >>> 0
        const own = (bits[at + w] & counted) >>> 0
        if (own !== 0) name += `${w}:${own.toString(36)} `
      }
      if (name !== '') tiles[placeName(cx, cy)] = name
    }
  return { width, height, tiles }
}

/** Which parts are seen in each block of a pass. */
function presentIn(idPass: PassResult, parts: readonly PartDepth[]): Presence {
  const known = blocksOf.get(idPass)
  if (known?.parts === parts) return known.blocks
  const { width, height, channels, surfaces } = idPass
  const rankOf = new Map(parts.map(({ part }, rank) => [part, rank]))
  const ranks = Int32Array.from(surfaces, ({ part }) => rankOf.get(part) ?? -1)
  const words = Math.max(1, Math.ceil(parts.length / 32))
  const across = Math.ceil(width / BLOCK)
  const down = Math.ceil(height / BLOCK)
  const bits = new Uint32Array(across * down * words)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const at = words * (Math.floor(y / BLOCK) * across + Math.floor(x / BLOCK))
      const pairs = channels[ID_PAIRS][i] === 255 ? 1 : ID_PAIRS
      for (let c = 0; c < pairs; c++) {
        if (channels[ID_PAIRS + c][i] === 0) continue
        const id = channels[c][i]
        const rank = id < ranks.length ? ranks[id] : -1
        if (rank >= 0) bits[at + (rank >> 5)] |= 1 << (rank & 31)
      }
    }
  const blocks = { across, down, words, bits }
  blocksOf.set(idPass, { parts, blocks })
  return blocks
}

/** Which parts reach into each cell of a view, as far as resizing mixes them. */
function cellsOf(idPass: PassResult, blocks: Presence, size: RenderSize, placed: Tile): ViewCells {
  const { words } = blocks
  const cellPx = Math.max(LEAST_CELL_PX, Math.max(size.width, size.height) / MOST_CELLS)
  // A cell is a tile of the grid.
  const [width, height] = [size.width, size.height].map((side) => Math.ceil((side * TILE) / cellPx))
  const across = Math.ceil(width / TILE)
  const down = Math.ceil(height / TILE)
  const bits = new Uint32Array(across * down * words)
  const [kx, ky] = [placed.width / idPass.width, placed.height / idPass.height]
  const [mx, my] = [kx, ky].map((k) => Math.max(1, k) + 1)
  const columns = reaches(blocks.across, idPass.width, placed.x, kx, mx, cellPx, across)
  const rows = reaches(blocks.down, idPass.height, placed.y, ky, my, cellPx, down)
  for (let by = 0; by < blocks.down; by++)
    for (let bx = 0; bx < blocks.across; bx++) {
      const from = words * (by * blocks.across + bx)
      for (let cy = rows[2 * by]; cy <= rows[2 * by + 1]; cy++)
        for (let cx = columns[2 * bx]; cx <= columns[2 * bx + 1]; cx++) {
          const to = words * (cy * across + cx)
          for (let w = 0; w < words; w++) bits[to + w] |= blocks.bits[from + w]
        }
    }
  return { width, height, across, down, words, bits, grids: new Map() }
}

/** The first and the last cell that each block of an axis reaches into. @param margin pixels of the view that resizing mixes. */
function reaches(
  blocks: number,
  pixels: number,
  origin: number,
  scale: number,
  margin: number,
  cellPx: number,
  cells: number,
): Int32Array {
  const out = new Int32Array(2 * blocks)
  const within = (at: number): number => Math.min(cells - 1, Math.max(0, Math.floor(at / cellPx)))
  for (let b = 0; b < blocks; b++) {
    out[2 * b] = within(origin + b * BLOCK * scale - margin)
    out[2 * b + 1] = within(origin + Math.min(pixels, (b + 1) * BLOCK) * scale + margin)
  }
  return out
}
