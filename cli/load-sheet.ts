import { activeSheet } from '@/data/active-shot'
import { openProjectArchive } from '@/data/project-archive'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { decodePicture } from '@/engine/decode-picture'
import { SheetStore } from '@/engine/sheet-store'
import { fileSourceOf } from './load-input'
import type { LoadedSheet } from './sheet-file'

/**
 * The sheet at work of a project archive, and what it shows.
 * @param takesAll all passes that are rendered, not only those that it shows.
 * @throws {UnreadableFileError}
 */
export async function loadProject(file: string, takesAll = false): Promise<LoadedSheet> {
  const archive = await openProjectArchive(await fileSourceOf(file), file)
  const { project } = archive
  const sheet = activeSheet(project)
  const { passes, pictureIds } = neededBy(project, sheet)
  const store = new SheetStore()
  for (const { id, fileId, name } of project.pictures) {
    if (!pictureIds.has(id)) continue
    const picture = await decodePicture((await archive.file(fileId)).bytes, name)
    store.pictures.set(id, { picture, revision: 1 })
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
