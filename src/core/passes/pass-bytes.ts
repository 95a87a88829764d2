import type { ParamValues } from '../params'
import { bytesPerValue } from '../picture/channel'
import { renderedLights, type RenderedLight } from '../scene/rendered-light'
import type { Rig } from '../scene/light-rig'
import { passKind, type PassKindName } from './registry'
import { memberRig, type PassOrder } from './render-tile'

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

/** Bytes that the channels of a pass will take once it is rendered. @param rig what it is lit by where it has no own. */
export function orderBytes({ kind, params, members, rig: own }: PassOrder, rig: Rig, pixels: number): number {
  return passBytes(kind, renderedLights(memberRig(own ?? rig, members)), params, pixels)
}
