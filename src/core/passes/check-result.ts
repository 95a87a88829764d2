import { z } from 'zod'
import { validateDrawing } from '../lines/line-drawing'
import { paramValuesSchema } from '../params'
import type { ChannelData, ChannelFormat, ChannelSpec } from '../picture/channel'
import { MAX_PICTURE_SIDE } from '../scene/camera'
import { renderedLightSchema } from '../scene/rendered-light'
import { passFactsSchema } from './pass-facts'
import { surfaceSchema, type PassResult } from './pass-result'
import { PASS_KINDS, passKind } from './registry'

/** What a rendered pass must be, wherever one comes in: from storage, an archive or a worker. */

const side = z.number().int().min(1).max(MAX_PICTURE_SIDE)
/** What is told of a rendered pass beside its pixels and lines. */
export const passHeadSchema = z.object({
  kind: z.enum(PASS_KINDS),
  width: side,
  height: side,
  surfaces: z.array(surfaceSchema),
  lights: z.array(renderedLightSchema),
  params: paramValuesSchema,
  facts: passFactsSchema,
})

const ARRAYS = {
  unorm8: Uint8Array,
  unorm16: Uint16Array,
  uint16: Uint16Array,
  half: Uint16Array,
  float32: Float32Array,
} as const satisfies Readonly<Record<ChannelFormat, unknown>>

/**
 * What is wrong with channels, in words; null where nothing is.
 * @param count how many numbers each must hold.
 */
export function channelsProblem(
  channels: unknown,
  specs: readonly ChannelSpec[],
  count: number,
): string | null {
  if (!Array.isArray(channels)) return 'it has no channels'
  if (channels.length !== specs.length) return `it has ${channels.length} channels, not ${specs.length}`
  for (const [i, { name, format }] of specs.entries()) {
    const channel: unknown = channels[i]
    if (!(channel instanceof ARRAYS[format])) return `channel ${name} is not of ${format}`
    if (channel.length !== count) return `channel ${name} holds ${channel.length} numbers, not ${count}`
  }
  return null
}

/** {@link channelsProblem} as a type: channels that are sound are channel data. */
export const areChannels = (
  channels: unknown,
  specs: readonly ChannelSpec[],
  count: number,
): channels is ChannelData[] => channelsProblem(channels, specs, count) === null

/** What is wrong with a rendered pass, in words; null where nothing is. */
export function passResultProblem(value: unknown): string | null {
  const head = passHeadSchema.safeParse(value)
  if (!head.success) {
    const [issue] = head.error.issues
    return `${issue.path.join('.') || 'the result'}: ${issue.message}`
  }
  const { kind, width, height, lights, params } = head.data
  const { channels, drawing = null } = value as Partial<PassResult>
  const problem = channelsProblem(channels, passKind(kind).channels(lights, params), width * height)
  if (problem) return problem
  if (!passKind(kind).lines) return drawing === null ? null : 'it has lines that its kind has none of'
  if (drawing === null) return 'its lines are missing'
  try {
    return validateDrawing(drawing)[0] ?? null
  } catch {
    return 'its lines are damaged'
  }
}

/** A rendered pass at a boundary. */
export const passResultSchema = z.custom<PassResult>().superRefine((value, context) => {
  const problem = passResultProblem(value)
  if (problem) context.addIssue({ code: 'custom', message: problem })
})
