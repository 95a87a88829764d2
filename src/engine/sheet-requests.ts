// One file: every message between page and sheet worker with its schema, read side by side.
import { paintShape } from '@/core/paint/paint-grid'
import type { PartDepth } from '@/core/passes/part-depths'
import type { Reads } from '@/core/type/text-contrast'
import type { TypeLayout } from '@/core/type/lay-type'
import type { FontAxis } from '@/core/type/shaper'
import type { TypeFrame } from '@/core/type/type-outlines'
import { cameraSchema, frameSchema } from '@/core/scene/camera'
import { SHOT_MAPS, type ShotMapName } from '@/core/passes/shot-maps'
import { z } from 'zod'
import { documentChangeSchema } from '@/core/document-changes'
import type { OpenRasterFile } from '@/core/formats/read-openraster'
import { brushUseSchema } from '@/core/paint/brush'
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
import type { ParamValues } from '@/core/params'
import type { Scopes } from '@/core/sheet/scopes'
import type { ScenePlane } from '@/core/scene/scene-plane'
import { liesSchema, sheetEffectSchema, sheetSchema } from '@/core/sheet/sheet-schema'
import { tileSchema } from './messages'
import { strokeSchema, type StrokeTile } from './stroke-messages'

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

/** Seven numbers for each moment of a pen; see stroke-desk.ts. */
const samplesSchema = z.custom<Float64Array>((v) => v instanceof Float64Array)

/** What a font says of itself. */
export interface FontFacts {
  readonly family: string
  readonly licence: string
  readonly copyright: string
  readonly axes: readonly FontAxis[]
  /** Tags of its features. */
  readonly features: readonly string[]
}

/** How a block of type is set, without its glyphs: what a caret needs. Sheet pixels. */
export type SeenType = Omit<TypeLayout, 'glyphs'> & {
  readonly frame: TypeFrame
  /** Pairs of characters that stand beside each other in it, in order, each once. */
  readonly pairs: readonly string[]
}

/** A part of a shot for the depth rail. */
export interface StandingPart extends PartDepth {
  /** Its silhouette: side × side bytes, 255 is covered. */
  readonly silhouette: Uint8Array<ArrayBuffer>
}

/** A view that shows again what it was asked for last, and how long that took. */
export interface ShownAgain {
  readonly view: number
  readonly milliseconds: number
}

const carryViewSchema = z.strictObject({
  camera: cameraSchema,
  frame: frameSchema,
  depths: z.custom<Float32Array>((v) => v instanceof Float32Array),
  placed: z.strictObject({ x: z.number(), y: z.number(), width: z.number(), height: z.number() }),
})

