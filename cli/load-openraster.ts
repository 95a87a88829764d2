import path from 'node:path'
import { readPng } from '@/core/formats/png'
import { readOpenRaster } from '@/core/formats/read-openraster'
import { layersFromOpenRaster } from '@/core/sheet/layers-from-openraster'
import { SheetStore } from '@/engine/sheet-store'
import type { LoadedSheet } from './sheet-file'
import { fileSourceOf } from './load-input'

/**
 * An OpenRaster file as a sheet of its size.
 * @param warn told what of it could not be taken over as it is.
 */
export async function loadOpenRaster(file: string, warn: (note: string) => void): Promise<LoadedSheet> {
  const read = await readOpenRaster(await fileSourceOf(file), file)
  for (const note of read.notes) warn(`${file}: ${note}`)
  const { width, height } = read
  let count = 0
  const { roots, nodes, pictures } = layersFromOpenRaster(read, read, () => `layer${count++}`)
  const store = new SheetStore()
  for (const { id, name, png } of pictures)
    store.pictures.set(id, { picture: readPng(png, name), revision: 1 })
  return {
    sheet: {
      id: 'sheet',
      name: path.basename(file),
      width,
      height,
      fit: 'extend',
      blendSpace: 'display',
      background: null,
      roots,
      nodes,
    },
    store,
  }
}
