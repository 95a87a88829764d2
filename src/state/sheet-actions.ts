import type { Draft } from 'immer'
import { hasSize, isSameShape, resizeSheet } from '@/core/sheet/resize-sheet'
import type { SheetFit } from '@/core/sheet/sheet-schema'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { changeProject } from './project-store'

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
