import { UnreadableFileError } from '@/core/errors'
import { activeSheet } from '@/data/active-shot'
import { statSync } from 'node:fs'
import { openProjectArchive, openProjectEntries, type OpenArchive } from '@/data/project-archive'
import { paintOf } from '@/data/stored-paint'
import { plateOf } from '@/data/page-inks'
import { pictureFile } from '@/data/project-pictures'
import { isOfPoster, mockupsOf, pagesOf } from '@/data/poster-series'
import type { Page, Project, ProjectSheet } from '@/data/project-schema'
import { neededBy, seenAs, type Needed } from '@/data/sheet-needs'
import { paintedSheet } from '@/data/shown-sheets'
import { decodePicture } from '@/engine/decode-picture'
import { SheetStore } from '@/engine/sheet-store'
import { fileSourceOf } from './load-input'
import { projectFont } from './project-fonts'
import type { LoadedSheet } from './sheet-file'
import { unpackedProject } from './unpacked-project'

/**
 * A sheet of a project archive, and what it shows.
 * @param takesAll all passes that are rendered, not only those that it shows.
 * @param named of the sheet, or of a poster and one of its formats; left out, the sheet at work.
 * @throws {UnreadableFileError} where there is none of that name, with those that there are.
 */
export async function loadProject(
  file: string,
  takesAll = false,
  named: { readonly sheet?: string; readonly poster?: string; readonly plate?: string } = {},
): Promise<LoadedProject> {
  const isFolder = statSync(file, { throwIfNoEntry: false })?.isDirectory() ?? false
  const archive = isFolder
    ? await openProjectEntries(unpackedProject(file), file)
    : await openProjectArchive(await fileSourceOf(file), file)
  const { project } = archive
  const found =
    named.poster === undefined
      ? sheetNamed(project, named.sheet, file)
      : pageNamed(project, named.poster, file)
  const sheet = named.plate === undefined ? found : plateNamed(found, named.plate, file)
  const needed = neededBy(project, sheet)
  const { passes } = needed
  const store = await storeOfFiles(archive, needed, file)
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
  return { sheet: paintedSheet(project, sheet), store, page: sheet.page ?? null, project }
}

/** What a sheet shows besides passes: pictures, what was painted by hand, fonts. @param file as it is called in messages. */
export async function storeOfFiles(
  archive: Pick<OpenArchive, 'project' | 'file' | 'paint'>,
  { pictureIds, paint, fontIds }: Needed,
  file: string,
): Promise<SheetStore> {
  const { project } = archive
  const store = new SheetStore()
  await bringPictures(store, archive, pictureIds)
  for (const [name, form] of paintOf([project])) {
    const bytes = paint.has(name) ? await archive.paint(name, form) : null
    if (bytes) store.paint.set(name, new Uint16Array(bytes.buffer))
  }
  for (const fontId of fontIds) {
    const files = await projectFont(archive, fontId)
    if (!files) throw new UnreadableFileError(file, `its type is set in a font that is not there (${fontId})`)
    store.fonts.set(fontId, files)
  }
  return store
}

/** Brings pictures to a store that it does not have, and drops those that are not asked for any more. */
export async function bringPictures(
  store: SheetStore,
  archive: Pick<OpenArchive, 'project' | 'file'>,
  pictureIds: ReadonlySet<string>,
): Promise<void> {
  for (const id of store.pictures.keys()) if (!pictureIds.has(id)) store.pictures.delete(id)
  for (const id of pictureIds) {
    const own = store.pictures.has(id) ? null : pictureFile(archive.project, id)
    if (!own) continue
    const picture = await decodePicture((await archive.file(own.fileId)).bytes, own.name)
    store.pictures.set(id, { picture, revision: 1 })
  }
}

/** A sheet of a project, the page that it is, if it is one, and what it is painted from. */
export interface LoadedProject extends LoadedSheet {
  readonly page: Page | null
  readonly project: Project
}

const quoted = (names: readonly string[]): string => names.map((name) => `"${name}"`).join(', ')

export function sheetNamed(project: Project, name: string | undefined, file: string): ProjectSheet {
  if (name === undefined) return activeSheet(project)
  const sheets = project.sheets.filter((sheet) => !isOfPoster(sheet))
  const found = sheets.find((own) => own.name === name)
  if (found) return found
  throw new UnreadableFileError(file, `has no sheet "${name}", but ${quoted(sheets.map((own) => own.name))}`)
}

/** One plate of a page that is printed in inks, by the ink's name. */
function plateNamed(page: ProjectSheet, named: string, file: string): ProjectSheet {
  const inks = page.page?.inks
  if (!inks?.on) throw new UnreadableFileError(file, `prints ${page.name} in no inks of its own`)
  const found = inks.list.find(({ name }) => name === named)
  if (found) return plateOf(page, found.id)
  throw new UnreadableFileError(
    file,
    `has no ink "${named}" on ${page.name}, but ${quoted(inks.list.map(({ name }) => name))}`,
  )
}

/**
 * A page by its poster's name and its format's, "Tide Fair/Square", or a mock-up by its own; without either the first of the
 * series.
 */
function pageNamed(project: Project, named: string, file: string): ProjectSheet {
  if (project.posters.length === 0) throw new UnreadableFileError(file, 'has no poster')
  const all = project.posters.flatMap(({ id, name }) =>
    pagesOf(project, id)
      .flatMap((page, i) => [...(i === 0 ? [{ name, page }] : []), { name: `${name}/${page.name}`, page }])
      .concat(mockupsOf(project, id).map((page) => ({ name: `${name}/${page.name}`, page }))),
  )
  const found = all.find(({ name }) => name === named)
  if (found) return found.page
  throw new UnreadableFileError(file, `has no poster "${named}", but ${quoted(all.map(({ name }) => name))}`)
}
