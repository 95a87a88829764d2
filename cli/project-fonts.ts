import { readFile } from 'node:fs/promises'
import decompressWoff2 from 'woff2-encoder/decompress'
import { catalogueFont } from '@/core/type/font-catalogue'
import type { OpenArchive } from '@/data/project-archive'
import { decodeFont } from '@/engine/decode-font'

/** Where the shipped fonts lie, seen from here and from where this is bundled to. */
const SHIPPED = new URL('../public/fonts/', import.meta.url)

/** The files of a font of ours; null for another. */
export async function shippedFont(fontId: string): Promise<Uint8Array[] | null> {
  const shipped = catalogueFont(fontId)
  if (!shipped) return null
  return Promise.all(
    shipped.files.map(async (name) =>
      decodeFont(await readFile(new URL(name, SHIPPED)), name, decompressWoff2),
    ),
  )
}

/** The files of a font of a project: one of ours, or one that was brought. Null where it is not there. */
export async function projectFont(
  { project, file }: Pick<OpenArchive, 'project' | 'file'>,
  fontId: string,
): Promise<Uint8Array[] | null> {
  const shipped = await shippedFont(fontId)
  if (shipped) return shipped
  const own = project.fonts.find(({ id }) => id === fontId)
  if (!own) return null
  const { bytes, name } = await file(own.fileId)
  return [await decodeFont(bytes, name, decompressWoff2)]
}
