import { assertNever, InvalidValueError } from '../errors'
import { floatsToHalves, halfToFloat } from './half-float'

/** How a channel's numbers are kept: the narrowest that holds them. */
export const CHANNEL_FORMATS = ['unorm8', 'unorm16', 'uint16', 'half', 'float32'] as const
export type ChannelFormat = (typeof CHANNEL_FORMATS)[number]

export interface ChannelSpec {
  readonly name: string
  readonly format: ChannelFormat
}

export type ChannelData = Uint8Array | Uint16Array | Float32Array

/** One plane of numbers, width × height, row by row from the top. */
export interface Channel extends ChannelSpec {
  readonly data: ChannelData
}

export const bytesPerValue = (format: ChannelFormat): number =>
  ({ unorm8: 1, unorm16: 2, uint16: 2, half: 2, float32: 4 })[format]

/** Zeroed storage for `count` values. */
export function allocateChannel(format: ChannelFormat, count: number): ChannelData {
  switch (format) {
    case 'unorm8':
      return new Uint8Array(count)
    case 'unorm16':
    case 'uint16':
    case 'half':
      return new Uint16Array(count)
    case 'float32':
      return new Float32Array(count)
    default:
      return assertNever(format)
  }
}

/** Views raw bytes as a channel's storage. @throws {InvalidValueError} when the length does not fit. */
export function viewChannel(format: ChannelFormat, buffer: ArrayBuffer, count: number): ChannelData {
  const expected = bytesPerValue(format) * count
  if (buffer.byteLength !== expected) {
    throw new InvalidValueError('channel', `must hold ${expected} bytes`, buffer.byteLength)
  }
  return channelAt(format, buffer, 0, count)
}

/** A channel's storage within a buffer, from a byte on. */
export function channelAt(
  format: ChannelFormat,
  buffer: ArrayBuffer,
  at: number,
  count: number,
): ChannelData {
  if (format === 'unorm8') return new Uint8Array(buffer, at, count)
  return format === 'float32' ? new Float32Array(buffer, at, count) : new Uint16Array(buffer, at, count)
}

/**
 * Numbers into a channel's own format; unorm formats clamp to 0…1 and round to nearest.
 * @param out where they are written, as many as there are values.
 */
export function encodeChannel(
  format: ChannelFormat,
  values: Float32Array,
  out = allocateChannel(format, values.length),
): ChannelData {
  switch (format) {
    case 'unorm8':
      for (let i = 0; i < values.length; i++) out[i] = Math.min(1, Math.max(0, values[i])) * 255 + 0.5
      break
    case 'unorm16':
      for (let i = 0; i < values.length; i++) out[i] = Math.min(1, Math.max(0, values[i])) * 65535 + 0.5
      break
    case 'half':
      floatsToHalves(values, out as Uint16Array)
      break
    case 'uint16':
    case 'float32':
      out.set(values)
      break
    default:
      assertNever(format)
  }
  return out
}

/** Values `start` … `start + count − 1` of a channel as numbers, written to `out` from a place on. */
export function decodeChannel(
  channel: Channel,
  start: number,
  count: number,
  out: Float32Array,
  at = 0,
): void {
  const { data, format } = channel
  switch (format) {
    case 'unorm8':
      for (let i = 0; i < count; i++) out[at + i] = data[start + i] / 255
      break
    case 'unorm16':
      for (let i = 0; i < count; i++) out[at + i] = data[start + i] / 65535
      break
    case 'half':
      for (let i = 0; i < count; i++) out[at + i] = halfToFloat(data[start + i])
      break
    case 'uint16':
    case 'float32':
      for (let i = 0; i < count; i++) out[at + i] = data[start + i]
      break
    default:
      assertNever(format)
  }
}