/** The view that a sheet is for; null: the one at work, which all others show. */
const beside = viewSchema.nullable().default(null)

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
  /** The files of a font. */
  z.strictObject({
    type: z.literal('font'),
    request,
    fontId: z.string(),
    files: z
      .array(
        z.strictObject({ name: z.string(), bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array) }),
      )
      .min(1)
      .max(16),
  }),
  z.strictObject({ type: z.literal('drop-font'), request, fontId: z.string() }),
  /** What a font says of itself: its files are given before. */
  z.strictObject({ type: z.literal('font-facts'), request, fontId: z.string() }),
  /** How a block of type of the sheet at work is set. */
  z.strictObject({ type: z.literal('type-layout'), request, layerId: z.string() }),
  /** How well a layer of the sheet at work stands out from what lies under it. */
  z.strictObject({ type: z.literal('reads'), request, layerId: z.string() }),
  /** The parts of a shot by how far away they are, with their silhouettes. */
  z.strictObject({
    type: z.literal('part-depths'),
    request,
    shotId: z.string(),
    side: z.number().int().min(8).max(256),
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
  /** A tile that was painted by hand. */
  z.strictObject({
    type: z.literal('paint-tile'),
    request,
    name: z.string(),
    bytes: z.custom<Uint8Array<ArrayBuffer>>((v) => v instanceof Uint8Array && v.byteLength % 2 === 0),
  }),
  /** A stroke that a brush made, by itself. */
  z.strictObject({ type: z.literal('brush-sample'), request, brush: brushUseSchema, size: sizeSchema }),
  /** A pen comes down on the sheet at work, … */
  z.strictObject({ type: z.literal('stroke-begin'), request, stroke: z.number().int(), of: strokeSchema }),
  /** … moves, … */
  z.strictObject({
    type: z.literal('stroke-add'),
    request,
    stroke: z.number().int(),
    samples: samplesSchema,
  }),
  /** … and is lifted: the tiles it changed are told. */
  z.strictObject({
    type: z.literal('stroke-end'),
    request,
    stroke: z.number().int(),
    samples: samplesSchema,
  }),
  /** The sheet knows of a stroke now, or it is to be as if it never was. */
  z.strictObject({ type: z.literal('stroke-forget'), request, stroke: z.number().int() }),
  z.strictObject({ type: z.literal('drop-picture'), request, pictureId: z.string() }),
  /** Tiles that were painted by hand and that no sheet names. */
  z.strictObject({ type: z.literal('drop-paint'), request, names: z.array(z.string()) }),
  /** How large a picture is. */
  z.strictObject({ type: z.literal('picture-size'), request, pictureId: z.string() }),
  /** The sheet that everything else is asked of, or another that one view alone shows; null: there is none any more, … */
  z.strictObject({ type: z.literal('sheet'), request, beside, sheet: sheetSchema.nullable() }),
  /** … and what changed of it. */
  z.strictObject({ type: z.literal('patch'), request, beside, changes: z.array(documentChangeSchema) }),
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
    /** Shows the sheet that is for this view alone. */
    isBeside: z.boolean().default(false),
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
  /** A sheet, small: one that is kept, or of an earlier step. */
  z.strictObject({ type: z.literal('sheet-picture'), request, sheet: sheetSchema, small: sizeSchema }),
  /** How much is how dark in what is seen, in what a layer shows, or in its mask. */
  z.strictObject({
    type: z.literal('scopes'),
    request,
    of: z.enum(['proof', 'layer', 'mask', 'effect']),
    layerId: z.string().nullable(),
    /** Whose input is meant. */
    effectId: z.string().nullable().default(null),
  }),
  /** The colour that goes into an effect at a place of the sheet, in shares of its width and height. */
  z.strictObject({
    type: z.literal('effect-input'),
    request,
    layerId: z.string(),
    effectId: z.string(),
    x: z.number(),
    y: z.number(),
  }),
  /** What a map of the shot says at a place, in shares of the sheet. */
  z.strictObject({
    type: z.literal('map-at'),
    request,
    map: z.enum(Object.keys(SHOT_MAPS) as [ShotMapName, ...ShotMapName[]]),
    /** A pass, or a picture in its place; empty: the shot's own. */
    id: z.string(),
    x: z.number(),
    y: z.number(),
  }),
  /** By which parameters an effect makes what goes into it like a picture. */
  z.strictObject({
    type: z.literal('match-tones'),
    request,
    layerId: z.string(),
    effectId: z.string(),
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
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
  /** Tiles that were painted, as the worker holds them. */
  z.strictObject({ type: z.literal('paint-bytes'), request, names: z.array(z.string()) }),
  /** Paint of a layer of the sheet, carried over from one view to another. */
  z.strictObject({
    type: z.literal('carry-over'),
    request,
    grid: z.strictObject(paintShape),
    from: carryViewSchema,
    to: carryViewSchema,
  }),
  /** The part of a drawing's line between two places of the sheet. */
  z.strictObject({
    type: z.literal('line-between'),
    request,
    /** Passes whose lines are asked, in that order: the first that has one near. */
    passIds: z.array(z.string()),
    /** Sheet pixels. */
    from: z.tuple([z.number(), z.number()]),
    to: z.tuple([z.number(), z.number()]),
    radius: z.number().positive(),
  }),
  /** What has grown on a layer of cracks, as SVG. */
  z.strictObject({
    type: z.literal('grown-lines'),
    request,
    layerId: z.string(),
    heightMm: z.number().positive().nullable(),
  }),
  z.strictObject({
    type: z.literal('pick'),
    request,
    /** What the shot is seen by: the plane of what lies there is then told, too. */
    camera: cameraSchema.nullable(),
    shotId: z.string(),
    /** How the shot's picture lies under the place pressed. */
    sheet: sizeSchema.extend({ fit: z.enum(SHEET_FITS), lies: liesSchema.optional() }),
    x01: z.number(),
    y01: z.number(),
  }),
  z.strictObject({
    type: z.literal('export'),
    request,
    format: z.enum(SHEET_FORMATS),
    size: sizeSchema,
    transparent: z.boolean(),
    crop: tileSchema.optional(),
    dpi: z.number().positive().optional(),
    packing: z.enum(['small', 'quick']).optional(),
    /** It is one of the pictures under a key, whose mean leaves with the last of them; empty before. */
    mean: z.strictObject({ key: z.string(), isLast: z.boolean() }).optional(),
  }),
  /** The sheet at work as a page of a PDF. */
  z.strictObject({
    type: z.literal('poster-svg'),
    request,
    paper: z.strictObject({
      widthMm: z.number().positive(),
      heightMm: z.number().positive(),
      bleedMm: z.number().min(0),
    }),
    title: z.string(),
  }),
  z.strictObject({
    type: z.literal('poster-pdf'),
    request,
    paper: z.strictObject({
      widthMm: z.number().positive(),
      heightMm: z.number().positive(),
      bleedMm: z.number().min(0),
      marks: z.strictObject({ crop: z.boolean(), registration: z.boolean() }),
    }),
    options: z.strictObject({ title: z.string(), author: z.string(), outlines: z.boolean() }),
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
  /** Where the tip is led to, in sheet pixels. */
  | {
      readonly request: number
      readonly type: 'stroke-tip'
      readonly tip: { readonly x: number; readonly y: number } | null
      /** Views that show what was painted already. */
      readonly shown: readonly ShownAgain[]
    }
  | { readonly request: number; readonly type: 'stroke-tiles'; readonly tiles: readonly StrokeTile[] }
  | { readonly request: number; readonly type: 'missing' }
  | { readonly request: number; readonly type: 'shown'; readonly milliseconds: number }
  /** A newer request took its place. */
  | { readonly request: number; readonly type: 'ended' }
  | {
      readonly request: number
      readonly type: 'picked'
      readonly surface: Pick<Surface, 'part' | 'material' | 'partName' | 'materialName' | 'groups'> | null
      readonly hasIdPass: boolean
      /** Null where it was not asked for, or cannot be told. */
      readonly plane: ScenePlane | null
    }
  | { readonly request: number; readonly type: 'parts'; readonly keys: string[] }
  | { readonly request: number; readonly type: 'font-facts'; readonly facts: FontFacts }
  | { readonly request: number; readonly type: 'reads'; readonly reads: Reads }
  | { readonly request: number; readonly type: 'type-layout'; readonly set: SeenType }
  | { readonly request: number; readonly type: 'part-depths'; readonly parts: readonly StandingPart[] }
  | {
      readonly request: number
      readonly type: 'paint-bytes'
      readonly tiles: readonly { readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }[]
    }
  /** What was carried over, and what could not be: tiles under names of their own. */
  | {
      readonly request: number
      readonly type: 'carried'
      readonly carried: readonly StrokeTile[]
      readonly left: readonly StrokeTile[]
      readonly leftShare: number
    }
  | {
      readonly request: number
      readonly type: 'way'
      readonly points: (readonly [number, number])[]
    }
  | { readonly request: number; readonly type: 'tones'; readonly tones: number[] }
  | { readonly request: number; readonly type: 'scopes'; readonly scopes: Scopes }
  | { readonly request: number; readonly type: 'number'; readonly value: number }
  | { readonly request: number; readonly type: 'colour'; readonly rgb: readonly [number, number, number] }
  | { readonly request: number; readonly type: 'params'; readonly params: ParamValues }
  | ({ readonly request: number; readonly type: 'contributions' } & Contributions)
  | {
      readonly request: number
      readonly type: 'size'
      readonly width: number
      readonly height: number
      /** Whether its colours seem to be multiplied by its alpha; null where nothing tells, or nobody asked. */
      readonly premultiplied?: boolean | null
    }
  | { readonly request: number; readonly type: 'blob'; readonly blob: Blob }
  | { readonly request: number; readonly type: 'layers'; readonly file: OpenRasterFile }
  | { readonly request: number; readonly type: 'file'; readonly bytes: Uint8Array<ArrayBuffer> }
