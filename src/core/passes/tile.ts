/** A rectangle of the picture in pixels. */
export interface Tile {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Whether two rectangles have pixels in common. */
export const touches = (a: Tile, b: Tile): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height
