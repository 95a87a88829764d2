import { gridNoise, tiledNoise } from '../../../math/noise'

/** A place of a texture's tile, 0 to below 1 across and down: what lies beyond it begins again. */
export interface TilePlace {
  readonly x: number
  readonly y: number
  /** Pixels of the view across a tile: what is finer than one of them is left out. */
  readonly pixels: number
  readonly seed: number
}

/**
 * One texture: how light it is at a place of its tile, 0…1, about ½ where it is plain.
 * Adding one is one file with one of these and one line in the registry.
 */
export interface TextureStyle {
  readonly kind: string
  readonly label: string
  readonly tone: (place: TilePlace) => number
}

/** Tiled noise of so many grains across a tile; 0.5 where they are finer than pixels. */
export function grains({ x, y, pixels, seed }: TilePlace, across: number, down: number, own: number): number {
  const fine = Math.min(1, Math.max(0, (2 * pixels) / Math.max(across, down) - 1))
  return fine === 0 ? 0.5 : 0.5 + fine * (tiledNoise(x * across, y * down, across, down, seed + own) - 0.5)
}

/** Grains of several sizes, each half as large and half as strong as the one before. */
export function cloudGrains(place: TilePlace, across: number, octaves: number, own: number): number {
  let sum = 0
  let most = 0
  for (let k = 0, n = across, weight = 1; k < octaves; k++, n *= 2, weight /= 2) {
    sum += weight * grains(place, n, n, own + 101 * k)
    most += weight
  }
  return sum / most
}

/** Fibres: grains drawn out along a direction of whole steps (a, b), so that the tile still closes. */
export function fibres(
  place: TilePlace,
  a: number,
  b: number,
  along: number,
  across: number,
  own: number,
): number {
  const { x, y, pixels, seed } = place
  const turned = { x: a * x + b * y, y: a * y - b * x, pixels: pixels / Math.hypot(a, b), seed }
  return grains(turned, along, across, own)
}

/** A number of a cell of a tile that is divided into so many. */
export const cellNumber = (i: number, j: number, cells: number, seed: number): number =>
  gridNoise(((i % cells) + cells) % cells, ((j % cells) + cells) % cells, seed)
