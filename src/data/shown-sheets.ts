import { sheetBox } from '@/core/sheet/contents/sheet'
import { hasContent, type Sheet, type ShownSheet } from '@/core/sheet/sheet-schema'
import { layersOf } from '@/core/sheet/sheet-tree'
import type { Project, ProjectSheet } from './project-schema'

/** A sheet as it is painted: with the sheets that its layers show. */

const known = new WeakMap<
  ProjectSheet,
  { readonly shown: readonly ProjectSheet[]; readonly made: PaintedSheet }
>()
export type PaintedSheet = Sheet & { readonly shotId: string }

/** The sheets that layers of a sheet show; pages are shown by none. */
export function shownBy(project: Pick<Project, 'sheets'>, sheet: Pick<Sheet, 'nodes'>): ProjectSheet[] {
  const ids = new Set(
    Object.values(sheet.nodes).flatMap(({ content }) => (content.kind === 'sheet' ? [content.sheetId] : [])),
  )
  return project.sheets.filter(({ id, page }) => ids.has(id) && !page)
}

/**
 * A sheet with the sheets that its layers show, and where pictures of its shot lie on it; the same object as long as none of
 * them has changed. One that shows no other is as it is.
 */
export function paintedSheet(project: Pick<Project, 'sheets'>, sheet: ProjectSheet): PaintedSheet {
  const shown = shownBy(project, sheet)
  if (shown.length === 0) return sheet
  const held = known.get(sheet)
  if (held?.shown.length === shown.length && held.shown.every((own, i) => own === shown[i])) return held.made
  const own = layersOf(sheet).flatMap((node) => {
    if (!hasContent(node, 'sheet')) return []
    const inner = shown.find(({ id }) => id === node.content.sheetId)
    return inner?.shotId === sheet.shotId ? [{ frame: node.content, inner }] : []
  })
  const first = own[0] as (typeof own)[number] | undefined
  const made: PaintedSheet = {
    ...sheet,
    shown: Object.fromEntries(shown.map((inner): [string, ShownSheet] => [inner.id, inner])),
    ...(first && {
      lies: {
        box: [...sheetBox(first.frame, first.inner, sheet)],
        width: first.inner.width,
        height: first.inner.height,
        fit: first.inner.fit,
      },
    }),
  }
  known.set(sheet, { shown, made })
  return made
}
