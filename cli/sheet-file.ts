import path from 'node:path'
import { z } from 'zod'
import { effectKind, findEffect } from '@/core/effects/registry'
import { InvalidValueError, UnreadableFileError } from '@/core/errors'
import { paramControls, paramValuesSchema } from '@/core/params'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { BLEND_MODES } from '@/core/sheet/blend-modes'
import type { Content } from '@/core/sheet/contents/registry'
import { contentOf, evenFill, groupOf, wash, wholePicture } from '@/core/sheet/new-layer'
import { gateSchema, type Mask, type Sheet, type SheetNode } from '@/core/sheet/sheet-schema'
import { terms, type MaskTerm } from '@/core/sheet/terms/registry'
import { TERM_JOINS } from '@/core/sheet/terms/term-kind'
import { decodePicture } from '@/engine/decode-picture'
import { SheetStore } from '@/engine/sheet-store'
import { insideFolder } from './inside-folder'
import { readBytes } from './load-input'

const colour = z.string().regex(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i, 'must look like #rrggbb or #rrggbbaa')

/**
 * A term of a mask. Headless there is no shot: those that ask for one have nothing to say, unless a picture stands in for its pass.
 * What its own fields may be, its kind says.
 */
const termSchema = z.looseObject({
  kind: z.string(),
  /** A picture, for what is made from one. */
  file: z.string().optional(),
  join: z.enum(TERM_JOINS).default('add'),
})
const maskSchema = z.strictObject({
  /** A grey picture; white shows. */
  file: z.string().optional(),
  terms: z.array(termSchema).default([]),
  invert: z.boolean().default(false),
  featherPx: z.number().min(0).max(500).default(0),
  effects: z.array(z.lazy(() => effectSchema)).default([]),
})
const effectSchema = z.strictObject({
  kind: z.string(),
  enabled: z.boolean().default(true),
  opacity: z.number().min(0).max(1).default(1),
  params: paramValuesSchema.default({}),
})
const common = {
  /** For what refers to it. */
  id: z.string().optional(),
  name: z.string().optional(),
  mode: z.enum(BLEND_MODES).default('normal'),
  opacity: z.number().min(0).max(1).default(1),
  visible: z.boolean().default(true),
  confine: z.boolean().default(false),
  gate: gateSchema.partial().nullable().default(null),
  mask: maskSchema.nullish(),
  effects: z.array(effectSchema).default([]),
}

/** The earlier form of a layer: a file or a colour as its source. */
const layer1Schema = z.strictObject({
  ...common,
  source: z.union([z.strictObject({ file: z.string() }), z.strictObject({ fill: colour })]),
})
type Layer1 = z.infer<typeof layer1Schema>
const pictureSchema = z.strictObject({ ...common, type: z.literal('picture'), file: z.string() })
const fillSchema = z.strictObject({ ...common, type: z.literal('fill'), colour })
const washSchema = z.strictObject({ ...common, type: z.literal('wash') })
/** What is worked out from parameters alone. */
const madeSchema = z.strictObject({
  ...common,
  type: z.enum(['texture', 'flare', 'specks']),
  params: paramValuesSchema.default({}),
})
type Common = z.infer<z.ZodObject<typeof common>>
interface GroupLayer extends Common {
  readonly type: 'group'
  readonly isolated: boolean
  readonly children: FileNode[]
}
type FileNode =
  | z.infer<typeof pictureSchema>
  | z.infer<typeof fillSchema>
  | z.infer<typeof washSchema>
  | z.infer<typeof madeSchema>
  | GroupLayer
const groupSchema = z.strictObject({
  ...common,
  type: z.literal('group'),
  isolated: z.boolean().default(true),
  children: z.array(z.lazy((): z.ZodType<FileNode> => nodeSchema)),
})
const nodeSchema = z.discriminatedUnion('type', [
  pictureSchema,
  fillSchema,
  washSchema,
  madeSchema,
  groupSchema,
])
type FileLayer = Layer1 | FileNode

/** SHEET.json: a tree of layers, back first, with pictures beside it. */
const sheetFileSchema = z.strictObject({
  width: z.number().int().min(1).max(MAX_PICTURE_SIDE),
  height: z.number().int().min(1).max(MAX_PICTURE_SIDE),
  blendSpace: z.enum(['display', 'linear']).default('display'),
  background: colour.nullable().default(null),
  layers: z.array(
    z.unknown().transform((layer, context): FileLayer => {
      // Which of the two forms it is says one field, so that what is wrong is said of that form.
      const isFirstForm = typeof layer === 'object' && layer !== null && 'source' in layer
      const parsed = (isFirstForm ? layer1Schema : nodeSchema).safeParse(layer)
      if (parsed.success) return parsed.data
      for (const issue of parsed.error.issues)
        context.issues.push({ code: 'custom', message: issue.message, path: [...issue.path], input: layer })
      return z.NEVER
    }),
  ),
})

/** A sheet and what its layers show. */
export interface LoadedSheet {
  readonly sheet: Sheet
  readonly store: SheetStore
}

