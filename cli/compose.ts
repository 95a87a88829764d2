import { availableParallelism } from 'node:os'
import { writeExr } from '@/core/formats/exr'
import { extension } from '@/core/formats/file-bundle'
import { srgbToLinear } from '@/core/math/colour'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { tileGrid } from '@/core/picture/tile-form'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { rowsAlone, type RowsOf } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { EXPORT_SERIES, exportSheet } from '@/core/sheet/export-sheet'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import { nodeHands } from '@/engine/node-hands'
import { rowsTogether } from '@/engine/rows-together'
import { parseOptions, parseSize, wholeNumber } from './arguments'
import { loadProject } from './load-sheet'
import { loadOpenRaster } from './load-openraster'
import { loadSheetFile, type LoadedSheet } from './sheet-file'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

/** Any file that a sheet can be read from. */
function loadSheet(file: string, name: string | undefined): Promise<LoadedSheet> {
  if (name !== undefined && extension(file) !== 'zip')
    throw new UsageError(`--sheet names a sheet of a project (got "${file}")`)
  switch (extension(file)) {
    case 'zip':
      return loadProject(file, false, name)
    case 'ora':
      return loadOpenRaster(file, (note) => void process.stderr.write(`relief compose: ${note}\n`))
    default:
      return loadSheetFile(file)
  }
}

/** What can be written, and how its file ends. */
const FORMATS = { png: 'png', png16: 'png', exr: 'exr', ora: 'ora' } as const
type Format = keyof typeof FORMATS
const isFormat = (name: string): name is Format => Object.hasOwn(FORMATS, name)

/** `relief compose`: a sheet as one picture. */
export async function compose(argv: readonly string[]): Promise<void> {
  const { values, positionals } = parseOptions(argv, {
    out: { type: 'string' },
    size: { type: 'string' },
    sheet: { type: 'string' },
    format: { type: 'string' },
    threads: { type: 'string' },
    overwrite: { type: 'boolean' },
  })
  const [input] = positionals
  const { out } = values
  if (positionals.length !== 1 || !out)
    throw new UsageError('relief compose SHEET.json|PROJECT|FILE.ora --out FILE.png|.exr|.ora')
  const ending = extension(out)
  const format = values.format ?? ending
  if (!isFormat(format))
    throw new UsageError(
      values.format === undefined
        ? `--out takes a .png, .exr or .ora file (got "${out}")`
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
  { size: wanted, sheet: name }: { readonly size?: string; readonly sheet?: string },
  threads: number,
): Promise<void> {
  const { sheet, store } = await loadSheet(input, name)
  const size = wanted ? parseSize(wanted) : { width: sheet.width, height: sheet.height }
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
    } else {
      const kind = format === 'png' ? 'png8' : format
      const options = { ...size, transparent: false }
      await writeWhole(out, exportSheet(sheet, evaluator, resources, kind, options, undefined, rowsOf))
    }
  } finally {
    hands?.close()
  }
}

/** The picture as an EXR: linear light, premultiplied. */
function exrOf({ width, height }: RenderSize, rowsOf: RowsOf): Uint8Array {
  const planes = [0, 1, 2, 3].map(() => new Float32Array(width * height))
  for (const { top, pixels } of rowsOf('floats', () => undefined)) {
    const values = new Float32Array(pixels.buffer)
    for (let i = 0, at = top * width; i < values.length; i += 4, at++) {
      const alpha = values[i + 3]
      for (let c = 0; c < 3; c++) planes[c][at] = alpha > 0 ? srgbToLinear(values[i + c] / alpha) * alpha : 0
      planes[3][at] = alpha
    }
  }
  const names = ['R', 'G', 'B', 'A']
  const channels = planes.map((data, c) => ({ name: names[c], type: 'float' as const, data }))
  return writeExr(width, height, channels)
}
