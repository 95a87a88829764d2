import { UnreadableFileError } from '../errors'
import type { PassResult } from '../passes/pass-result'
import { namedChannels } from '../passes/pass-result'
import type { PassKindName } from '../passes/registry'
import { passKind } from '../passes/registry'
import type { Channel } from '../picture/channel'
import { encodeChannel } from '../picture/channel'
import type { ExrChannel } from './exr'
import { exrValues, readExr, writeExr } from './exr'

/** A channel as EXR has it. Fractions go out as floats where 16 bits of fixed point hold more than a half would. */
export function toExr(channel: Channel): ExrChannel {
  const { name, format, data } = channel
  if (format === 'half') return { name, type: 'half', data: data as Uint16Array }
  if (format === 'uint16') return { name, type: 'uint', data: Uint32Array.from(data) }
  const max = format === 'unorm8' ? 255 : format === 'unorm16' ? 65535 : 1
  const values = new Float32Array(data.length)
  for (let i = 0; i < values.length; i++) values[i] = data[i] / max
  return { name, type: 'float', data: values }
}

/** A pass's raw channels as an EXR file, under the channel names of the pass. */
export const writePassExr = (result: PassResult): Uint8Array =>
  writeExr(result.width, result.height, namedChannels(result).map(toExr))

/** Names of clay's channels in archives of version 1, when there were always one key and one dome. */
const OLD_NAMES: Readonly<Record<string, string>> = {
  L0: 'key',
  L0h: 'highlight',
  L1up: 'above',
  L1down: 'below',
}

/**
 * Reads back what {@link writePassExr} wrote.
 * @param expected the size it must have, where that is known.
 * @throws {UnreadableFileError} when a channel is missing.
 */
export function readPassExr(
  bytes: Uint8Array,
  kind: PassKindName,
  made: Pick<PassResult, 'surfaces' | 'lights' | 'params' | 'facts'>,
  fileName: string,
  expected?: { readonly width: number; readonly height: number },
): PassResult {
  const { width, height, channels } = readExr(bytes, fileName, expected)
  const data = passKind(kind)
    .channels(made.lights, made.params)
    .map((spec) => {
      const found = channels.find((c) => c.name === spec.name || c.name === OLD_NAMES[spec.name])
      if (!found) throw new UnreadableFileError(fileName, `has no channel ${spec.name}`)
      if (spec.format === 'half' && found.data instanceof Uint16Array) return found.data
      return encodeChannel(spec.format, exrValues(found))
    })
  const { surfaces, lights, params, facts } = made
  return { kind, width, height, channels: data, surfaces, lights, params, facts }
}
