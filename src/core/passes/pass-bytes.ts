import type { ParamValues } from '../params'
import { bytesPerValue } from '../picture/channel'
import type { RenderedLight } from '../scene/rendered-light'
import { passKind, type PassKindName } from './registry'

/** Bytes that the channels of a pass take. @param lights those it is rendered with. */
export const passBytes = (
  kind: PassKindName,
  lights: readonly RenderedLight[],
  params: ParamValues,
  pixels: number,
): number =>
  passKind(kind)
    .channels(lights, params)
    .reduce((sum, { format }) => sum + bytesPerValue(format) * pixels, 0)
