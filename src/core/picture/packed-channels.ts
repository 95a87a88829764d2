import {
  bytesPerValue,
  channelAt,
  encodeChannel,
  type ChannelData,
  type ChannelFormat,
  type ChannelSpec,
} from './channel'

/** Channels begin at multiples of so many bytes. */
const STEP = 4

const bytesOf = (format: ChannelFormat, count: number): number =>
  Math.ceil((bytesPerValue(format) * count) / STEP) * STEP

/** Channels that lie behind one another in one buffer, which moves between threads as one. */
export class PackedChannels {
  private readonly buffer: ArrayBuffer
  private used = 0

  /** @param count numbers of each. */
  constructor(specs: readonly ChannelSpec[], count: number) {
    this.buffer = new ArrayBuffer(specs.reduce((sum, { format }) => sum + bytesOf(format, count), 0))
  }

  /** Puts the next one in; see {@link encodeChannel}. */
  encode(format: ChannelFormat, values: Float32Array): ChannelData {
    const at = this.used
    this.used += bytesOf(format, values.length)
    return encodeChannel(format, values, channelAt(format, this.buffer, at, values.length))
  }
}
