import { z } from 'zod'
import { InvalidValueError } from '../errors'
import type { StepKey } from '../sheet/evaluate/kept-tiles'
import { TILE } from '../picture/tile-form'

/**
 * What was painted by hand: sparse tiles of 128 × 128 pixels, immutable, each under a name made of what it holds. What is not
 * there was not painted.
 */
export interface PaintGrid {
  /** Pixels that it is painted in; they lie over the whole sheet, whatever that measures. */
  readonly width: number
  readonly height: number
  /** "column,row" to a tile's name. */
  readonly tiles: Readonly<Record<string, string>>
}

/** The most pixels of a side. */
export const MOST_SIDE = 32_768

export const paintShape = {
  width: z.number().int().min(1).max(MOST_SIDE),
  height: z.number().int().min(1).max(MOST_SIDE),
  tiles: z.record(z.string().regex(/^\d{1,3},\d{1,3}$/), z.string().min(1).max(80)),
}

export const placeName = (tx: number, ty: number): string => `${tx},${ty}`
export function readPlace(name: string): readonly [tx: number, ty: number] {
  const [tx, ty] = name.split(',').map(Number)
  if (!Number.isInteger(tx) || !Number.isInteger(ty))
    throw new InvalidValueError('tiles', `has no place "${name}"`)
  return [tx, ty]
}

/** A tile that is being painted now: it lies at an address of the memory that pictures are made in. */
export const liveName = (address: number, revision: number): string => `live:${address}@${revision}`
/** Address of a tile that is being painted; null for one that is stored. */
export function liveAddress(name: string): number | null {
  return name.startsWith('live:') ? parseInt(name.slice(5), 10) : null
}

/** Names of a grid's tiles as numbers, by their place. */
interface Numbered {
  readonly across: number
  readonly down: number
  readonly names: Int32Array
}
const numbered = new WeakMap<PaintGrid['tiles'], Numbered>()

function numbersOf({ width, height, tiles }: PaintGrid): Numbered {
  const known = numbered.get(tiles)
  if (known) return known
  const [across, down] = [Math.ceil(width / TILE), Math.ceil(height / TILE)]
  const names = new Int32Array(2 * across * down)
  for (const place in tiles) {
    const comma = place.indexOf(',')
    const [tx, ty] = [Number(place.slice(0, comma)), Number(place.slice(comma + 1))]
    if (!(tx < across && ty < down)) continue
    const at = 2 * (ty * across + tx)
    const name = tiles[place]
    let a = 0x811c9dc5
    let b = 0x9747b28c
    for (let i = 0; i < name.length; i++) {
      const code = name.charCodeAt(i)
      a = Math.imul(a ^ code, 0x01000193)
      b = Math.imul(b ^ code, 0x85ebca6b)
      b ^= b >>> 13
    }
    names[at] = a
    names[at + 1] = b
  }
  const made = { across, down, names }
  numbered.set(tiles, made)
  return made
}

/** The name of what is painted in a part of the grid: equal names, equal pixels. @param x0, y0, x1, y1 its pixels, the last left out. */
export function regionName(grid: PaintGrid, x0: number, y0: number, x1: number, y1: number): StepKey {
  const { across, down, names } = numbersOf(grid)
  const left = Math.max(0, Math.floor(x0 / TILE))
  const right = Math.min(across, Math.ceil(x1 / TILE))
  const bottom = Math.min(down, Math.ceil(y1 / TILE))
  let a = 17
  let b = 29
  for (let ty = Math.max(0, Math.floor(y0 / TILE)); ty < bottom; ty++)
    for (let tx = left; tx < right; tx++) {
      const at = 2 * (ty * across + tx)
      a = Math.imul(a ^ names[at], 0x85ebca6b)
      a ^= a >>> 15
      b = Math.imul(b ^ names[at + 1] ^ a, 0xc2b2ae35)
      b ^= b >>> 13
    }
  return { a, b }
}

/** Names of all tiles of a grid that are stored. */
export const storedNames = ({ tiles }: PaintGrid): string[] =>
  Object.values(tiles).filter((name) => liveAddress(name) === null)
