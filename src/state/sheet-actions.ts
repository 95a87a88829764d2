import { current, type Draft } from 'immer'
import { hasSize, isSameShape, resizeSheet } from '@/core/sheet/resize-sheet'
import { removeNode } from '@/core/sheet/sheet-tree'
import type { SheetFit } from '@/core/sheet/sheet-fit'
import { activeSheet, activeShot, sheetsOf } from '@/data/active-shot'
import { newId, newSheet } from '@/data/new-project'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { changeProject, recordInProject } from './project-store'

/** What can be done to the sheet at work itself. Each is one undo step. */

export const changeSheet = (
  label: string,
  apply: (sheet: Draft<ProjectSheet>, draft: Draft<Project>) => void,
  merge?: string,
): void => changeProject(label, (draft) => apply(activeSheet(draft), draft), merge)

/** How the sheet at work stands to the picture size of its shot. */
export type SheetSize = 'as its shot' | 'another size' | 'another shape'

export function sheetSize(project: Project): SheetSize {
  const [sheet, { frame }] = [activeSheet(project), activeShot(project)]
  if (hasSize(sheet, frame)) return 'as its shot'
  return isSameShape(sheet, frame) ? 'another size' : 'another shape'
}

/** Gives the sheet the size its shot has now, from where on it follows it again. */
export const followShot = (): void =>
  changeSheet('follow the shot', (sheet, draft) => resizeSheet(sheet, activeShot(draft).frame))

/** Says how pictures of another shape lie on the sheet. */
export const setSheetFit = (fit: SheetFit): void =>
  changeSheet(fit === 'crop' ? 'crop to the sheet' : 'extend the sheet', (sheet) => void (sheet.fit = fit))

/** Gives the sheet a size of its own, in pixels. */
export const setSheetSize = (size: { readonly width: number; readonly height: number }): void =>
  changeSheet('sheet size', (sheet) => resizeSheet(sheet, size), 'sheet size')

/** Goes to another sheet of the shot at work: no decision, and no step of undo. */
export const goToSheet = (sheetId: string): void =>
  recordInProject((draft) => {
    if (sheetsOf(draft, activeShot(draft).id).some(({ id }) => id === sheetId))
      activeShot(draft).sheetId = sheetId
  })

/** A name that no other sheet of the shot has: "Sheet 2". */
function nextSheetName(project: Pick<Project, 'sheets'>, shotId: string): string {
  const taken = new Set(sheetsOf(project, shotId).map(({ name }) => name))
  for (let n = taken.size + 1; ; n++) if (!taken.has(`Sheet ${n}`)) return `Sheet ${n}`
}

/** Begins another sheet of the shot at work: empty, of the shot's size; it is then the one at work. */
export const addSheet = (): void =>
  changeProject('new sheet', (draft) => {
    const shot = activeShot(draft)
    shot.sheetId = newId()
    draft.sheets.push(newSheet(nextSheetName(draft, shot.id), current(shot)))
  })

/** A copy of the sheet at work, which is then the one at work. */
export const duplicateSheet = (): void =>
  changeProject('duplicate sheet', (draft) => {
    const shot = activeShot(draft)
    const from = activeSheet(draft)
    const copy = structuredClone(current(from))
    draft.sheets.splice(draft.sheets.indexOf(from) + 1, 0, {
      ...copy,
      id: newId(),
      name: nextSheetName(draft, shot.id),
    })
    shot.sheetId = draft.sheets[draft.sheets.indexOf(from) + 1].id
  })

/** Removes the sheet at work; the last one of a shot stays. */
export const removeSheet = (): void =>
  changeProject('remove sheet', (draft) => {
    const shot = activeShot(draft)
    const own = sheetsOf(draft, shot.id)
    const { id } = activeSheet(draft)
    if (own.length < 2) return
    const at = own.findIndex((sheet) => sheet.id === id)
    shot.sheetId = own[at === 0 ? 1 : at - 1].id
    draft.sheets = draft.sheets.filter((sheet) => sheet.id !== id)
    draft.kept = draft.kept.filter((state) => state.sheet.id !== id)
    draft.turns = draft.turns.filter(({ sheetId }) => sheetId !== id)
  })

export const renameSheet = (name: string): void =>
  changeSheet('rename sheet', (sheet) => void (sheet.name = name))

/** Keeps the sheet at work as it is now under a name, to compare with and to come back to. */
export const keepState = (name: string): void =>
  changeProject(`keep ${name}`, (draft) => {
    const sheet = structuredClone(current(activeSheet(draft)))
    draft.kept.push({ id: newId(), name, at: Date.now(), sheet })
  })

/** Brings the sheet that a state was kept of back to it. */
export const bringBackState = (id: string): void =>
  changeProject('bring back a kept state', (draft) => {
    const state = draft.kept.find((own) => own.id === id)
    const at = draft.sheets.findIndex((sheet) => sheet.id === state?.sheet.id)
    if (!state || at < 0) return
    const sheet = structuredClone(current(state).sheet)
    // What was removed since does not come back with it.
    const has = (list: readonly { readonly id: string }[], id: string) => list.some((own) => own.id === id)
    for (const { id, content } of Object.values(sheet.nodes))
      if (
        (content.kind === 'pass' && !has(draft.passes, content.passId)) ||
        (content.kind === 'picture' && !has(draft.pictures, content.pictureId))
      )
        removeNode(sheet, id)
    draft.sheets[at] = sheet
  })

export const renameState = (id: string, name: string): void =>
  changeProject('rename a kept state', (draft) => {
    const state = draft.kept.find((own) => own.id === id)
    if (state) state.name = name
  })

export const forgetState = (id: string): void =>
  changeProject('forget a kept state', (draft) => {
    draft.kept = draft.kept.filter((own) => own.id !== id)
  })
