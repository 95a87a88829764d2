import { z } from 'zod'
import { documentChangeSchema } from '@/core/document-changes'
import type { OpenRasterFile } from '@/core/formats/read-openraster'
import { handEditSchema } from '@/core/lines/hand-weights'
import { paramValuesSchema } from '@/core/params'
import { passResultSchema } from '@/core/passes/check-result'
import type { Surface } from '@/core/passes/pass-kind'
import { passFactsSchema } from '@/core/passes/pass-facts'
import { surfaceSchema } from '@/core/passes/pass-result'
import { renderedLightSchema } from '@/core/scene/rendered-light'
import type { Contributions } from '@/core/sheet/evaluate/contributions'
import { SHEET_FORMATS } from '@/core/sheet/export-sheet'
import { SHEET_FITS } from '@/core/sheet/sheet-fit'
import { sheetEffectSchema, sheetSchema } from '@/core/sheet/sheet-schema'
import { tileSchema } from './messages'

/** What the sheet worker may be asked, and what it answers. */

const sizeSchema = z.strictObject({ width: z.number().int().positive(), height: z.number().int().positive() })
const request = z.number()
/** The most views at once. */
export const MOST_VIEWS = 64
const viewSchema = z
  .number()
  .int()
  .min(0)
  .max(MOST_VIEWS - 1)

