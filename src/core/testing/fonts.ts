import { readFileSync } from 'node:fs'
import path from 'node:path'
import { unfoldWoff } from '../formats/woff'
import { catalogueFont } from '../type/font-catalogue'
import { openFont, type FontFile } from '../type/shaper'

/** A shipped font, read from where it is shipped. */
export function shippedFont(id: string): FontFile[] {
  const font = catalogueFont(id)
  if (!font) throw new Error(`no font ${id} is shipped`)
  return font.files.map((file) => openFont(shippedBytes(file)))
}

/** A shipped file, unfolded. */
export const shippedBytes = (file: string): Uint8Array =>
  unfoldWoff(readFileSync(path.resolve('public/fonts', file)))
