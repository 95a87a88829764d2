import { current, type Draft } from 'immer'
import { contentOf, newLayer } from '@/core/sheet/new-layer'
import { layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet, sheetsOf } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { PAPER_SIZES, pagePixels, pageOf, toPx, type PaperSize } from '@/data/page-size'
import { pageAlike, pagesOf } from '@/data/poster-series'
import type { Page, Project, ProjectSheet } from '@/data/project-schema'
import { resizePage } from '@/data/resize-page'
import { changeProject, recordInProject, useProjectStore } from './project-store'
import { changeSheet } from './sheet-actions'

/** What can be done to posters and their pages. Each is one undo step. */

/** The page at work; null while a sheet is. */
export const activePage = (project: Project): ProjectSheet | null => {
  const sheet = activeSheet(project)
  return sheet.page ? sheet : null
}

const PAPER = '#f1e8d8'

/** The paper of a page of some size, as it begins. */
export function newPage(posterId: string, size: PaperSize, isLying = false): Page {
  const { unit, widthMm, heightMm, dpi, bleedMm } = size
  const margin = Math.round(Math.min(widthMm, heightMm) * 0.05 * 10) / 10
  return {
    posterId,
    unit,
    widthMm: isLying ? heightMm : widthMm,
    heightMm: isLying ? widthMm : heightMm,
    dpi,
    bleedMm,
    marginsMm: [margin, margin, margin, margin],
    columns: 6,
    gutterMm: Math.round(margin * 2) / 10,
    baselineMm: 0,
    marks: { crop: true, registration: unit !== 'px' },
  }
}

/** An empty page of a shot. */
const emptyPage = (name: string, shotId: string, page: Page): ProjectSheet => ({
  id: newId(),
  name,
  shotId,
  ...pagePixels(page),
  fit: 'extend',
  blendSpace: 'display',
  background: PAPER,
  roots: [],
  nodes: {},
  page,
})

const freeName = (taken: readonly string[], name: string): string => {
  if (!taken.includes(name)) return name
  for (let n = 2; ; n++) if (!taken.includes(`${name} ${n}`)) return `${name} ${n}`
}

function goTo(draft: Draft<Project>, page: { readonly id: string; readonly shotId: string }): void {
  draft.shotId = page.shotId
  const shot = draft.shots.find(({ id }) => id === page.shotId)
  if (shot) shot.sheetId = page.id
}

/** Begins a poster of the sheet at work: it covers the page. */
export const addPoster = (size: PaperSize): void =>
  changeProject('new poster', (draft) => {
    const at = activeSheet(draft)
    const sheet = at.page ? (sheetsOf(draft, at.shotId)[0] ?? at) : at
    const poster = {
      id: newId(),
      name: freeName(
        draft.posters.map(({ name }) => name),
        'Poster',
      ),
    }
    const page = emptyPage(size.label, sheet.shotId, newPage(poster.id, size))
    const layer = newLayer({
      id: newId(),
      name: sheet.name,
      content: contentOf('sheet', { sheetId: sheet.id, box: [0, 0, 1, 1], focus: [0.5, 0.5] }),
    })
    page.nodes[layer.id] = layer
    page.roots.push(layer.id)
    draft.posters.push(poster)
    draft.sheets.push(page as Draft<ProjectSheet>)
    goTo(draft, page)
  })

/** Adds a page of another format to the series of the page at work, with all that it shows. */
export const addPage = (size: PaperSize, isLying = false): void =>
  changeProject(`new format ${size.label}`, (draft) => {
    const from = activePage(current(draft) as Project)
    if (!from?.page) return
    const { posterId } = from.page
    const own = pagesOf(draft as Project, posterId)
    const name = freeName(
      own.map((page) => page.name),
      isLying ? `${size.label} lying` : size.label,
    )
    const page = newPage(posterId, size, isLying)
    // At its places on that paper, and then what it measures here.
    const made = structuredClone(
      pageAlike({ ...emptyPage(name, from.shotId, from.page), ...sizesOf(from) }, from),
    )
    resizePage(made as Draft<ProjectSheet>, page)
    draft.sheets.push(made as Draft<ProjectSheet>)
    goTo(draft, made)
  })

const sizesOf = ({ width, height }: ProjectSheet) => ({ width, height })

/** Goes to a page: no decision, and no step of undo. */
export const goToPage = (pageId: string): void =>
  recordInProject((draft) => {
    const page = draft.sheets.find(({ id }) => id === pageId)
    if (page?.page) goTo(draft, page)
  })

/** Goes from a page to the sheet that it shows; nothing where none is at work. */
export function leavePages(): void {
  const { project } = useProjectStore.getState()
  const page = project && activePage(project)
  if (!page) return
  recordInProject((draft) => {
    const shown = layersOf(page).flatMap(({ content }) => (content.kind === 'sheet' ? [content.sheetId] : []))
    const sheet =
      draft.sheets.find(({ id, page: own }) => shown.includes(id) && !own) ?? sheetsOf(draft, page.shotId)[0]
    if (sheet) goTo(draft, sheet)
  })
}

/** Removes the page at work; with the last one of a poster, the poster. */
export const removePage = (): void =>
  changeProject('remove a format', (draft) => {
    const page = activePage(current(draft) as Project)
    if (!page?.page) return
    const { posterId } = page.page
    draft.sheets = draft.sheets.filter(({ id }) => id !== page.id)
    draft.kept = draft.kept.filter((state) => state.sheet.id !== page.id)
    delete draft.tracks[page.id]
    const rest = pagesOf(draft as Project, posterId)
    if (rest.length === 0) draft.posters = draft.posters.filter(({ id }) => id !== posterId)
    const other = rest[0] ?? draft.sheets.find((sheet) => sheet.page) ?? sheetsOf(draft, page.shotId)[0]
    goTo(draft, other)
  })

export const renamePage = (name: string): void =>
  changeSheet('rename a format', (sheet) => void (sheet.name = name))

export const renamePoster = (posterId: string, name: string): void =>
  changeProject('rename a poster', (draft) => {
    const poster = draft.posters.find(({ id }) => id === posterId)
    if (poster) poster.name = name
  })

export const removePoster = (posterId: string): void =>
  changeProject('remove a poster', (draft) => {
    const gone = new Set(pagesOf(draft as Project, posterId).map(({ id }) => id))
    draft.sheets = draft.sheets.filter(({ id }) => !gone.has(id))
    draft.kept = draft.kept.filter((state) => !gone.has(state.sheet.id))
    for (const id of gone) delete draft.tracks[id]
    draft.posters = draft.posters.filter(({ id }) => id !== posterId)
    for (const shot of draft.shots)
      if (gone.has(shot.sheetId)) shot.sheetId = sheetsOf(draft, shot.id)[0]?.id ?? shot.sheetId
  })

/** Changes the paper of the page at work; what lies on it follows. */
export const changePage = (label: string, apply: (page: Draft<Page>) => void, merge?: string): void =>
  changeSheet(
    label,
    (sheet) => {
      const before = pageOf(current(sheet) as ProjectSheet)
      const next = structuredClone(before)
      apply(next)
      resizePage(sheet, next)
    },
    merge,
  )

/** A size of type that is read well on a page: so many of its points. */
export const typeSizePx = (page: Page, share: number): number =>
  Math.round(toPx(Math.min(page.widthMm, page.heightMm) * share, page))

/** What a poster begins with where nobody has said. */
export const FIRST_PAPER = PAPER_SIZES.find(({ label }) => label === 'A2') ?? PAPER_SIZES[0]
