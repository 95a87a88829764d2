import { TILE } from '../../picture/tile-form'
import type { RenderSize } from '../sheet-resources'
import { writeTile } from './picture-rows'
import type { SheetEvaluator } from './sheet-evaluator'
import type { ViewWindow } from './view-window'

/** The pixels of a window of a picture, and of which plan each of its tiles is. Threads may share the arrays. */
export interface WindowPixels {
  readonly window: ViewWindow
  /** Straight RGBA, row after row of the window. */
  readonly rgba: Uint8Array
  /** The name of what stands in each tile of the window: two numbers each, 0 where nothing does. */
  readonly names: Int32Array
  /** 1 for each tile that was painted and not shown yet. */
  readonly fresh: Uint8Array
  /** 1 for each tile over which something else is shown: it is to be shown again when it is what is wanted. */
  readonly covered: Uint8Array
}

const across = ({ width }: ViewWindow): number => Math.ceil(width / TILE)

/** A window of which nothing is painted. @param isShared whether threads are to paint it together. */
export function emptyWindow(window: ViewWindow, isShared: boolean): WindowPixels {
  const room = (bytes: number) => (isShared ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes))
  const tiles = across(window) * Math.ceil(window.height / TILE)
  return {
    window,
    rgba: new Uint8Array(room(4 * window.width * window.height)),
    names: new Int32Array(room(8 * tiles)),
    fresh: new Uint8Array(room(tiles)),
    covered: new Uint8Array(room(tiles)),
  }
}

/** What two windows of one picture have in common, taken over from one to the other: it need not be painted again. */
export function takeOver(from: WindowPixels, to: WindowPixels): void {
  const [a, b] = [from.window, to.window]
  for (let y = b.y; y < b.y + b.height; y += TILE)
    for (let x = b.x; x < b.x + b.width; x += TILE) {
      const [width, height] = [Math.min(TILE, b.x + b.width - x), Math.min(TILE, b.y + b.height - y)]
      const isThere = x >= a.x && y >= a.y && x + width <= a.x + a.width && y + height <= a.y + a.height
      if (!isThere) continue
      const [old, now] = [tileIndex(a, x / TILE, y / TILE), tileIndex(b, x / TILE, y / TILE)]
      if (from.names[2 * old] === 0 && from.names[2 * old + 1] === 0) continue
      to.names[2 * now] = from.names[2 * old]
      to.names[2 * now + 1] = from.names[2 * old + 1]
      to.fresh[now] = 1
      for (let row = y; row < y + height; row++) {
        const at = 4 * ((row - a.y) * a.width + x - a.x)
        to.rgba.set(from.rgba.subarray(at, at + 4 * width), 4 * ((row - b.y) * b.width + x - b.x))
      }
    }
}

/** Position of a tile of the picture among those of a window. */
export const tileIndex = (window: ViewWindow, tx: number, ty: number): number =>
  (ty - window.y / TILE) * across(window) + tx - window.x / TILE

/** Brings one tile of a window up to the plan that an evaluator has begun; does nothing where it is already. */
export function paintInWindow(
  evaluator: SheetEvaluator,
  { window, rgba, names, fresh, covered }: WindowPixels,
  tx: number,
  ty: number,
): void {
  const index = tileIndex(window, tx, ty)
  const { a, b } = evaluator.tileKey(tx, ty)
  if (names[2 * index] === a && names[2 * index + 1] === b) {
    if (Atomics.exchange(covered, index, 0) === 1) Atomics.store(fresh, index, 1)
    return
  }
  // While it is painted it is neither what it was nor what it will be.
  names.fill(0, 2 * index, 2 * index + 2)
  const row = rgba.subarray(4 * (ty * TILE - window.y) * window.width)
  evaluator.tile(tx, ty, (at) =>
    writeTile(evaluator, tx, ty, at, 'bytes', row, window.width, tx * TILE - window.x),
  )
  names[2 * index] = a
  names[2 * index + 1] = b
  Atomics.store(covered, index, 0)
  Atomics.store(fresh, index, 1)
}

/** Rectangles of a window that were painted and are to be shown: its tiles, or it all where that is most of it. */
export function takeFresh({ window, fresh, covered }: WindowPixels): ViewWindow[] {
  const count = across(window)
  const tiles: ViewWindow[] = []
  for (let i = 0; i < fresh.length; i++) {
    if (Atomics.exchange(fresh, i, 0) === 0) continue
    const [x, y] = [(i % count) * TILE, Math.floor(i / count) * TILE]
    tiles.push({ x, y, width: Math.min(TILE, window.width - x), height: Math.min(TILE, window.height - y) })
  }
  return 2 * tiles.length > fresh.length && !covered.includes(1)
    ? [{ x: 0, y: 0, width: window.width, height: window.height }]
    : tiles
}

/** Something else is shown over parts of a window. */
export function cover({ window, fresh, covered }: WindowPixels, parts: readonly ViewWindow[]): void {
  for (const { x, y, width, height } of parts)
    for (let ty = Math.floor(y / TILE); ty * TILE < y + height; ty++)
      for (let tx = Math.floor(x / TILE); tx * TILE < x + width; tx++) {
        const index = ty * across(window) + tx
        covered[index] = 1
        fresh[index] = 0
      }
}

/** Whether a window is all of a picture. */
export const isWholePicture = ({ window }: WindowPixels, { width, height }: RenderSize): boolean =>
  window.width === width && window.height === height
