import { sheetBox } from '@/core/sheet/contents/sheet'
import type { Content } from '@/core/sheet/contents/registry'
import { hasContent, type Sheet } from '@/core/sheet/sheet-schema'
import { layersOf } from '@/core/sheet/sheet-tree'
import { inked } from './page-inks'
import { trimBox } from './page-size'
import type { Project, ProjectSheet } from './project-schema'

/** A sheet as it is painted: with the sheets that its layers show, and those that they show. */

const known = new WeakMap<
  ProjectSheet,
  { readonly shown: readonly PaintedSheet[]; readonly made: PaintedSheet }
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

/**
 * A sheet with the sheets that its layers show, and where pictures of its shot lie on it; the same object as long as none of
 * them has changed. One that shows no other is as it is.
 */
export function paintedSheet(project: Pick<Project, 'sheets'>, sheet: ProjectSheet): PaintedSheet {
  const inks = sheet.page?.inks
  const inner = shownBy(project, sheet)
  if (inner.length === 0 && !sheet.page) return sheet
  const shown = inner.map((own) => paintedSheet(project, own))
  const held = known.get(sheet)
  if (held?.shown.length === shown.length && held.shown.every((own, i) => own === shown[i])) return held.made
  const own = layersOf(sheet).flatMap((node) => {
    if (!hasContent(node, 'sheet')) return []
    const lying = inner.find(({ id }) => id === node.content.sheetId)
    return lying?.shotId === sheet.shotId ? [{ frame: node.content, lying }] : []
  })
  const first = own[0] as (typeof own)[number] | undefined
  const made: PaintedSheet = {
    ...sheet,
    ...(inks?.on && inked(sheet, inks)),
    ...(sheet.page && { trim: [...trimBox(sheet.page)] }),
    shown: Object.fromEntries(shown.map((one): [string, Sheet] => [one.id, one])),
    ...(first && {
      lies: {
        box: [...sheetBox(first.frame, first.lying, sheet)],
        width: first.lying.width,
        height: first.lying.height,
        fit: first.lying.fit,
      },
    }),
  }
  known.set(sheet, { shown, made })
  return made
}
