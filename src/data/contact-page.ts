import { contentOf, evenFill, newLayer, passOf } from '@/core/sheet/new-layer'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { activeShot, passesOf } from './active-shot'
import { lookOnSheet } from './look-on-sheet'
import { pagePixels } from './page-size'
import type { Page, Project, ProjectPass, ProjectSheet } from './project-schema'

/** A page with all rendered passes of a shot side by side: an ordinary page, of sheets that each show one pass. */

/** So many fit a small paper; more of them take a larger one. */
const ON_A_SMALL_ONE = 12
const [SMALL, LARGE] = [
  { widthMm: 297, heightMm: 210 },
  { widthMm: 420, heightMm: 297 },
]
const DPI = 200
/** Millimetres. */
const [MARGIN, HEAD, GAP, CAPTION] = [10, 14, 5, 7]
const FONT = 'archivo'
const [INK, QUIET, GROUND] = ['#241f1b', '#6d655c', '#dedbd5']

/** Where pictures of one shape lie on a paper, as large as they can be, in millimetres. */
export interface ContactGrid {
  readonly columns: number
  readonly width: number
  readonly height: number
}

/**
 * The columns that make pictures largest.
 * @param aspect width over height of each. @param across, down the room for all, with a caption under each; millimetres.
 */
export function contactGrid(count: number, aspect: number, across: number, down: number): ContactGrid {
  let best: ContactGrid = { columns: 1, width: 0, height: 0 }
  for (let columns = 1; columns <= Math.max(1, count); columns++) {
    const rows = Math.ceil(count / columns)
    const wide = (across - (columns - 1) * GAP) / columns
    const high = (down - (rows - 1) * GAP) / rows - CAPTION
    const width = Math.max(1, Math.min(wide, high * aspect))
    if (width > best.width) best = { columns, width, height: width / aspect }
  }
  return best
}

/** What is told under a picture. */
const noteOf = ({ rendered }: ProjectPass): string =>
  rendered ? `${rendered.width} × ${rendered.height}, ${rendered.quality}` : ''

/**
 * The page, and the project with what it shows.
 * @returns null where nothing of the shot at work is rendered.
 */
export function contactPage(
  project: Project,
): { readonly project: Project; readonly page: ProjectSheet } | null {
  const shot = activeShot(project)
  const passes = passesOf(project, shot.id).filter(({ rendered }) => rendered)
  if (passes.length === 0) return null
  const paper = passes.length > ON_A_SMALL_ONE ? LARGE : SMALL
  const { widthMm, heightMm } = paper
  const { frame } = shot
  const grid = contactGrid(
    passes.length,
    frame.width / frame.height,
    widthMm - 2 * MARGIN,
    heightMm - 2 * MARGIN - HEAD,
  )
  const page: Page = {
    ...paper,
    posterId: 'contact',
    unit: 'mm',
    dpi: DPI,
    bleedMm: 0,
    marginsMm: [MARGIN, MARGIN, MARGIN, MARGIN],
    columns: 1,
    gutterMm: 0,
    baselineMm: 0,
    marks: { crop: false, registration: false },
  }
  const size = pagePixels(page)
  const perMm = size.width / widthMm
  const box = (x: number, y: number, width: number, height: number) =>
    [x / widthMm, y / heightMm, width / widthMm, height / heightMm] as const
  const words = (
    id: string,
    text: string,
    place: readonly number[],
    mm: number,
    colour: string,
    align = 'start',
  ) =>
    newLayer({
      id,
      name: text,
      content: contentOf('type', {
        text,
        fontId: FONT,
        size: mm * perMm,
        leading: 1,
        colour,
        align,
        box: place,
      }),
    })
  const sheets = passes.map((pass) => aloneOn(project, pass))
  const layers: SheetNode[] = [
    words('contact name', project.name, box(MARGIN, MARGIN, widthMm / 2, 8), 5, INK),
    words(
      'contact shot',
      `${shot.name}, ${passes.length} ${passes.length === 1 ? 'pass' : 'passes'}`,
      box(widthMm / 2, MARGIN + 1.5, widthMm / 2 - MARGIN, 6),
      3.2,
      QUIET,
      'end',
    ),
    ...passes.flatMap((pass, i) => {
      const x = MARGIN + (i % grid.columns) * (grid.width + GAP)
      const y = MARGIN + HEAD + Math.floor(i / grid.columns) * (grid.height + CAPTION + GAP)
      const own = { sheetId: sheets[i].id, box: box(x, y, grid.width, grid.height), focus: [0.5, 0.5] }
      const under = y + grid.height + 1.5
      return [
        newLayer({ id: `contact picture ${pass.id}`, name: pass.name, content: contentOf('sheet', own) }),
        words(`contact name ${pass.id}`, pass.name, box(x, under, grid.width * 0.6, 5), 3, INK),
        words(
          `contact note ${pass.id}`,
          noteOf(pass),
          box(x + grid.width * 0.4, under + 0.3, grid.width * 0.6, 5),
          2.4,
          QUIET,
          'end',
        ),
      ]
    }),
  ]
  const own: ProjectSheet = {
    id: 'contact page',
    name: 'Contact sheet',
    shotId: shot.id,
    ...size,
    fit: 'extend',
    blendSpace: 'display',
    background: '#ffffff',
    // Words in front of pictures: they leave as words.
    roots: [...layers]
      .sort((a, b) => Number(a.content.kind === 'type') - Number(b.content.kind === 'type'))
      .map(({ id }) => id),
    nodes: Object.fromEntries(layers.map((layer) => [layer.id, layer])),
    page,
  }
  return { project: { ...project, sheets: [...project.sheets, ...sheets, own] }, page: own }
}

/** A sheet that shows one pass alone, in the look that it has on the sheet at work. */
function aloneOn(project: Project, pass: ProjectPass): ProjectSheet {
  const look = lookOnSheet(project, pass.id, pass.kind)
  const layers = [
    newLayer({ id: `contact ground ${pass.id}`, name: 'Ground', content: evenFill(GROUND) }),
    newLayer({ id: `contact pass ${pass.id}`, name: pass.name, content: passOf(pass.id, look) }),
  ]
  const { width, height } = pass.rendered ?? activeShot(project).frame
  return {
    id: `contact ${pass.id}`,
    name: pass.name,
    shotId: pass.shotId,
    width,
    height,
    fit: 'extend',
    blendSpace: 'display',
    background: null,
    roots: layers.map(({ id }) => id),
    nodes: Object.fromEntries(layers.map((layer) => [layer.id, layer])),
  }
}