/** Reads a SHEET.json and the pictures it names. @throws {UnreadableFileError} naming file and field. */
export async function loadSheetFile(file: string): Promise<LoadedSheet> {
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
  const reader = new LayerReader(file)
  const roots = await reader.read(layers, 'layers')
  const { store, nodes } = reader
  return {
    sheet: { ...rest, id: 'sheet', name: path.basename(file), fit: 'extend', roots, nodes },
    store,
  }
}

/** Turns the layers of a file into nodes, and reads the pictures they name. */
class LayerReader {
  readonly nodes: Record<string, SheetNode> = {}
  readonly store = new SheetStore()
  private count = 0

  constructor(private readonly file: string) {}

  /** @param where for what is said of them: "layers". @returns their ids. */
  async read(layers: readonly FileLayer[], where: string): Promise<string[]> {
    const ids: string[] = []
    for (const [i, layer] of layers.entries()) ids.push(await this.layer(layer, `${where}.${i}`))
    return ids
  }

  private async layer(layer: FileLayer, where: string): Promise<string> {
    const id = layer.id ?? `layer ${this.count++}`
    if (id in this.nodes) throw new UnreadableFileError(this.file, `${where}.id: two layers are called ${id}`)
    const { visible, mode, opacity, confine, gate, mask, effects } = layer
    this.nodes[id] = {
      id,
      name: layer.name ?? nameOf(layer),
      locked: false,
      marker: 'none',
      note: '',
      visible,
      mode,
      opacity,
      confine,
      gate: gate && { own: gate.own ?? null, beneath: gate.beneath ?? null },
      mask: mask ? await this.mask(mask, `${where}.mask`) : null,
      effects: await this.effects(effects, `${where}.effects`),
      content: await this.content(layer, where),
    }
    return id
  }

  private async content(layer: FileLayer, where: string): Promise<Content> {
    if ('source' in layer) {
      if ('fill' in layer.source) return evenFill(layer.source.fill)
      return wholePicture(await this.picture(layer.source.file))
    }
    switch (layer.type) {
      case 'picture':
        return wholePicture(await this.picture(layer.file))
      case 'fill':
        return evenFill(layer.colour)
      case 'wash':
        return wash()
      case 'texture':
      case 'flare':
      case 'specks': {
        const made = contentOf(layer.type, layer.params)
        if (made.kind === 'unreadable')
          throw new UnreadableFileError(this.file, `${where}.params: ${made.why}`)
        return made
      }
      case 'group':
        return groupOf(await this.read(layer.children, `${where}.children`), layer.isolated)
    }
  }

  private async mask(
    { file, terms: own, invert, featherPx, effects }: z.infer<typeof maskSchema>,
    where: string,
  ): Promise<Mask> {
    const all = [...(file === undefined ? [] : [termSchema.parse({ kind: 'picture', file })]), ...own]
    const read: MaskTerm[] = []
    for (const [i, { file: name, ...term }] of all.entries()) {
      const pictureId = name === undefined ? undefined : await this.picture(name)
      const fields =
        term.kind === 'picture' ? { pictureId } : pictureId !== undefined ? { map: pictureId } : {}
      const found = terms.read({ ...term, ...fields })
      if (found.kind === 'unreadable')
        throw new UnreadableFileError(this.file, `${where}.terms.${i}: ${found.why}`)
      read.push(found)
    }
    return { terms: read, invert, featherPx, effects: await this.effects(effects, `${where}.effects`) }
  }

  private async effects(
    list: readonly z.infer<typeof effectSchema>[],
    where: string,
  ): Promise<SheetNode['effects']> {
    const read: SheetNode['effects'] = []
    for (const [i, effect] of list.entries()) read.push(await this.effect(effect, `${where}.${i}`))
    return read
  }

  private async effect({ kind, ...rest }: z.infer<typeof effectSchema>, where: string) {
    try {
      const { version, read, schema } = findEffect(kind) ?? effectKind(kind)
      const { file, ...params } = rest.params
      // A picture in place of a pass, or a table.
      const map = paramControls(schema).find(({ control }) => control === 'map' || control === 'table')
      if (file !== undefined && (!map || typeof file !== 'string'))
        throw new InvalidValueError(`${kind}.file`, 'must not be there: it is made from no file', file)
      const given =
        map && typeof file === 'string' ? { ...params, [map.name]: await this.picture(file) } : params
      return { ...rest, id: where, kind, version, mask: null, params: read(version, given) }
    } catch (cause) {
      if (cause instanceof UnreadableFileError) throw cause
      const why = cause instanceof Error ? cause.message : String(cause)
      throw new UnreadableFileError(this.file, `${where}: ${why}`, { cause })
    }
  }

  /** @returns the picture's id: its name. */
  private async picture(name: string): Promise<string> {
    const { pictures } = this.store
    if (!pictures.has(name)) {
      const full = await insideFolder(path.dirname(this.file), name, this.file)
      pictures.set(name, { picture: await decodePicture(await readBytes(full), full), revision: 1 })
    }
    return name
  }
}

function nameOf(layer: FileLayer): string {
  if ('source' in layer) return 'file' in layer.source ? layer.source.file : 'Fill'
  return layer.type === 'picture' ? layer.file : layer.type[0].toUpperCase() + layer.type.slice(1)
}
