import { z } from 'zod'
import type { LineDrawing } from '../lines/line-drawing'
import type { Channel, ChannelData } from '../picture/channel'
import type { ParamValues } from '../params'
import type { RenderedLight } from '../scene/rendered-light'
import { ID_PAIRS, NO_SURFACE } from './id'
import type { Surface } from './pass-kind'
import type { PassFacts } from './pass-facts'
import type { PassKindName } from './registry'
import { passKind } from './registry'
import { partRoleSchema } from '../scene/part-role'
import type { Tile } from './tile'

export const surfaceSchema = z.object({
  part: z.string(),
  material: z.string(),
  partName: z.string(),
  materialName: z.string(),
  groups: z.array(z.string()).default([]),
  role: partRoleSchema.optional(),
  opacity: z.number().default(1),
  baseColour: z.tuple([z.number(), z.number(), z.number()]),
})

/** Surfaces as a project document keeps them. */
export const storedSurfaces = (surfaces: readonly Surface[]): z.infer<typeof surfaceSchema>[] =>
  surfaces.map((s) => ({ ...s, groups: [...s.groups], baseColour: [...s.baseColour] }))

/** A rendered pass in memory. */
export interface PassResult {
  readonly kind: PassKindName
  readonly width: number
  readonly height: number
  /** In the order of the pass's channel list. */
  readonly channels: readonly ChannelData[]
  readonly surfaces: readonly Surface[]
  /** The lights it was rendered under, for passes that use them. */
  readonly lights: readonly RenderedLight[]
  /** What it was rendered with. */
  readonly params: ParamValues
  readonly facts: PassFacts
  /** Its lines, for passes that have some. */
  readonly drawing?: LineDrawing | null
}

/** A result's channels with their names and formats. */
export const namedChannels = (result: PassResult): Channel[] =>
  passKind(result.kind)
    .channels(result.lights, result.params)
    .map((spec, i) => ({ ...spec, data: result.channels[i] }))

/**
 * Exact coverage of chosen surfaces, from an ID pass.
 * @param chosen one per surface of the pass: 1 is chosen, 0 is not; numbers between them count as much as they are.
 * @param rect of the pass; all of it where left out.
 * @returns Float32Array, width·height of the rectangle, 0…1: the share of each pixel that they cover.
 */
export function surfaceCoverage(
  idPass: PassResult,
  chosen: Uint8Array | Float32Array,
  rect: Tile = { x: 0, y: 0, width: idPass.width, height: idPass.height },
): Float32Array {
  const out = new Float32Array(rect.width * rect.height)
  const { channels } = idPass
  const [ids, weights] = [channels[0], channels[ID_PAIRS]]
  for (let y = 0, at = 0; y < rect.height; y++) {
    const row = (rect.y + y) * idPass.width + rect.x
    for (let i = row; i < row + rect.width; i++, at++) {
      // Most pixels are one surface's alone. Numbers beyond the list (an empty pair) are not chosen.
      let sum = ids[i] < chosen.length ? (chosen[ids[i]] * weights[i]) / 255 : 0
      if (weights[i] < 255)
        for (let k = 1; k < ID_PAIRS; k++) {
          const id = channels[k][i]
          // The largest come first: after an empty pair there is nothing.
          if (id === NO_SURFACE) break
          if (id < chosen.length) sum += (chosen[id] * channels[ID_PAIRS + k][i]) / 255
        }
      out[at] = sum > 1 ? 1 : sum
    }
  }
  return out
}

/** The surface that covers most of a pixel, or null for background. */
export function surfaceAt(idPass: PassResult, x: number, y: number): Surface | null {
  if (x < 0 || y < 0 || x >= idPass.width || y >= idPass.height) return null
  const id = idPass.channels[0][Math.floor(y) * idPass.width + Math.floor(x)]
  return id === NO_SURFACE ? null : (idPass.surfaces[id] ?? null)
}
