import type { Tile } from '@/core/passes/tile'

/** What all pictures of a contact sheet show: a zoom (1 is the whole picture) about a middle, in shares of the picture. */
export interface LinkedView {
  readonly zoom: number
  readonly middleX: number
  readonly middleY: number
}

export const WHOLE: LinkedView = { zoom: 1, middleX: 0.5, middleY: 0.5 }
const MAX_ZOOM = 64

/** Keeps the part shown inside the picture. */
function inside(view: LinkedView): LinkedView {
  const half = 0.5 / view.zoom
  const clamp = (v: number) => Math.min(1 - half, Math.max(half, v))
  return { zoom: view.zoom, middleX: clamp(view.middleX), middleY: clamp(view.middleY) }
}

/** Zooms by a factor, keeping the point at (x01, y01) of the shown part where it is. */
export function zoomedView(view: LinkedView, factor: number, x01: number, y01: number): LinkedView {
  const zoom = Math.min(MAX_ZOOM, Math.max(1, view.zoom * factor))
  const keep = 1 / view.zoom - 1 / zoom
  return inside({
    zoom,
    middleX: view.middleX + (x01 - 0.5) * keep,
    middleY: view.middleY + (y01 - 0.5) * keep,
  })
}

/** Moves by shares of the shown part. */
export const movedView = (view: LinkedView, x01: number, y01: number): LinkedView =>
  inside({ ...view, middleX: view.middleX + x01 / view.zoom, middleY: view.middleY + y01 / view.zoom })

/** The shown part in whole pixels of a picture, inside it. */
export function viewedPart(view: LinkedView, pictureWidth: number, pictureHeight: number): Tile {
  const width = Math.max(1, Math.round(pictureWidth / view.zoom))
  const height = Math.max(1, Math.round(pictureHeight / view.zoom))
  const place = (middle: number, length: number, whole: number) =>
    Math.min(whole - length, Math.max(0, Math.round(middle * whole - length / 2)))
  return {
    x: place(view.middleX, width, pictureWidth),
    y: place(view.middleY, height, pictureHeight),
    width,
    height,
  }
}

const GAP = 14
const PADDING = 16
/** Kept free below all pictures for the zoom. */
const STATUS = 16
/** Height of the words below a picture. */
const LABEL = 24
const SMALLEST = 160

/** The number of columns that makes the pictures largest, and their size. Pixels. */
export function contactLayout(count: number, aspect: number, boxWidth: number, boxHeight: number) {
  let best = { columns: 1, cellWidth: 0, cellHeight: 0 }
  for (let columns = 1; columns <= Math.max(1, count); columns++) {
    const rows = Math.ceil(count / columns)
    const wide = (boxWidth - 2 * PADDING - (columns - 1) * GAP) / columns
    const high = (boxHeight - 2 * PADDING - STATUS - (rows - 1) * GAP) / rows - LABEL
    const cellWidth = Math.floor(Math.max(Math.min(SMALLEST, wide), Math.min(wide, high * aspect)))
    if (cellWidth > best.cellWidth)
      best = { columns, cellWidth, cellHeight: Math.max(1, Math.round(cellWidth / aspect)) }
  }
  return best
}
