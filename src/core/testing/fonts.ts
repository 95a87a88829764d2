import { readFileSync } from 'node:fs'
import path from 'node:path'
import decompressWoff2 from 'woff2-encoder/decompress'
import { catalogueFont } from '../type/font-catalogue'
import { openFont, type FontFile } from '../type/shaper'

/** A shipped font, read from where it is shipped. */
export async function shippedFont(id: string): Promise<FontFile[]> {
  const font = catalogueFont(id)
  if (!font) throw new Error(`no font ${id} is shipped`)
  return Promise.all(font.files.map(async (file) => openFont(await shippedBytes(file))))
}

/** A shipped file, unfolded. */
export const shippedBytes = async (file: string): Promise<Uint8Array> =>
  decompressWoff2(readFileSync(path.resolve('public/fonts', file)))
