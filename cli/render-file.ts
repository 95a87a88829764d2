import { writePassBundle, type BundleCost } from '@/core/formats/pass-bundle'
import { PASS_FORMATS, passFile } from '@/core/formats/pass-file'
import type { ParamValues } from '@/core/params'
import type { PassResult } from '@/core/passes/pass-result'

/** What `relief render` writes: pictures, data, or a pass with all that a project keeps of it. */
export const RENDER_FORMATS = [...PASS_FORMATS, 'bundle'] as const
export type RenderFormat = (typeof RENDER_FORMATS)[number]

export const RENDER_ENDINGS: Readonly<Record<RenderFormat, string>> = {
  png: 'png',
  png16: 'png',
  exr: 'exr',
  bundle: 'zip',
}

/** A rendered pass as a file of that format. */
export const renderFile = (
  result: PassResult,
  look: ParamValues,
  format: RenderFormat,
  cost: BundleCost,
): Uint8Array => (format === 'bundle' ? writePassBundle(result, cost) : passFile(result, look, format))
