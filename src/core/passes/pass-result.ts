import { z } from 'zod'
import type { Channel, ChannelData } from '../picture/channel'
import { decodeChannel } from '../picture/channel'
import type { ParamValues } from '../params'
import type { RenderedLight } from '../scene/rendered-light'
import { ID_PAIRS, NO_SURFACE } from './id'
import type { PassFacts, Surface, Tile } from './pass-kind'
import type { PassKindName } from './registry'
import { passKind } from './registry'

export const surfaceSchema = z.object({
  part: z.string(),
  material: z.string(),
  partName: z.string(),
  materialName: z.string(),
  groups: z.array(z.string()).default([]),
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
}

/** A result's channels with their names and formats. */
export const namedChannels = (result: PassResult): Channel[] =>
  passKind(result.kind)
    .channels(result.lights, result.params)
    .map((spec, i) => ({ ...spec, data: result.channels[i] }))

const STRIPE = 65536

const lookInput = ({ surfaces, lights, params, facts }: PassResult) => ({
  surfaces,
  lights,
  facts,
  rendered: params,
})

/** A rendered pass under a look: straight-alpha display RGBA, 4·width·height. Works in stripes to stay small. */
export function lookAtPass(result: PassResult, look: ParamValues): Float32Array {
  const pass = passKind(result.kind)
  const channels = namedChannels(result)
  const total = result.width * result.height
  const out = new Float32Array(4 * total)
  const planes = channels.map(() => new Float32Array(Math.min(STRIPE, total)))
  for (let start = 0; start < total; start += STRIPE) {
    const count = Math.min(STRIPE, total - start)
    channels.forEach((channel, c) => decodeChannel(channel, start, count, planes[c]))
    pass.look({ ...lookInput(result), count, planes }, look, out.subarray(4 * start, 4 * (start + count)))
  }
  return out
}

/**
 * One rectangle of a rendered pass under a look: straight-alpha display RGBA.
 * @param stride takes one pixel in so many, across and down, for a picture that is shown small.
 * @returns 4·⌈width / stride⌉·⌈height / stride⌉ of the rectangle.
 */
export function lookAtRect(result: PassResult, rect: Tile, look: ParamValues, stride = 1): Float32Array {
  const pass = passKind(result.kind)
  const width = Math.ceil(rect.width / stride)
  const count = width * Math.ceil(rect.height / stride)
  const row = new Float32Array(rect.width)
  const planes = namedChannels(result).map((channel) => {
    const plane = new Float32Array(count)
    for (let y = 0, at = 0; y < rect.height; y += stride, at += width) {
      decodeChannel(channel, (rect.y + y) * result.width + rect.x, rect.width, row)
      for (let x = 0; x < width; x++) plane[at + x] = row[x * stride]
    }
    return plane
  })
  const out = new Float32Array(4 * count)
  pass.look({ ...lookInput(result), count, planes }, look, out)
  return out
}

/**
 * Exact coverage of chosen surfaces, from an ID pass.
 * @param chosen one per surface of the pass: 1 is chosen.
 * @returns Float32Array, width·height, 0…1: the share of each pixel that they cover.
 */
export function surfaceCoverage(idPass: PassResult, chosen: Uint8Array): Float32Array {
  // Numbers beyond the list (an empty pair) read as not chosen.
  const wanted = new Uint8Array(NO_SURFACE + 1)
  wanted.set(chosen)
  const total = idPass.width * idPass.height
  const out = new Float32Array(total)
  for (let k = 0; k < ID_PAIRS; k++) {
    const ids = idPass.channels[k]
    const weights = idPass.channels[ID_PAIRS + k]
    for (let i = 0; i < total; i++) if (wanted[ids[i]]) out[i] += weights[i] / 255
  }
  for (let i = 0; i < total; i++) if (out[i] > 1) out[i] = 1
  return out
}

/** The surface that covers most of a pixel, or null for background. */
export function surfaceAt(idPass: PassResult, x: number, y: number): Surface | null {
  if (x < 0 || y < 0 || x >= idPass.width || y >= idPass.height) return null
  const id = idPass.channels[0][Math.floor(y) * idPass.width + Math.floor(x)]
  return id === NO_SURFACE ? null : (idPass.surfaces[id] ?? null)
}
