import { TILE } from '../../picture/tile-form'
import type { RenderSize } from '../sheet-resources'

/** A part of a picture, in its pixels. */
export interface ViewWindow {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** A picture of no more pixels is held as a whole: to look at another part of it then costs nothing. */
const WHOLE_PIXELS = 4.5e6

const down = (v: number): number => Math.floor(v / TILE) * TILE
const up = (v: number, most: number): number => Math.min(most, Math.ceil(v / TILE) * TILE)

/**
 * The part of a picture that is held for what is seen of it: all of a small one, else what is seen and half as much again on
 * each side. Begins at a tile's corner and ends at one, or where the picture does.
 */
export function windowAround({ width, height }: RenderSize, seen: ViewWindow): ViewWindow {
  if (width * height <= WHOLE_PIXELS) return { x: 0, y: 0, width, height }
  const [marginX, marginY] = [seen.width / 2, seen.height / 2]
  const x = Math.min(down(width - 1), Math.max(0, down(seen.x - marginX)))
  const y = Math.min(down(height - 1), Math.max(0, down(seen.y - marginY)))
  return {
    x,
    y,
    width: Math.max(Math.min(TILE, width - x), up(seen.x + seen.width + marginX, width) - x),
    height: Math.max(Math.min(TILE, height - y), up(seen.y + seen.height + marginY, height) - y),
  }
}

/** The window of a coarser picture that lies where a window of the fine one does; in whole tiles, as far as the picture goes. */
export function coarserWindow(window: ViewWindow, coarse: number, { width, height }: RenderSize): ViewWindow {
  const [x, y] = [down(window.x / coarse), down(window.y / coarse)]
  return {
    x,
    y,
    width: up((window.x + window.width) / coarse, width) - x,
    height: up((window.y + window.height) / coarse, height) - y,
  }
}

/** Whether all that is seen, within the picture, lies in a window of it. */
export function holds(window: ViewWindow, { width, height }: RenderSize, seen: ViewWindow): boolean {
  const [right, bottom] = [Math.min(width, seen.x + seen.width), Math.min(height, seen.y + seen.height)]
  return (
    Math.max(0, seen.x) >= window.x &&
    Math.max(0, seen.y) >= window.y &&
    right <= window.x + window.width &&
    bottom <= window.y + window.height
  )
}

/** Tiles of a window in the order they are painted in: those that are seen first, from the middle of what is seen outwards. */
export interface TileOrder {
  /** Column and row of each, in tiles of the picture. */
  readonly columns: Int32Array
  readonly rows: Int32Array
  /** So many of them are seen. */
  readonly seen: number
}

export function tileOrder(window: ViewWindow, seen: ViewWindow): TileOrder {
  const tiles: { tx: number; ty: number; isSeen: boolean; far: number }[] = []
  const [midX, midY] = [seen.x + seen.width / 2, seen.y + seen.height / 2]
  for (let y = window.y; y < window.y + window.height; y += TILE)
    for (let x = window.x; x < window.x + window.width; x += TILE) {
      const isSeen =
        x < seen.x + seen.width && y < seen.y + seen.height && x + TILE > seen.x && y + TILE > seen.y
      const far = Math.hypot(x + TILE / 2 - midX, y + TILE / 2 - midY)
      tiles.push({ tx: x / TILE, ty: y / TILE, isSeen, far })
    }
  tiles.sort((a, b) => Number(b.isSeen) - Number(a.isSeen) || a.far - b.far)
  return {
    columns: Int32Array.from(tiles, ({ tx }) => tx),
    rows: Int32Array.from(tiles, ({ ty }) => ty),
    seen: tiles.filter(({ isSeen }) => isSeen).length,
  }
}
