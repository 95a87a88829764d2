import type { PassResult } from '@/core/passes/pass-result'
import { writeExr } from '@/core/formats/exr'
import { extension } from '@/core/formats/file-bundle'
import { srgbToLinear } from '@/core/math/colour'
import type { RgbaPicture } from '@/core/picture/rgba-picture'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { exportSheet } from '@/core/sheet/export-sheet'
import { activeSheet } from '@/data/active-shot'
import { openProjectArchive } from '@/data/project-archive'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { decodePicture } from '@/engine/decode-picture'
import { parseOptions, parseSize } from './arguments'
import { fileSourceOf } from './load-input'
import { loadSheetFile, type LoadedSheet } from './sheet-file'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

async function loadProject(file: string): Promise<LoadedSheet> {
  const archive = await openProjectArchive(await fileSourceOf(file), file)
  const { project } = archive
  const sheet = activeSheet(project)
  const { passes, pictureIds } = neededBy(project, sheet)
  const pictures = new Map<string, RgbaPicture>()
  for (const { id, fileId, name } of project.pictures)
    if (pictureIds.has(id)) pictures.set(id, await decodePicture((await archive.file(fileId)).bytes, name))
  const results = new Map<string, PassResult>()
  for (const pass of passes) {
    if (!pass.rendered) continue
    const result = await archive.result(pass, pass.rendered)
    const { facts, ...seen } = seenAs(project, pass)
    results.set(pass.id, { ...result, ...seen, ...(facts && { facts }) })
  }
  const idPass = passes.find((p) => p.kind === 'id' && p.shotId === sheet.shotId && p.rendered)
  return {
    sheet,
    resources: {
      pass: (id) => results.get(id) ?? null,
      idPass: () => (idPass && results.get(idPass.id)) ?? null,
      picture: (id) => pictures.get(id) ?? null,
      revision: () => '',
      idRevision: () => '',
    },
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
    format: { type: 'string' },
    overwrite: { type: 'boolean' },
  })
  const [input] = positionals
  const { out } = values
  if (positionals.length !== 1 || !out)
    throw new UsageError('relief compose SHEET.json|PROJECT --out FILE.png|.exr|.ora')
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
  await withFolders([out], () => composeTo(input, out, format, values.size))
}

async function composeTo(
  input: string,
  out: string,
  format: Format,
  wanted: string | undefined,
): Promise<void> {
  const { sheet, resources } =
    extension(input) === 'zip' ? await loadProject(input) : await loadSheetFile(input)
  const size = wanted ? parseSize(wanted) : { width: sheet.width, height: sheet.height }
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  if (format !== 'exr') {
    const kind = format === 'png' ? 'png8' : format
    const options = { ...size, transparent: false }
    await writeWhole(out, exportSheet(sheet, evaluator, resources, kind, options))
    return
  }
  evaluator.begin(planSheet(sheet, { size }, resources))
  const pixels = new Float32Array(wholePicture(evaluator, size, 'floats').buffer)
  const planes = [0, 1, 2, 3].map((c) => {
    const plane = new Float32Array(size.width * size.height)
    for (let i = 0; i < plane.length; i++) {
      const alpha = pixels[4 * i + 3]
      // EXR holds linear light, premultiplied.
      if (c === 3) plane[i] = alpha
      else plane[i] = alpha > 0 ? srgbToLinear(pixels[4 * i + c] / alpha) * alpha : 0
    }
    return plane
  })
  const names = ['R', 'G', 'B', 'A']
  const channels = planes.map((data, c) => ({ name: names[c], type: 'float' as const, data }))
  await writeWhole(out, writeExr(size.width, size.height, channels))
}
