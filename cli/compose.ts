import path from 'node:path'
import { z } from 'zod'
import { EFFECT_KINDS, effectKind } from '@/core/effects/registry'
import { UnreadableFileError } from '@/core/errors'
import type { PassResult } from '@/core/passes/pass-result'
import { activeSheet } from '@/data/active-shot'
import { writeExr } from '@/core/formats/exr'
import { extension } from '@/core/formats/file-bundle'
import { srgbToLinear } from '@/core/math/colour'
import { paramValuesSchema, parseParams } from '@/core/params'
import type { RgbaPicture } from '@/core/picture/rgba-picture'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { BLEND_MODES } from '@/core/sheet/blend-modes'
import { exportSheet } from '@/core/sheet/export-sheet'
import type { SheetResources } from '@/core/sheet/sheet-resources'
import { SheetCompositor } from '@/core/sheet/sheet-compositor'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { decodePicture } from '@/engine/decode-picture'
import { openProjectArchive } from '@/data/project-archive'
import { neededBy, seenAs } from '@/data/sheet-needs'
import { parseOptions, parseSize } from './arguments'
import { fileSourceOf, readBytes } from './load-input'
import { insideFolder } from './inside-folder'
import { UsageError } from './usage-error'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const colour = z.string().regex(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i, 'must look like #rrggbb or #rrggbbaa')

/** SHEET.json: the sheet part of a project, with PNG files beside it. */
const sheetFileSchema = z.strictObject({
  width: z.number().int().min(1).max(MAX_PICTURE_SIDE),
  height: z.number().int().min(1).max(MAX_PICTURE_SIDE),
  blendSpace: z.enum(['display', 'linear']).default('display'),
  background: colour.nullable().default(null),
  layers: z.array(
    z.strictObject({
      name: z.string().optional(),
      source: z.union([z.strictObject({ file: z.string() }), z.strictObject({ fill: colour })]),
      mode: z.enum(BLEND_MODES).default('normal'),
      opacity: z.number().min(0).max(1).default(1),
      visible: z.boolean().default(true),
      mask: z
        .strictObject({
          file: z.string(),
          invert: z.boolean().default(false),
          featherPx: z.number().min(0).default(0),
        })
        .optional(),
      confine: z.boolean().default(false),
      effects: z
        .array(
          z.strictObject({
            kind: z.enum(EFFECT_KINDS),
            enabled: z.boolean().default(true),
            params: paramValuesSchema.default({}),
          }),
        )
        .default([]),
    }),
  ),
})

interface Loaded {
  readonly sheet: Sheet
  readonly resources: SheetResources
}

async function loadSheetFile(file: string): Promise<Loaded> {
  let loose: unknown
  try {
    loose = JSON.parse(new TextDecoder().decode(await readBytes(file)))
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(file, 'is not JSON', { cause })
  }
  const parsed = sheetFileSchema.safeParse(loose)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    throw new UnreadableFileError(file, `${issue.path.join('.') || 'the document'}: ${issue.message}`)
  }
  const { layers, ...rest } = parsed.data
  const pictures = new Map<string, RgbaPicture>()
  const load = async (name: string) => {
    if (pictures.has(name)) return
    const full = await insideFolder(path.dirname(file), name, file)
    pictures.set(name, await decodePicture(await readBytes(full), full))
  }
  for (const [i, layer] of layers.entries()) {
    if ('file' in layer.source) await load(layer.source.file)
    if (layer.mask) await load(layer.mask.file)
    for (const [k, effect] of layer.effects.entries()) {
      try {
        parseParams(effectKind(effect.kind).schema, effect.params, effect.kind)
      } catch (cause) {
        const why = cause instanceof Error ? cause.message : String(cause)
        throw new UnreadableFileError(file, `layers.${i}.effects.${k}: ${why}`, { cause })
      }
    }
  }
  const sheet: Sheet = {
    ...rest,
    id: 'sheet',
    name: path.basename(file),
    fit: 'extend',
    layers: layers.map((layer, i) => ({
      id: `layer${i}`,
      name: layer.name ?? ('file' in layer.source ? layer.source.file : 'Fill'),
      visible: layer.visible,
      mode: layer.mode,
      opacity: layer.opacity,
      confine: layer.confine,
      source:
        'file' in layer.source
          ? { type: 'picture', pictureId: layer.source.file }
          : { type: 'fill', colour: layer.source.fill, to: null, angleDeg: 90 },
      mask: layer.mask
        ? { terms: [], picture: layer.mask.file, invert: layer.mask.invert, featherPx: layer.mask.featherPx }
        : null,
      effects: layer.effects.map((effect, k) => ({ ...effect, id: `effect${k}` })),
    })),
  }
  return {
    sheet,
    resources: { pass: () => null, idPass: () => null, picture: (id) => pictures.get(id) ?? null },
  }
}

async function loadProject(file: string): Promise<Loaded> {
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
    },
  }
}

/** `relief compose`: a sheet as one picture. */
export async function compose(argv: readonly string[]): Promise<void> {
  const { values, positionals } = parseOptions(argv, {
    out: { type: 'string' },
    size: { type: 'string' },
    overwrite: { type: 'boolean' },
  })
  const [input] = positionals
  const { out } = values
  if (positionals.length !== 1 || !out)
    throw new UsageError('relief compose SHEET.json|PROJECT --out FILE.png|.exr|.ora')
  const kind = extension(out)
  if (!['png', 'exr', 'ora'].includes(kind))
    throw new UsageError(`--out takes a .png, .exr or .ora file (got "${out}")`)
  await refuseExisting(out, values.overwrite ?? false)
  await withFolders([out], () => composeTo(input, out, values.size))
}

async function composeTo(input: string, out: string, wanted: string | undefined): Promise<void> {
  const { sheet, resources } =
    extension(input) === 'zip' ? await loadProject(input) : await loadSheetFile(input)
  const size = wanted ? parseSize(wanted) : { width: sheet.width, height: sheet.height }
  const compositor = new SheetCompositor(resources)
  const kind = extension(out)
  if (kind === 'exr') {
    const pixels = compositor.compose(sheet, { size })
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
    return
  }
  const format = kind === 'ora' ? 'ora' : 'png8'
  await writeWhole(out, exportSheet(sheet, compositor, format, { ...size, transparent: false }))
}
