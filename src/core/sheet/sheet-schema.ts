import { z } from 'zod'
import { EFFECT_KINDS } from '../effects/registry'
import { handEditSchema } from '../lines/hand-weights'
import { paramValuesSchema } from '../params'
import { MAX_PICTURE_SIDE } from '../scene/camera'
import { BLEND_MODES } from './blend-modes'

/** See {@link sheetSchema}. */
export const SHEET_FITS = ['extend', 'crop'] as const
export type SheetFit = (typeof SHEET_FITS)[number]

const colour8 = z.string().regex(/^#([0-9a-f]{6}|[0-9a-f]{8})$/i, 'must look like #rrggbb or #rrggbbaa')

/** One line of a mask: the listed parts or materials, joined to the lines above it. */
export const maskTermSchema = z.object({
  join: z.enum(['add', 'subtract', 'intersect']),
  by: z.enum(['part', 'material']),
  keys: z.array(z.string()),
})
export type MaskTerm = z.infer<typeof maskTermSchema>

export const maskSchema = z.object({
  terms: z.array(maskTermSchema),
  /** A grey picture multiplied in, for sheets that come with one; white shows. */
  picture: z.string().nullable().default(null),
  invert: z.boolean(),
  /** Gaussian sigma in sheet pixels. */
  featherPx: z.number().min(0).max(500),
})
export type Mask = z.infer<typeof maskSchema>

export const layerSourceSchema = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('pass'),
    passId: z.string(),
    look: paramValuesSchema,
    /** What was done to its lines by hand. */
    byHand: z.array(handEditSchema).optional(),
  }),
  z.object({
    type: z.literal('fill'),
    colour: colour8,
    /** Second colour of a straight gradient, or null for one colour. */
    to: colour8.nullable(),
    /** 90 runs from the top down. */
    angleDeg: z.number(),
  }),
  z.object({ type: z.literal('picture'), pictureId: z.string() }),
])
export type LayerSource = z.infer<typeof layerSourceSchema>

export const layerEffectSchema = z.object({
  id: z.string(),
  kind: z.enum(EFFECT_KINDS),
  enabled: z.boolean(),
  params: paramValuesSchema,
})
export type LayerEffect = z.infer<typeof layerEffectSchema>

export const layerSchema = z.object({
  id: z.string(),
  name: z.string(),
  visible: z.boolean(),
  mode: z.enum(BLEND_MODES),
  opacity: z.number().min(0).max(1),
  /** Show only where the layer beneath has pixels. */
  confine: z.boolean(),
  source: layerSourceSchema,
  mask: maskSchema.nullable(),
  effects: z.array(layerEffectSchema),
})
export type Layer = z.infer<typeof layerSchema>

/** One illustration: a size and a stack, back first. */
export const sheetSchema = z.object({
  id: z.string(),
  name: z.string(),
  /** The shot whose ID pass its masks are made from. */
  shotId: z.string().optional(),
  width: z.number().int().min(16).max(MAX_PICTURE_SIDE),
  height: z.number().int().min(16).max(MAX_PICTURE_SIDE),
  /** How passes of another shape lie on the sheet: shown whole with room round them, or filling it and cut off. */
  fit: z.enum(SHEET_FITS).default('extend'),
  blendSpace: z.enum(['display', 'linear']),
  /** Colour under all layers; null is transparent. */
  background: colour8.nullable(),
  layers: z.array(layerSchema),
})
export type Sheet = z.infer<typeof sheetSchema>
