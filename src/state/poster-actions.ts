import { current, type Draft } from 'immer'
import { contentOf, newLayer } from '@/core/sheet/new-layer'
import { activeSheet, sheetsOf } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { PAPER_SIZES, pagePixels, pageOf, toPx, type PaperSize } from '@/data/page-size'
import { isOfPoster, pageAlike, pagesOf, posterOf } from '@/data/poster-series'
import type { Page, PageInks, Project, ProjectSheet } from '@/data/project-schema'
import { resizePage } from '@/data/resize-page'
import { paintedFrom } from '@/data/shown-sheets'
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
    // What it is printed in and on is the poster's.
    const { inks, stock } = from.page
    const page = { ...newPage(posterId, size, isLying), ...structuredClone({ inks, stock }) }
    // At its places on that paper, and then what it measures here.
    const made = structuredClone(
      pageAlike({ ...emptyPage(name, from.shotId, from.page), ...sizesOf(from) }, from),
    )
    resizePage(made as Draft<ProjectSheet>, page)
    draft.sheets.push(made as Draft<ProjectSheet>)
    goTo(draft, made)
  })

const sizesOf = ({ width, height }: ProjectSheet) => ({ width, height })

/** Goes to a page or a mock-up: no decision, and no step of undo. */
export const goToPage = (pageId: string): void =>
  recordInProject((draft) => {
    const page = draft.sheets.find(({ id }) => id === pageId)
    if (page && isOfPoster(page as ProjectSheet)) goTo(draft, page)
  })

/** Goes from a page to the sheet that it shows; nothing where none is at work. */
export function leavePages(): void {
  const { project } = useProjectStore.getState()
  const at = project && activeSheet(project)
  if (!at || !isOfPoster(at)) return
  const plain = paintedFrom(project, at).find((own) => !isOfPoster(own))
  recordInProject((draft) => {
    const sheet = draft.sheets.find(({ id }) => id === plain?.id) ?? sheetsOf(draft, at.shotId)[0]
    if (sheet) goTo(draft, sheet)
  })
}

/** Removes the page at work; with the last one of a poster, the poster. */
export const removePage = (): void =>
  changeProject('remove a format', (draft) => {
    const page = activePage(current(draft) as Project)
    if (!page?.page) return
    const { posterId } = page.page
    dropSheets(draft, ({ id }) => id === page.id)
    const rest = pagesOf(draft as Project, posterId)
    if (rest.length === 0) dropPosters(draft, (id) => id === posterId)
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

/** Who made a poster: said in its files. */
export const setPosterAuthor = (posterId: string, author: string): void =>
  changeProject(
    'author of a poster',
    (draft) => {
      const poster = draft.posters.find(({ id }) => id === posterId)
      if (poster) poster.author = author
    },
    `author ${posterId}`,
  )

export const removePoster = (posterId: string): void =>
  changeProject('remove a poster', (draft) => {
    dropPosters(draft, (id) => id === posterId)
  })

/** Drops posters with their pages and mock-ups. */
function dropPosters(draft: Draft<Project>, isGone: (posterId: string) => boolean): void {
  dropSheets(draft, (sheet) => isGone(posterOf(sheet) ?? ''))
  draft.posters = draft.posters.filter(({ id }) => !isGone(id))
}

/** Drops sheets with what is kept of them; shots whose sheet at work goes are given another. */
function dropSheets(draft: Draft<Project>, isGone: (sheet: ProjectSheet) => boolean): void {
  const gone = new Set(draft.sheets.filter((sheet) => isGone(sheet as ProjectSheet)).map(({ id }) => id))
  draft.sheets = draft.sheets.filter(({ id }) => !gone.has(id))
  draft.kept = draft.kept.filter((state) => !gone.has(state.sheet.id))
  draft.turns = draft.turns.filter(({ sheetId }) => !gone.has(sheetId))
  for (const shot of draft.shots)
    if (gone.has(shot.sheetId)) shot.sheetId = sheetsOf(draft, shot.id)[0]?.id ?? shot.sheetId
}

/** Size of a new mock-up, in pixels. */
const MOCKUP_SIZE = { width: 2400, height: 1800 }

/** Shows the page at work on paper: a mock-up of its poster. */
export const addMockup = (): void =>
  changeProject('new mock-up', (draft) => {
    const page = activePage(current(draft) as Project)
    if (!page?.page) return
    const { posterId } = page.page
    const taken = draft.sheets.filter(({ mockupOf }) => mockupOf === posterId).map(({ name }) => name)
    const layer = newLayer({
      id: newId(),
      name: page.name,
      content: contentOf('mockup', { sheetId: page.id }),
    })
    const sheet: ProjectSheet = {
      id: newId(),
      name: freeName(taken, 'On paper'),
      shotId: page.shotId,
      ...MOCKUP_SIZE,
      fit: 'extend',
      blendSpace: 'display',
      background: '#d9d2c6',
      roots: [layer.id],
      nodes: { [layer.id]: layer },
      mockupOf: posterId,
    }
    draft.sheets.push(sheet as Draft<ProjectSheet>)
    goTo(draft, sheet)
  })

/** Removes the mock-up at work, and goes to the page that it shows. */
export const removeMockup = (): void =>
  changeProject('remove a mock-up', (draft) => {
    const at = activeSheet(current(draft) as Project)
    const { mockupOf } = at
    if (mockupOf === undefined) return
    dropSheets(draft, ({ id }) => id === at.id)
    const [first] = pagesOf(draft as Project, mockupOf)
    if (first) goTo(draft, first)
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

/** Changes what the page at work is printed in; all formats of its series with it. */
export const changeInks = (label: string, inks: PageInks, merge?: string): void =>
  changeSeries(label, (page) => void (page.inks = structuredClone(inks)), merge && `inks ${merge}`)

/** Changes what the page at work is printed on; all formats of its series with it. */
export const changeStock = (stock: NonNullable<Page['stock']>, merge?: string): void =>
  changeSeries('stock', (page) => void (page.stock = { ...stock }), merge && `stock ${merge}`)

function changeSeries(label: string, apply: (page: Draft<Page>) => void, merge?: string): void {
  changeProject(
    label,
    (draft) => {
      const posterId = activePage(current(draft) as Project)?.page?.posterId
      for (const sheet of draft.sheets) if (sheet.page && sheet.page.posterId === posterId) apply(sheet.page)
    },
    merge,
  )
}
