import { statSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { extension } from '@/core/formats/file-bundle'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { tileGrid } from '@/core/picture/tile-form'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone } from '@/core/sheet/evaluate/picture-rows'
import { posterSvg } from '@/core/poster/poster-svg'
import { posterPdf } from '@/core/poster/poster-pdf'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import type { SheetView } from '@/core/sheet/evaluate/sheet-plan'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { EXPORT_SERIES, exportSheet } from '@/core/sheet/export-sheet'
import { toPx } from '@/data/page-size'
import type { Page } from '@/data/project-schema'
import { nodeHands } from '@/engine/node-hands'
import { rowsTogether } from '@/engine/rows-together'
import { parseOptions, parseSize, wholeNumber } from './arguments'
import { exrOf } from './exr-of'
import { loadProject } from './load-sheet'
import { loadOpenRaster } from './load-openraster'
import { loadSheetFile, type LoadedSheet } from './sheet-file'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

/** Any file that a sheet can be read from. */
async function loadSheet(
  file: string,
  named: { readonly sheet?: string; readonly poster?: string; readonly plate?: string },
): Promise<LoadedSheet & { readonly page?: Page | null }> {
  const isProject =
    extension(file) === 'zip' || (statSync(file, { throwIfNoEntry: false })?.isDirectory() ?? false)
  for (const [option, what] of [
    ['sheet', 'a sheet'],
    ['poster', 'a poster'],
    ['plate', 'a plate'],
  ] as const)
    if (named[option] !== undefined && !isProject)
      throw new UsageError(`--${option} names ${what} of a project (got "${file}")`)
  if (named.sheet !== undefined && named.poster !== undefined)
    throw new UsageError('--sheet and --poster name one thing twice')
  if (named.plate !== undefined && named.poster === undefined)
    throw new UsageError('--plate is of a page: --poster names one')
  if (isProject) return loadProject(file, false, named)
  switch (extension(file)) {
    case 'ora':
      return loadOpenRaster(file, (note) => void process.stderr.write(`relief compose: ${note}\n`))
    default:
      return loadSheetFile(file)
  }
}

/** What can be written, and how its file ends. */
const FORMATS = {
  png: 'png',
  png16: 'png',
  jpg: 'jpg',
  exr: 'exr',
  ora: 'ora',
  pdf: 'pdf',
  svg: 'svg',
} as const
type Format = keyof typeof FORMATS
const isFormat = (name: string): name is Format => Object.hasOwn(FORMATS, name)

export const composeOptions = {
  out: { type: 'string' },
  size: { type: 'string' },
  sheet: { type: 'string' },
  poster: { type: 'string' },
  plate: { type: 'string' },
  author: { type: 'string' },
  outlines: { type: 'boolean' },
  format: { type: 'string' },
  threads: { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

/** `relief compose`: a sheet as one picture. */
export async function compose(argv: readonly string[]): Promise<void> {
  const { values, positionals } = parseOptions(argv, composeOptions)
  const [input] = positionals
  const { out } = values
  if (positionals.length !== 1 || !out)
    throw new UsageError('relief compose SHEET.json|PROJECT|FILE.ora --out FILE.png|.jpg|.exr|.ora|.pdf|.svg')
  const ending = extension(out)
  const format = values.format ?? ending
  if (!isFormat(format))
    throw new UsageError(
      values.format === undefined
        ? `--out takes a .png, .jpg, .exr, .ora, .pdf or .svg file (got "${out}")`
        : `--format takes ${Object.keys(FORMATS).join(', ')} (got "${format}")`,
    )
  if (FORMATS[format] !== ending)
    throw new UsageError(`--format ${format} is written to a .${FORMATS[format]} file (got "${out}")`)
  await refuseExisting(out, values.overwrite ?? false)
  const threads =
    values.threads === undefined
      ? availableParallelism()
      : wholeNumber(values.threads, 'threads', 1, MOST_THREADS)
  await withFolders([out], () => composeTo(input, out, format, values, threads))
}

const MOST_THREADS = 256
/** Memory that threads share is there as a whole from the start; what is not touched takes none. */
const SHARED_BYTES = 768 * 2 ** 20

async function composeTo(
  input: string,
  out: string,
  format: Format,
  {
    size: wanted,
    sheet: name,
    poster,
    plate,
    author = '',
    outlines = false,
  }: {
    readonly size?: string
    readonly sheet?: string
    readonly poster?: string
    readonly plate?: string
    readonly author?: string
    readonly outlines?: boolean
  },
  threads: number,
): Promise<void> {
  const { sheet, store, page } = await loadSheet(input, { sheet: name, poster, plate })
  if (format === 'pdf' && !page)
    throw new UsageError('a .pdf file is of a page: --poster names one of a project')
  if (format === 'svg') {
    const title = poster?.split('/')[0] ?? sheet.name
    await writeWhole(out, new TextEncoder().encode(posterSvg(sheet, page ?? null, title, store.resources)))
    return
  }
  if (format === 'pdf' && wanted !== undefined) throw new UsageError('a .pdf file has the size of its page')
  // Of a page what is left when it is cut: its bleed is for printers, in the .pdf.
  const bleed = page && format !== 'pdf' ? toPx(page.bleedMm, page) : 0
  const cut = { width: Math.round(sheet.width - 2 * bleed), height: Math.round(sheet.height - 2 * bleed) }
  const asked = wanted ? parseSize(wanted) : cut
  const by = { x: asked.width / cut.width, y: asked.height / cut.height }
  const size = { width: Math.round(sheet.width * by.x), height: Math.round(sheet.height * by.y) }
  const crop = {
    x: Math.floor((size.width - asked.width) / 2),
    y: Math.floor((size.height - asked.height) / 2),
    ...asked,
  }
  const { resources } = store
  const tiles = threads > 1 ? new KeptTiles(pictureMemory(SHARED_BYTES, true)) : new KeptTiles()
  const evaluator = new SheetEvaluator(tiles, resources)
  // No more of them than there are tiles to paint.
  const { across, down } = tileGrid(size.width, size.height)
  const helpers = Math.min(threads, across * down) - 1
  const hands = helpers > 0 ? await nodeHands(tiles, helpers, sheet, store) : null
  try {
    const layers = Object.keys(sheet.nodes).length
    const rowsOf = hands
      ? rowsTogether(hands, evaluator, { size, transparent: false }, EXPORT_SERIES, layers)
      : rowsAlone(evaluator, size.width)
    if (format === 'exr') {
      evaluator.begin(planSheet(sheet, { size }, resources), EXPORT_SERIES)
      await writeWhole(out, exrOf(size, rowsOf))
    } else if (format === 'pdf' && page) {
      const rows = (view: SheetView, series: string) =>
        hands ? rowsTogether(hands, evaluator, view, series, layers) : rowsAlone(evaluator, view.size.width)
      const title = [poster?.split('/')[0] ?? sheet.name, ...(plate === undefined ? [] : [plate])].join(', ')
      const bytes = await posterPdf(sheet, page, { title, author, outlines }, evaluator, resources, rows)
      await writeWhole(out, bytes)
    } else if (format !== 'pdf') {
      const kind = format === 'png' ? 'png8' : format === 'jpg' ? 'jpeg' : format
      const dpi = page ? page.dpi * by.y : undefined
      const options = { ...size, transparent: false, dpi, ...(page && { crop }) }
      await writeWhole(out, exportSheet(sheet, evaluator, resources, kind, options, undefined, rowsOf))
    }
  } finally {
    hands?.close()
  }
}
