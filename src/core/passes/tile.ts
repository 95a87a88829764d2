/** A rectangle of the picture in pixels. */
export interface Tile {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}
