import type { z } from 'zod'
import type { ParamSchema } from '../params'

export interface EffectContext {
  readonly width: number
  readonly height: number
  /** Pixels of this picture per pixel of the sheet: multiplies every length given in sheet pixels. */
  readonly scale: number
}

/** One re-editable step. Adding one is one file with one of these and one line in the registry. */
export interface EffectKind<K extends string, P extends ParamSchema> {
  readonly kind: K
  readonly label: string
  readonly summary: string
  readonly schema: P
  /** Changes `pixels` in place: Float32Array, 4·width·height, straight alpha, display values. */
  readonly apply: (pixels: Float32Array, params: z.infer<P>, context: EffectContext) => void
}

export const defineEffect = <K extends string, P extends ParamSchema>(
  effect: EffectKind<K, P>,
): EffectKind<K, P> => effect
