import { touches, type Tile } from '@/core/passes/tile'
import { tilesByBlock, tilesFromMiddle } from '@/core/passes/render-tile'
import type { Frame } from '@/core/scene/camera'
import type { KeptPass } from './render-request'

export const TILE_SIDE = 32
/** Of a turntable, whose tiles nobody looks at: three to a block, so that their points still lie in the kernel together. */
const TURNING_TILE_SIDE = 43
/** Side of the blocks that are kept as they are finished. */
export const BLOCK_SIDE = 128

/** The rectangle of a block. */
export const blockRect = (frame: Frame, block: number): Tile => tilesFromMiddle(frame, BLOCK_SIDE)[block]

/** How many blocks a picture has. */
export const blockCount = ({ width, height }: Frame): number =>
  Math.ceil(width / BLOCK_SIDE) * Math.ceil(height / BLOCK_SIDE)

/** A tile that waits for a worker. */
export interface QueuedTile {
  readonly tile: Tile
  readonly block: number
  /** Which passes of the job; null: all. */
  readonly wanted: readonly boolean[] | null
}

/** Moves the tiles of a rectangle to the front, in place. */
export function putFirst(tiles: QueuedTile[], rect: Tile): void {
  const inside = tiles.filter(({ tile }) => touches(tile, rect))
  const outside = tiles.filter(({ tile }) => !touches(tile, rect))
  tiles.splice(0, tiles.length, ...inside, ...outside)
}

/** The tiles of a picture that are to be rendered. */
export interface TilePlan {
  readonly tiles: QueuedTile[]
  /** How many of them each block has. */
  readonly leftOfBlock: Map<number, number>
  /** Tiles of the whole picture. */
  readonly all: number
  /** Whether nothing of any pass is there yet. */
  readonly isFresh: boolean
}

/**
 * Which tiles which passes still want.
 * @param hasChannels which passes have any; lines alone need no tiles.
 * @param kept what is there of each pass.
 * @param needsAll every tile is wanted, if only for what it tells of surfaces.
 * @param windows the only rectangle that each pass is wanted in; null: the whole frame.
 * @param isTurning whether it is a frame of a turntable.
 */
export function planTiles(
  frame: Frame,
  hasChannels: readonly boolean[],
  kept: readonly (KeptPass | null)[],
  needsAll: boolean,
  isTurning = false,
  windows: readonly (Tile | null)[] = [],
): TilePlan {
  const all = tilesByBlock(frame, isTurning ? TURNING_TILE_SIDE : TILE_SIDE, BLOCK_SIDE)
  const leftOfBlock = new Map<number, number>()
  let isFresh = true
  const tiles = all.flatMap(({ tile, block }): QueuedTile[] => {
    const wanted = hasChannels.map(
      (has, i) =>
        has &&
        !(kept[i]?.blocks.has(block) ?? false) &&
        (kept[i]?.tiles?.(tile) ?? true) &&
        touches(tile, windows[i] ?? { x: 0, y: 0, ...frame }),
    )
    if (wanted.some((flag, i) => flag !== hasChannels[i])) isFresh = false
    if (!needsAll && !wanted.some(Boolean)) {
      isFresh = false
      return []
    }
    leftOfBlock.set(block, (leftOfBlock.get(block) ?? 0) + 1)
    return [{ tile, block, wanted: wanted.every(Boolean) ? null : wanted }]
  })
  return { tiles, leftOfBlock, all: all.length, isFresh }
}
