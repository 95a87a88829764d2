import { z } from 'zod'
import type { DisplayPiece } from '@/core/geometry/display-pieces'
import type { MeshReport } from '@/core/geometry/mesh-report'
import type { MeshSummary } from '@/core/geometry/mesh-summary'
import type { OutlinePoints } from '@/core/geometry/outline-points'
import type { Model } from '@/core/geometry/polygon-mesh'
import { PROP_KINDS } from '@/core/geometry/props/registry'
import { repairSchema } from '@/core/geometry/repairs/registry'
import { paramValuesSchema } from '@/core/params'
import type { Asked } from '@/core/workers/worker-channel'

const request = z.number()
export const importRequestSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('file'),
    request,
    entry: z.string(),
    files: z.map(
      z.string(),
      z.custom<Uint8Array>((v) => v instanceof Uint8Array),
    ),
    repairs: z.array(repairSchema),
  }),
  z.strictObject({
    type: z.literal('prop'),
    request,
    prop: z.enum(PROP_KINDS),
    params: paramValuesSchema,
    repairs: z.array(repairSchema),
  }),
  /** The report of the model that this worker has just read. */
  z.strictObject({ type: z.literal('report'), request }),
  /** Asks for the models, and what belongs to them, of a zip. */
  z.strictObject({ type: z.literal('zip'), request, name: z.string(), file: z.instanceof(Blob) }),
])
export type ImportMessage = z.infer<typeof importRequestSchema>
/** What a model is made from. */
export type ImportRequest = Extract<Asked<ImportMessage>, { type: 'file' | 'prop' }>

/** A model as read and repaired, and ready to be drawn. */
export interface ReadModel extends Model {
  /** Paths of the files it came from, its own first. */
  readonly files: readonly string[]
  /** As the interactive view draws it. */
  readonly display: readonly DisplayPiece[]
  /** Fewer triangles that look alike, for while the view moves; none where there are few anyway. */
  readonly coarse: readonly DisplayPiece[]
  readonly outline: OutlinePoints
  readonly summary: MeshSummary
  /** What each repair did, in words. */
  readonly notes: readonly string[]
}

export const IMPORT_STAGES = ['reading', 'repairing', 'looking over'] as const
export type ImportStage = (typeof IMPORT_STAGES)[number]
export type ImportReply =
  | { readonly type: 'model'; readonly request: number; readonly model: ReadModel }
  | { readonly type: 'files'; readonly request: number; readonly files: ReadonlyMap<string, Uint8Array> }
  | { readonly type: 'report'; readonly request: number; readonly report: MeshReport }
