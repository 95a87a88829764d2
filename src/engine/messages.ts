import { z } from 'zod'
import type { SceneModel } from '@/core/scene/scene-geometry'
import type { LineDrawing } from '@/core/lines/line-drawing'
import { passMembersSchema, type TileResult } from '@/core/passes/render-tile'
import { PASS_KINDS } from '@/core/passes/registry'
import { paramValuesSchema } from '@/core/params'
import { cameraSchema, frameSchema, lensFocusSchema } from '@/core/scene/camera'
import { rigSchema } from '@/core/scene/light-rig'
import type { DenoiseGuides } from '@/core/passes/denoise'
import type { DomeRaster } from '@/core/passes/dome-picture'
import { type Surface } from '@/core/passes/pass-kind'
import type { KeptSurface } from '@/core/passes/surface-cache'
import { effortSchema } from '@/core/passes/effort'
import { CHANNEL_FORMATS, type ChannelData } from '@/core/picture/channel'
import type { SceneTransfer } from './scene-transfer'

/**
 * What crosses between the engine and its workers. Small parts are validated by Zod on arrival; the bulk (meshes,
 * planes) is typed arrays made by the core on either side and checked by instance.
 */
const orderSchema = z.strictObject({
  kind: z.enum(PASS_KINDS),
  params: paramValuesSchema,
  effort: effortSchema,
  members: passMembersSchema.optional(),
  rig: rigSchema.optional(),
  denoise: z.boolean().optional(),
  shownAs: paramValuesSchema.optional(),
})

export const jobSchema = z.strictObject({
  jobId: z.number().int(),
  camera: cameraSchema,
  frame: frameSchema,
  rig: rigSchema,
  focus: lensFocusSchema.optional(),
  seed: z.number().int(),
  orders: z.array(orderSchema),
  /** Looks up what is kept on the surfaces. */
  isKept: z.boolean().default(false),
})
export type Job = z.infer<typeof jobSchema>

export const tileSchema = z.strictObject({
  x: z.number().int(),
  y: z.number().int(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
})

const toWorkerSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('build'),
    request: z.number(),
    models: z.array(z.custom<SceneModel>((v) => typeof v === 'object' && v !== null && 'mesh' in v)),
  }),
  z.strictObject({
    type: z.literal('attach'),
    request: z.number(),
    scene: z.custom<SceneTransfer>((v) => typeof v === 'object' && v !== null && 'tree' in v),
  }),
  z.strictObject({
    type: z.literal('dome'),
    request: z.number(),
    id: z.string(),
    raster: z.custom<DomeRaster>((v) => typeof v === 'object' && v !== null && 'pixels' in v),
  }),
  /** Lays texels on the surfaces for the poses of a turntable, and room for what its passes keep there, … */
  z.strictObject({
    type: z.literal('lay'),
    request: z.number(),
    cameras: z.array(cameraSchema).min(1),
    spacingPx: z.number().positive(),
    lightsStay: z.boolean(),
    frame: frameSchema,
    rig: rigSchema,
    orders: z.array(orderSchema),
  }),
  /** … which all workers share. */
  z.strictObject({
    type: z.literal('surface'),
    request: z.number(),
    surface: z.custom<KeptSurface>((v) => typeof v === 'object' && v !== null && 'layout' in v).nullable(),
  }),
  /** Sent to each worker before the job's tiles; the job before it is forgotten. */
  z.strictObject({ type: z.literal('job'), request: z.number(), job: jobSchema }),
  z.strictObject({
    type: z.literal('tile'),
    request: z.number(),
    jobId: z.number().int(),
    tile: tileSchema,
    /** Which passes of the job; null: all. */
    wanted: z.array(z.boolean()).nullable(),
    cancelFlag: z.custom<Int32Array>((v) => v instanceof Int32Array).nullable(),
  }),
  z.strictObject({
    type: z.literal('draw'),
    request: z.number(),
    camera: cameraSchema,
    frame: frameSchema,
    rig: rigSchema,
    order: orderSchema,
    /** Which of the order's groups of lines. */
    group: z.number().int().min(0),
    /** [0]: not 0 ends it; [1]: how much is done, in thousandths. */
    control: z.custom<Int32Array>((v) => v instanceof Int32Array).nullable(),
  }),
  z.strictObject({
    type: z.literal('denoise'),
    request: z.number(),
    /** Rows of some channels, with their margins. */
    planes: z.array(
      z.strictObject({
        format: z.enum(CHANNEL_FORMATS),
        data: z.custom<ChannelData>((v) => ArrayBuffer.isView(v)),
        raysPerPixel: z.number().positive(),
      }),
    ),
    guides: z.custom<DenoiseGuides>((v) => typeof v === 'object' && v !== null && 'surfaces' in v),
    width: z.number().int().positive(),
    height: z.number().int().positive(),
  }),
])
export type ToWorker = z.infer<typeof toWorkerSchema>
export const parseToWorker = (message: unknown): ToWorker => toWorkerSchema.parse(message)

export interface BuildReport {
  readonly triangles: number
  readonly seconds: number
  readonly bytes: number
}

export type FromWorker =
  | {
      readonly type: 'built'
      readonly request: number
      readonly scene: SceneTransfer
      readonly surfaces: Surface[]
      /** Boxes of the parts, see `RayTree.partBoxes`. */
      readonly partBoxes: Float32Array
      readonly report: BuildReport
    }
  | { readonly type: 'kept'; readonly request: number }
  | { readonly type: 'laid'; readonly request: number; readonly surface: KeptSurface }
  | {
      readonly type: 'tile'
      readonly request: number
      readonly results: TileResult[]
      readonly guides: DenoiseGuides | null
    }
  | {
      readonly type: 'drawn'
      readonly request: number
      readonly drawing: LineDrawing
      readonly rays: number
      readonly seconds: number
    }
  | { readonly type: 'denoised'; readonly request: number; readonly planes: ChannelData[] }
