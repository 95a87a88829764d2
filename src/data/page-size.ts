import type { Page, ProjectSheet } from './project-schema'

/** Sizes of paper and screens, and what is worked out from them. */

export interface PaperSize {
  readonly label: string
  readonly group: 'A' | 'B' | 'Inches' | 'Screens'
  readonly unit: Page['unit']
  readonly widthMm: number
  readonly heightMm: number
  readonly dpi: number
  readonly bleedMm: number
}

export const MM_PER_INCH = 25.4
const SCREEN_DPI = 96

const paper = (group: 'A' | 'B', label: string, widthMm: number, heightMm: number): PaperSize => ({
  label,
  group,
  unit: 'mm',
  widthMm,
  heightMm,
  dpi: 300,
  bleedMm: 3,
})
const inches = (width: number, height: number): PaperSize => ({
  label: `${width} × ${height} in`,
  group: 'Inches',
  unit: 'in',
  widthMm: width * MM_PER_INCH,
  heightMm: height * MM_PER_INCH,
  dpi: 300,
  bleedMm: MM_PER_INCH / 8,
})
const screen = (label: string, width: number, height: number): PaperSize => ({
  label,
  group: 'Screens',
  unit: 'px',
  widthMm: (width * MM_PER_INCH) / SCREEN_DPI,
  heightMm: (height * MM_PER_INCH) / SCREEN_DPI,
  dpi: SCREEN_DPI,
  bleedMm: 0,
})

/** Upright; ISO 216, then inches, then what is seen on screens. */
export const PAPER_SIZES: readonly PaperSize[] = [
  paper('A', 'A5', 148, 210),
  paper('A', 'A4', 210, 297),
  paper('A', 'A3', 297, 420),
  paper('A', 'A2', 420, 594),
  paper('A', 'A1', 594, 841),
  paper('B', 'B4', 250, 353),
  paper('B', 'B3', 353, 500),
  paper('B', 'B2', 500, 707),
  paper('B', 'B1', 707, 1000),
  inches(8.5, 11),
  inches(11, 17),
  inches(12, 18),
  inches(18, 24),
  inches(24, 36),
  screen('Square', 1080, 1080),
  screen('Story', 1080, 1920),
  screen('Banner', 2000, 500),
]

export const toPx = (mm: number, { dpi }: Pick<Page, 'dpi'>): number => (mm / MM_PER_INCH) * dpi
export const toMm = (px: number, { dpi }: Pick<Page, 'dpi'>): number => (px * MM_PER_INCH) / dpi

/** A length of a page in the unit that it is shown in. */
export const inUnit = (mm: number, { unit, dpi }: Pick<Page, 'unit' | 'dpi'>): number =>
  unit === 'mm' ? mm : unit === 'in' ? mm / MM_PER_INCH : (mm / MM_PER_INCH) * dpi
export const fromUnit = (value: number, { unit, dpi }: Pick<Page, 'unit' | 'dpi'>): number =>
  unit === 'mm' ? value : unit === 'in' ? value * MM_PER_INCH : (value * MM_PER_INCH) / dpi

/** Pixels of a page with its bleed. */
export const pagePixels = (page: Pick<Page, 'widthMm' | 'heightMm' | 'bleedMm' | 'dpi'>) => ({
  width: Math.max(16, Math.round(toPx(page.widthMm + 2 * page.bleedMm, page))),
  height: Math.max(16, Math.round(toPx(page.heightMm + 2 * page.bleedMm, page))),
})

/** Where the paper is cut, in shares of the page with its bleed: left, top, right, below. */
export const trimBox = (page: Pick<Page, 'widthMm' | 'heightMm' | 'bleedMm'>) => {
  const x = page.bleedMm / (page.widthMm + 2 * page.bleedMm)
  const y = page.bleedMm / (page.heightMm + 2 * page.bleedMm)
  return [x, y, 1 - x, 1 - y] as const
}

/** Where its margins lie, in shares of the page with its bleed. */
export const marginBox = (page: Pick<Page, 'widthMm' | 'heightMm' | 'bleedMm' | 'marginsMm'>) => {
  const [top, right, bottom, left] = page.marginsMm
  const [x0, y0, x1, y1] = trimBox(page)
  const [across, down] = [page.widthMm + 2 * page.bleedMm, page.heightMm + 2 * page.bleedMm]
  return [x0 + left / across, y0 + top / down, x1 - right / across, y1 - bottom / down] as const
}

/** The page of a sheet that is one. @throws where it is none: a mistake of this application's. */
export function pageOf(sheet: Pick<ProjectSheet, 'page' | 'name'>): Page {
  if (!sheet.page) throw new Error(`${sheet.name} is no page`)
  return sheet.page
}

/** How a size is called: "420 × 594 mm". */
export function sizeInWords(page: Pick<Page, 'unit' | 'dpi' | 'widthMm' | 'heightMm'>): string {
  const rounded = (mm: number) =>
    String(Number(inUnit(mm, page).toFixed(page.unit === 'in' ? 2 : page.unit === 'px' ? 0 : 1)))
  return `${rounded(page.widthMm)} × ${rounded(page.heightMm)} ${page.unit}`
}
