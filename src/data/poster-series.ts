import { resizedNode } from '@/core/sheet/resize-sheet'
import type { Content } from '@/core/sheet/contents/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Project, ProjectSheet } from './project-schema'

/**
 * The pages of a poster are one picture in several formats: what is done to a layer on one of them is done on all, but for where
 * it stands and how large it is, which each page has for itself.
 */

/** What of a content each page has for itself: where it lies, and how large. */
const OWN_FIELDS: ReadonlySet<string> = new Set([
  'box',
  'size',
  'centre',
  'turnDeg',
  'corners',
  'way',
  'columns',
  'zoom',
  'focus',
  'from',
  'to',
])

/** Whether a sheet is a page of a poster or a mock-up of one: it is worked on where posters are. */
export const isOfPoster = ({ page, mockupOf }: Pick<ProjectSheet, 'page' | 'mockupOf'>): boolean =>
  page !== undefined || mockupOf !== undefined

/** The poster that a sheet belongs to; null for an illustration. */
export const posterOf = ({ page, mockupOf }: Pick<ProjectSheet, 'page' | 'mockupOf'>): string | null =>
  page?.posterId ?? mockupOf ?? null

/** Mock-ups of a poster. */
export const mockupsOf = (project: Pick<Project, 'sheets'>, posterId: string): ProjectSheet[] =>
  project.sheets.filter(({ mockupOf }) => mockupOf === posterId)

/** Sheets of which it is kept how they looked: those of posters. */
export const sheetsWithLooks = ({ sheets }: Pick<Project, 'sheets'>): string[] =>
  sheets.filter(isOfPoster).map(({ id }) => id)

/** Pages of a poster, in the order of its series. */
export const pagesOf = (project: Pick<Project, 'sheets'>, posterId: string): ProjectSheet[] =>
  project.sheets.filter(({ page }) => page?.posterId === posterId)

/** How much longer a length is on one page than on another: by what they measure. */
export const lengthRatio = (to: ProjectSheet, from: ProjectSheet): number =>
  Math.sqrt((to.width * to.height) / (from.width * from.height))

/**
 * Brings the other pages of each poster in step with the page that was changed.
 * @param before the project before the change.
 */
export function seriesInStep(before: Project, after: Project): Project {
  if (after.posters.length === 0 || before.sheets === after.sheets) return after
  const was = new Map(before.sheets.map((sheet) => [sheet.id, sheet]))
  let sheets = after.sheets
  for (const page of after.sheets) {
    const old = was.get(page.id)
    if (!page.page || !old || old === page || (old.nodes === page.nodes && old.roots === page.roots)) continue
    const { posterId } = page.page
    sheets = sheets.map((other) =>
      other.page?.posterId === posterId && other.id !== page.id && was.get(other.id) === other
        ? pageInStep(other, old, page)
        : other,
    )
  }
  return sheets === after.sheets ? after : { ...after, sheets }
}

/** A page with what was done to another page of its series. */
export function pageInStep(other: ProjectSheet, was: ProjectSheet, now: ProjectSheet): ProjectSheet {
  const by = lengthRatio(other, now)
  const nodes: Record<string, SheetNode> = {}
  for (const [id, node] of Object.entries(now.nodes)) {
    const before = was.nodes[id] as SheetNode | undefined
    const own = other.nodes[id] as SheetNode | undefined
    if (!own) nodes[id] = { ...node, ...resizedNode(node, by) }
    else nodes[id] = before === node ? own : nodeInStep(own, before, node, by)
  }
  return {
    ...other,
    nodes,
    roots: now.roots === was.roots ? other.roots.filter((id) => nodes[id]) : [...now.roots],
    background: now.background === was.background ? other.background : now.background,
    blendSpace: now.blendSpace === was.blendSpace ? other.blendSpace : now.blendSpace,
  }
}

function nodeInStep(own: SheetNode, was: SheetNode | undefined, now: SheetNode, by: number): SheetNode {
  const resized = { ...now, ...resizedNode(now, by) }
  const changed = (key: keyof SheetNode): boolean => was?.[key] !== now[key]
  // Whether it is shown each page says for itself.
  const made: SheetNode = { ...own }
  const put = <K extends keyof SheetNode>(key: K): void => {
    if (changed(key)) made[key] = resized[key]
  }
  for (const key of [
    'name',
    'locked',
    'marker',
    'note',
    'mode',
    'opacity',
    'confine',
    'gate',
    'mask',
    'effects',
  ] as const)
    put(key)
  if (changed('content'))
    made.content = contentInStep(own.content, was?.content, now.content, resized.content)
  return made
}

function contentInStep(own: Content, was: Content | undefined, now: Content, resized: Content): Content {
  if (own.kind !== now.kind) return resized
  const [old, next, scaled] = [was, now, resized] as unknown as Record<string, unknown>[]
  const made: Record<string, unknown> = { ...own }
  for (const key of new Set([...Object.keys(next), ...Object.keys(old ?? {})])) {
    if (OWN_FIELDS.has(key) || old?.[key] === next[key]) continue
    if (next[key] === undefined) delete made[key]
    else made[key] = scaled[key]
  }
  return made as unknown as Content
}

/** A page of another format with all that a page shows, each layer at the same place of it. */
export function pageAlike(page: ProjectSheet, other: ProjectSheet): ProjectSheet {
  const empty: ProjectSheet = { ...page, nodes: {}, roots: [] }
  const made = pageInStep(empty, empty, other)
  return { ...made, roots: [...other.roots], background: other.background, blendSpace: other.blendSpace }
}
