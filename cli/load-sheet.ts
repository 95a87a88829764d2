import { UnreadableFileError } from '@/core/errors'
import { activeSheet } from '@/data/active-shot'
import { openProjectArchive } from '@/data/project-archive'
import { paintOf } from '@/data/stored-paint'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { decodePicture } from '@/engine/decode-picture'
import { SheetStore } from '@/engine/sheet-store'
import { fileSourceOf } from './load-input'
import type { LoadedSheet } from './sheet-file'

/**
 * A sheet of a project archive, and what it shows.
 * @param takesAll all passes that are rendered, not only those that it shows.
 * @param name of the sheet; left out, the one at work.
 * @throws {UnreadableFileError} where there is none of that name, with those that there are.
 */
export async function loadProject(file: string, takesAll = false, name?: string): Promise<LoadedSheet> {
  const archive = await openProjectArchive(await fileSourceOf(file), file)
  const { project } = archive
  const sheet = name === undefined ? activeSheet(project) : project.sheets.find((own) => own.name === name)
  if (!sheet) {
    const names = project.sheets.map((own) => `"${own.name}"`).join(', ')
    throw new UnreadableFileError(file, `has no sheet "${name ?? ''}", but ${names}`)
  }
  const { passes, pictureIds, paint } = neededBy(project, sheet)
  const store = new SheetStore()
  for (const { id, fileId, name } of project.pictures) {
    if (!pictureIds.has(id)) continue
    const picture = await decodePicture((await archive.file(fileId)).bytes, name)
    store.pictures.set(id, { picture, revision: 1 })
  }
  for (const [name, form] of paintOf([project])) {
    const bytes = paint.has(name) ? await archive.paint(name, form) : null
    if (bytes) store.paint.set(name, new Uint16Array(bytes.buffer))
  }
  for (const pass of takesAll ? project.passes : passes) {
    if (!pass.rendered) continue
    const result = await archive.result(pass, pass.rendered)
    const { facts, ...seen } = seenAs(project, pass)
    store.passes.set(pass.id, {
      result: { ...result, ...seen, ...(facts && { facts }) },
      revision: pass.rendered.resultId,
      shotId: pass.shotId,
    })
  }
  return { sheet, store }
}
