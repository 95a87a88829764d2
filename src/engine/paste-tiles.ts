import type { DenoiseGuides } from '@/core/passes/denoise'
import type { Tile } from '@/core/passes/tile'
import type { ChannelData } from '@/core/picture/channel'
import type { Frame } from '@/core/scene/camera'

/** Writes a tile's numbers to their place in a picture. */
export function pasteTile(channel: ChannelData, pictureWidth: number, tile: Tile, source: ChannelData): void {
  for (let row = 0; row < tile.height; row++) {
    channel.set(
      source.subarray(row * tile.width, (row + 1) * tile.width),
      (tile.y + row) * pictureWidth + tile.x,
    )
  }
}

/** The rectangle of a picture that a tile of its preview stands for. */
export const enlarge = (tile: Tile, frame: Frame, shrink: number): Tile => {
  const x = tile.x * shrink
  const y = tile.y * shrink
  return {
    x,
    y,
    width: Math.min(tile.width * shrink, frame.width - x),
    height: Math.min(tile.height * shrink, frame.height - y),
  }
}

/** Writes a preview's numbers to a picture, each over a square of it. */
export function pasteEnlarged(
  channel: ChannelData,
  pictureWidth: number,
  rect: Tile,
  fromWidth: number,
  source: ChannelData,
  shrink: number,
): void {
  for (let row = 0; row < rect.height; row++) {
    const to = (rect.y + row) * pictureWidth + rect.x
    if (row % shrink > 0) {
      channel.copyWithin(to, to - pictureWidth, to - pictureWidth + rect.width)
      continue
    }
    const from = (row / shrink) * fromWidth
    for (let column = 0; column < rect.width; column += shrink)
      channel.fill(source[from + column / shrink], to + column, to + Math.min(rect.width, column + shrink))
  }
}

/** Writes a tile's guides to their place in a picture's. */
export function pasteGuides(to: DenoiseGuides, pictureWidth: number, tile: Tile, from: DenoiseGuides): void {
  for (let row = 0; row < tile.height; row++) {
    const at = (tile.y + row) * pictureWidth + tile.x
    const start = row * tile.width
    const end = start + tile.width
    to.surfaces.set(from.surfaces.subarray(start, end), at)
    to.normals.set(from.normals.subarray(3 * start, 3 * end), 3 * at)
    to.depths.set(from.depths.subarray(start, end), at)
  }
}
