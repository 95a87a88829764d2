import { z } from 'zod'
import { paramValuesSchema, type ParamValues } from '../params'
import { cameraSchema, frameSchema, MAX_PICTURE_SIDE } from '../scene/camera'
import { BLEND_MODES } from './blend-modes'
import { contents, type Content, type ContentKindName, type ContentOf } from './contents/registry'
import { SHEET_FITS } from './sheet-fit'
import { terms, type MaskTerm } from './terms/registry'

const colour8 = z.string().regex(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i, 'must look like #rrggbb or #rrggbbaa')

export interface Mask {
  /** From the first to the last. */
  terms: MaskTerm[]
  invert: boolean
  /** Gaussian sigma of the whole, in sheet pixels. */
  featherPx: number
  /** Worked on it as on a grey picture, at the end. */
  effects: SheetEffect[]
}
export const maskSchema: z.ZodType<Mask> = z.object({
  terms: z.array(terms.schema),
  invert: z.boolean(),
  featherPx: z.number().min(0).max(500),
  effects: z.array(z.lazy(() => sheetEffectSchema)).default([]),
})

const range = z.tuple([z.number(), z.number(), z.number(), z.number()])
const toneRangeSchema = range.refine(
  (edges) => edges.every((edge, i) => edge >= (i === 0 ? 0 : edges[i - 1]) && edge <= 1),
  'must rise from 0 to 1',
)

/** Limits a layer by brightness: nothing up to the first, all between second and third, nothing from the fourth on. */
export const gateSchema = z.object({
  /** Of what the layer itself shows. */
  own: toneRangeSchema.nullable(),
  /** Of what lies beneath it. */
  beneath: toneRangeSchema.nullable(),
})
export type Gate = z.infer<typeof gateSchema>

export interface SheetEffect {
  id: string
  kind: string
  version: number
  enabled: boolean
  /** How much of what it makes replaces what it was given, 0…1. */
  opacity: number
  /** Where it works; null: everywhere. */
  mask: Mask | null
  params: ParamValues
}
/** One step of a list. Which kinds there are, and what their parameters may be, is asked where it is used. */
export const sheetEffectSchema: z.ZodType<SheetEffect> = z.object({
  id: z.string(),
  kind: z.string(),
  version: z.number().int().min(1),
  enabled: z.boolean(),
  opacity: z.number().min(0).max(1),
  mask: maskSchema.nullable(),
  params: paramValuesSchema,
})

/** Colours that cards can be marked with. */
export const MARKERS = ['none', 'clay', 'slate', 'ochre', 'moss', 'plum'] as const
export type Marker = (typeof MARKERS)[number]

/** Characters of a layer's note. */
export const MAX_NOTE = 2000

export const nodeSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** Nothing of it changes until it is unlocked, but whether it is shown. */
  locked: z.boolean().default(false),
  marker: z.enum(MARKERS).default('none'),
  /** What it is for, in the words of who hung it. */
  note: z.string().max(MAX_NOTE).default(''),
  visible: z.boolean(),
  mode: z.enum(BLEND_MODES),
  opacity: z.number().min(0).max(1),
  /** Show only where the layer beneath has pixels. */
  confine: z.boolean(),
  gate: gateSchema.nullable(),
  mask: maskSchema.nullable(),
  effects: z.array(sheetEffectSchema),
  content: contents.schema,
})
/** A layer: what its content shows, through effects, mask and gate, blended by mode and opacity. */
export type SheetNode = z.infer<typeof nodeSchema>
/** A layer of which the content is known. */
export type NodeOf<K extends ContentKindName> = SheetNode & { content: ContentOf<K> }

export const hasContent = <K extends Content['kind']>(node: SheetNode, kind: K): node is NodeOf<K> =>
  node.content.kind === kind

/** A sheet's own: a size and a tree of layers. */
export const treeSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** The shot whose ID pass its masks are made from. */
  shotId: z.string().optional(),
  width: z.number().int().min(16).max(MAX_PICTURE_SIDE),
  height: z.number().int().min(16).max(MAX_PICTURE_SIDE),
  fit: z.enum(SHEET_FITS).default('extend'),
  blendSpace: z.enum(['display', 'linear']),
  /** Colour under all layers; null is transparent. */
  background: colour8.nullable(),
  /** Ids of the layers that lie in no group, back first. */
  roots: z.array(z.string()),
  /** Every layer by its id: patches stay small, and what refers to a layer does so wherever it lies. */
  nodes: z.record(z.string(), nodeSchema),
})

export const liesSchema = z.object({
  /** Of that sheet on this one, in shares: left, top, width, height. */
  box: z.tuple([z.number(), z.number(), z.number(), z.number()]),
  width: z.number(),
  height: z.number(),
  fit: z.enum(SHEET_FITS),
})

export const seenBySchema = z.object({ camera: cameraSchema, frame: frameSchema })
export const trimSchema = z.tuple([z.number(), z.number(), z.number(), z.number()])

/** One illustration, one page of a poster, or a mock-up of it. */
export type Sheet = z.infer<typeof treeSchema> & {
  /** The sheets that its layers show, by their ids: with it wherever it is painted, not stored. */
  shown?: Record<string, Sheet>
  /** Where pictures of its shot lie on it, where they are those of a sheet that it shows. */
  lies?: z.infer<typeof liesSchema>
  /** What its shot is seen by. Not stored. */
  seenBy?: z.infer<typeof seenBySchema>
  /** What of it is left when it is cut, in shares: left, top, right, below; all where left out. Not stored. */
  trim?: z.infer<typeof trimSchema>
}
export const sheetSchema: z.ZodType<Sheet> = treeSchema.extend({
  shown: z
    .record(
      z.string(),
      z.lazy(() => sheetSchema),
    )
    .optional(),
  lies: liesSchema.optional(),
  trim: trimSchema.optional(),
  seenBy: seenBySchema.optional(),
})
