import { sheetBox } from '@/core/sheet/contents/sheet'
import type { Content } from '@/core/sheet/contents/registry'
import { hasContent, type Sheet, type SheetNode } from '@/core/sheet/sheet-schema'
import { layersOf } from '@/core/sheet/sheet-tree'
import { withWords } from '@/core/sheet/words-in-type'
import type { Camera } from '@/core/scene/camera'
import { STEADY } from '@/core/turn/turn-schema'
import { turnWords } from '@/core/turn/turn-words'
import { laidNodes } from './laid-type'
import { inked } from './page-inks'
import { trimBox } from './page-size'
import { projectWords } from './project-words'
import type { Project, ProjectSheet } from './project-schema'

/** A sheet as it is painted: with the sheets that its layers show, and those that they show. */

const known = new WeakMap<
  ProjectSheet,
  {
    readonly shown: readonly PaintedSheet[]
    readonly camera: Camera | null
    readonly made: PaintedSheet
  }
>()
export type PaintedSheet = Sheet & { readonly shotId: string }

/** The sheet that a layer shows; null for one that shows none. */
export const sheetShownBy = (content: Content): string | null =>
  content.kind === 'sheet' || content.kind === 'mockup' || content.kind === 'fitted' ? content.sheetId : null

/** What stands above what: a mock-up shows pages, a page shows sheets, a sheet shows none. */
const rankOf = ({ page, mockupOf }: ProjectSheet): number => (mockupOf !== undefined ? 2 : page ? 1 : 0)

/** The sheets that layers of a sheet show themselves: none that could show it again. */
export function shownBy(project: Pick<Project, 'sheets'>, sheet: ProjectSheet): ProjectSheet[] {
  const ids = new Set(Object.values(sheet.nodes).map(({ content }) => sheetShownBy(content)))
  return project.sheets.filter((own) => ids.has(own.id) && rankOf(own) < rankOf(sheet))
}

/** All sheets that a sheet is painted from: itself first, then those that it shows, and those that they show. */
export function paintedFrom(project: Pick<Project, 'sheets'>, sheet: ProjectSheet): ProjectSheet[] {
  return [sheet, ...shownBy(project, sheet).flatMap((own) => paintedFrom(project, own))]
}

type PaintedProject = Pick<Project, 'name' | 'models' | 'sheets' | 'shots'>

const wordedSheets = new WeakMap<ProjectSheet, { readonly words: string; readonly made: ProjectSheet }>()

/**
 * A sheet whose type says what its words stand for: of the project, and of a turntable at its beginning, where it is no frame of one.
 * Pages are typed on as they stand, and say what was typed.
 */
export function worded(project: Omit<PaintedProject, 'shots' | 'sheets'>, sheet: ProjectSheet): ProjectSheet {
  const isPlain = sheet.page !== undefined || !layersOf(sheet).some(hasWords)
  if (isPlain) return sheet
  const words = { ...turnWords(STEADY, 0), ...projectWords(project) }
  const key = JSON.stringify(words)
  const held = wordedSheets.get(sheet)
  const made = held?.words === key ? held.made : withWords(sheet, words)
  wordedSheets.set(sheet, { words: key, made })
  return made
}
const hasWords = (node: SheetNode): boolean => hasContent(node, 'type') && node.content.text.includes('{')

/**
 * A sheet with the sheets that its layers show, and where pictures of its shot lie on it; the same object as long as none of
 * them has changed. One that shows no other is as it is.
 */
export function paintedSheet(project: PaintedProject, given: ProjectSheet): PaintedSheet {
  const sheet = worded(project, given)
  const inks = sheet.page?.inks
  const inner = shownBy(project, sheet)
  if (inner.length === 0 && !sheet.page && sheet.mockupOf === undefined) return sheet
  const shot = project.shots.find(({ id }) => id === sheet.shotId) ?? null
  const shown = inner.map((own) => paintedSheet(project, own))
  const held = known.get(sheet)
  const isHeld =
    held?.camera === shot?.camera &&
    held?.shown.length === shown.length &&
    held.shown.every((own, i) => own === shown[i])
  if (held && isHeld) return held.made
  const own = layersOf(sheet).flatMap((node) => {
    if (!hasContent(node, 'sheet')) return []
    const lying = inner.find(({ id }) => id === node.content.sheetId)
    return lying?.shotId === sheet.shotId ? [{ frame: node.content, lying }] : []
  })
  const first = own[0] as (typeof own)[number] | undefined
  // Who paints knows nothing of papers and posters: what changes of them is no change of the picture.
  const { page: _page, mockupOf: _poster, ...bare } = sheet
  const lying: PaintedSheet = { ...bare, ...(first && { lies: liesOf(first, sheet) }) }
  const laid = shot ? { ...lying, nodes: laidNodes(lying, shot) } : lying
  const made: PaintedSheet = {
    ...laid,
    ...(sheet.page && inks?.on && inked(laid, inks, sheet.page.dpi)),
    ...(shot && { seenBy: { camera: shot.camera, frame: shot.frame } }),
    ...(sheet.page && { trim: [...trimBox(sheet.page)] }),
    shown: Object.fromEntries(shown.map((one): [string, Sheet] => [one.id, one])),
  }
  known.set(sheet, { shown, camera: shot?.camera ?? null, made })
  return made
}

/** Where pictures of a page's shot lie on it: where the sheet lies that it shows. */
const liesOf = (
  { frame, lying }: { readonly frame: Parameters<typeof sheetBox>[0]; readonly lying: ProjectSheet },
  sheet: ProjectSheet,
): NonNullable<Sheet['lies']> => ({
  box: [...sheetBox(frame, lying, sheet)],
  width: lying.width,
  height: lying.height,
  fit: lying.fit,
})
