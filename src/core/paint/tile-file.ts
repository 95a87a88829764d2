import { decode, encode } from 'fast-png'
import { UnreadableFileError } from '../errors'
import { inBlocks, TILE, TILE_PIXELS } from '../picture/tile-form'
import type { PaintForm } from './paint-names'

/** Tiles of what was painted as files: PNG of 16 bits, straight RGBA of a layer, grey of a mask. */

/** A tile's name as a file may be called. */
export const tileFileName = (name: string): string =>
  `${name.replace(/\+/g, '-').replace(/\//g, '_').replace(/=/g, '')}.png`

/** @param bytes unorm16; see cut-paint.ts. */
export function writeTile(bytes: Uint8Array, form: PaintForm): Uint8Array {
  const words = new Uint16Array(bytes.slice().buffer)
  if (form === 'mask') return encode({ width: TILE, height: TILE, channels: 1, depth: 16, data: words })
  const data = new Uint16Array(4 * TILE_PIXELS)
  for (let p = 0; p < TILE_PIXELS; p++) for (let c = 0; c < 4; c++) data[4 * p + c] = words[inBlocks(p, c)]
  return encode({ width: TILE, height: TILE, channels: 4, depth: 16, data })
}

/** @throws {UnreadableFileError} naming the file. */
export function readTile(file: Uint8Array, form: PaintForm, path: string): Uint8Array<ArrayBuffer> {
  let found: ReturnType<typeof decode>
  try {
    found = decode(file)
  } catch (cause) {
    throw new UnreadableFileError(path, 'the PNG is damaged', { cause })
  }
  const channels = form === 'mask' ? 1 : 4
  const { width, height, depth, data } = found
  if (width !== TILE || height !== TILE || depth !== 16 || found.channels !== channels)
    throw new UnreadableFileError(
      path,
      `is no tile of ${TILE} × ${TILE} pixels with ${channels} channels of 16 bits`,
    )
  const words = new Uint16Array(channels * TILE_PIXELS)
  if (form === 'mask') words.set(data)
  else
    for (let p = 0; p < TILE_PIXELS; p++) for (let c = 0; c < 4; c++) words[inBlocks(p, c)] = data[4 * p + c]
  return new Uint8Array(words.buffer)
}