export const sheetRequestSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('pass'),
    request,
    passId: z.string(),
    shotId: z.string(),
    revision: z.string(),
    result: passResultSchema.nullable(),
  }),
  z.strictObject({
    type: z.literal('picture'),
    request,
    pictureId: z.string(),
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
  /** Whether a picture can be read, and how large it is; nothing is kept of it. */
  z.strictObject({
    type: z.literal('check-picture'),
    request,
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
  /** What an OpenRaster file holds. */
  z.strictObject({
    type: z.literal('read-layers'),
    request,
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
  z.strictObject({ type: z.literal('drop-picture'), request, pictureId: z.string() }),
  /** How large a picture is. */
  z.strictObject({ type: z.literal('picture-size'), request, pictureId: z.string() }),
  /** The sheet that everything else is asked of, … */
  z.strictObject({ type: z.literal('sheet'), request, sheet: sheetSchema }),
  /** … and what changed of it. */
  z.strictObject({ type: z.literal('patch'), request, changes: z.array(documentChangeSchema) }),
  /** Where the newest request of each view is told at once, by its number, if threads share memory. */
  z.strictObject({
    type: z.literal('newest'),
    request,
    numbers: z.custom<Int32Array>((v) => v instanceof Int32Array),
  }),
  /** From now on a view is shown on a canvas, which is as large as its window. */
  z.strictObject({
    type: z.literal('canvas'),
    request,
    view: viewSchema,
    canvas: z.custom<OffscreenCanvas>((v) => typeof v === 'object' && v !== null && 'getContext' in v),
    /** What the whole sheet measures in it. */
    size: sizeSchema,
    window: tileSchema,
  }),
  /** Answered when all that is seen of it stands on its canvas. */
  z.strictObject({
    type: z.literal('show'),
    request,
    view: viewSchema,
    /** Counts up: a newer one ends an older one of the same view. */
    number: z.number().int(),
    seen: z.strictObject({
      x: z.number(),
      y: z.number(),
      width: z.number().min(0),
      height: z.number().min(0),
    }),
    upTo: z.number().int(),
    without: z.string().nullable(),
    /** While a hand moves something. */
    isDraft: z.boolean(),
  }),
  z.strictObject({ type: z.literal('close-view'), request, view: viewSchema }),
  /** The whole sheet cut to a shape, as PNG: from a view if it shows all of it. */
  z.strictObject({ type: z.literal('snapshot'), request, view: viewSchema.nullable(), size: sizeSchema }),
  z.strictObject({ type: z.literal('thumbnail'), request, layerId: z.string(), small: sizeSchema }),
  /** What a layer would become with one more effect; of a wash, what would be seen. */
  z.strictObject({
    type: z.literal('try-effect'),
    request,
    layerId: z.string(),
    effect: sheetEffectSchema,
    small: sizeSchema,
  }),
  /** How much there is of each tone in what a layer shows, or beneath it. */
  z.strictObject({
    type: z.literal('tone-histogram'),
    request,
    layerId: z.string(),
    side: z.enum(['own', 'beneath']),
  }),
  /** What each layer brings to a pixel of the sheet. */
  z.strictObject({
    type: z.literal('contributions'),
    request,
    x: z.number().int().min(0),
    y: z.number().int().min(0),
  }),
  z.strictObject({
    type: z.literal('pass-picture'),
    request,
    passId: z.string(),
    look: paramValuesSchema,
    byHand: z.array(handEditSchema).optional(),
    /** The part to show, in pixels of its shot's picture; null: all of it. */
    part: z.strictObject({ of: sizeSchema, rect: tileSchema }).nullable(),
    size: sizeSchema,
  }),
  /** The lights and base colours of a pass as they are to be seen now. */
  z.strictObject({
    type: z.literal('lights'),
    request,
    passId: z.string(),
    revision: z.string(),
    lights: z.array(renderedLightSchema),
    surfaces: z.array(surfaceSchema),
    /** What its lines follow; null where it has none. */
    facts: passFactsSchema.nullable(),
  }),
  /** The lines of a pass as they are on a layer, as SVG. */
  z.strictObject({
    type: z.literal('lines-file'),
    request,
    passId: z.string(),
    look: paramValuesSchema,
    byHand: z.array(handEditSchema),
    /** The picture's height on paper; null: pixels. */
    heightMm: z.number().positive().nullable(),
  }),
  /** Which parts' lines lie beneath a brush. */
  z.strictObject({
    type: z.literal('lines-beneath'),
    request,
    passId: z.string(),
    path: z.array(z.number()),
    radius: z.number().positive(),
  }),
  z.strictObject({
    type: z.literal('pick'),
    request,
    shotId: z.string(),
    /** How the shot's picture lies under the place pressed. */
    sheet: sizeSchema.extend({ fit: z.enum(SHEET_FITS) }),
    x01: z.number(),
    y01: z.number(),
  }),
  z.strictObject({
    type: z.literal('export'),
    request,
    format: z.enum(SHEET_FORMATS),
    size: sizeSchema,
    transparent: z.boolean(),
  }),
])
export type SheetRequest = z.infer<typeof sheetRequestSchema>

export interface RasterReply {
  readonly width: number
  readonly height: number
  /** Straight 8-bit RGBA. */
  readonly rgba: Uint8ClampedArray<ArrayBuffer>
}
export type SheetReply =
  | { readonly request: number; readonly type: 'done' }
  | ({ readonly request: number; readonly type: 'raster' } & RasterReply)
  | { readonly request: number; readonly type: 'missing' }
  | { readonly request: number; readonly type: 'shown'; readonly milliseconds: number }
  /** A newer request took its place. */
  | { readonly request: number; readonly type: 'ended' }
  | {
      readonly request: number
      readonly type: 'picked'
      readonly surface: Pick<Surface, 'part' | 'material' | 'partName' | 'materialName' | 'groups'> | null
      readonly hasIdPass: boolean
    }
  | { readonly request: number; readonly type: 'parts'; readonly keys: string[] }
  | { readonly request: number; readonly type: 'tones'; readonly tones: number[] }
  | ({ readonly request: number; readonly type: 'contributions' } & Contributions)
  | {
      readonly request: number
      readonly type: 'size'
      readonly width: number
      readonly height: number
    }
  | { readonly request: number; readonly type: 'blob'; readonly blob: Blob }
  | { readonly request: number; readonly type: 'layers'; readonly file: OpenRasterFile }
  | { readonly request: number; readonly type: 'file'; readonly bytes: Uint8Array<ArrayBuffer> }
