import { strFromU8, strToU8, unzlibSync, zlibSync } from 'fflate'
import { assertNever, UnreadableFileError } from '../errors'
import { floatToHalf, halfToFloat } from '../picture/half-float'

/**
 * Single-part scanline OpenEXR files (OpenEXR file layout, version 2), ZIP compression in blocks of 16 lines: without
 * loss. Channels of half, float or unsigned integers, stored in alphabetical order as the format asks.
 */
export interface ExrChannel {
  readonly name: string
  readonly type: 'half' | 'float' | 'uint'
  /** width × height numbers. For `half`, the raw 16 bits when given as Uint16Array. */
  readonly data: Float32Array | Uint16Array | Uint32Array
}

const TYPE_CODE = { uint: 0, half: 1, float: 2 } as const
const ZIP_COMPRESSION = 3
const LINES_PER_BLOCK = 16

class ByteWriter {
  private readonly chunks: Uint8Array[] = []
  length = 0

  bytes(chunk: Uint8Array): void {
    this.chunks.push(chunk)
    this.length += chunk.length
  }
  int32(...values: number[]): void {
    const view = new DataView(new ArrayBuffer(4 * values.length))
    values.forEach((v, i) => view.setInt32(4 * i, v, true))
    this.bytes(new Uint8Array(view.buffer))
  }
  float32(...values: number[]): void {
    const view = new DataView(new ArrayBuffer(4 * values.length))
    values.forEach((v, i) => view.setFloat32(4 * i, v, true))
    this.bytes(new Uint8Array(view.buffer))
  }
  text(value: string): void {
    this.bytes(strToU8(value + '\0'))
  }
  join(): Uint8Array {
    const out = new Uint8Array(this.length)
    let at = 0
    for (const chunk of this.chunks) {
      out.set(chunk, at)
      at += chunk.length
    }
    return out
  }
}

const byteSize = (type: ExrChannel['type']): number => (type === 'half' ? 2 : 4)

/** The reordering and differences that the ZIP codec applies before deflate. */
function predict(raw: Uint8Array): Uint8Array {
  const out = new Uint8Array(raw.length)
  const half = (raw.length + 1) >> 1
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i]
  for (let i = out.length - 1; i > 0; i--) out[i] = (out[i] - out[i - 1] + 384) & 255
  return out
}

function unpredict(data: Uint8Array): Uint8Array {
  for (let i = 1; i < data.length; i++) data[i] = (data[i - 1] + data[i] - 128) & 255
  const out = new Uint8Array(data.length)
  const half = (data.length + 1) >> 1
  for (let i = 0; i < out.length; i++) out[i] = data[(i & 1 ? half : 0) + (i >> 1)]
  return out
}

/** Names of channels that are longer take a flag (OpenEXR file layout, "version field"). */
const SHORT_NAME = 31
const LONG_NAMES = 0x400

/**
 * Writes an EXR file.
 * @param channels each with width × height numbers.
 * @param texts that its header says besides.
 */
export function writeExr(
  width: number,
  height: number,
  channels: readonly ExrChannel[],
  texts: readonly { readonly name: string; readonly value: string }[] = [],
): Uint8Array {
  const sorted = [...channels].sort((a, b) => (a.name < b.name ? -1 : 1))
  const header = new ByteWriter()
  const isLong = [...channels, ...texts].some(({ name }) => strToU8(name).length > SHORT_NAME)
  header.int32(20000630, isLong ? 2 | LONG_NAMES : 2)
  const attribute = (name: string, type: string, value: ByteWriter) => {
    header.text(name)
    header.text(type)
    header.int32(value.length)
    header.bytes(value.join())
  }
  const value = (fill: (w: ByteWriter) => void): ByteWriter => {
    const w = new ByteWriter()
    fill(w)
    return w
  }
  attribute(
    'channels',
    'chlist',
    value((w) => {
      for (const channel of sorted) {
        w.text(channel.name)
        w.int32(TYPE_CODE[channel.type], 0, 1, 1)
      }
      w.bytes(new Uint8Array(1))
    }),
  )
  attribute(
    'compression',
    'compression',
    value((w) => w.bytes(Uint8Array.of(ZIP_COMPRESSION))),
  )
  attribute(
    'dataWindow',
    'box2i',
    value((w) => w.int32(0, 0, width - 1, height - 1)),
  )
  attribute(
    'displayWindow',
    'box2i',
    value((w) => w.int32(0, 0, width - 1, height - 1)),
  )
  attribute(
    'lineOrder',
    'lineOrder',
    value((w) => w.bytes(new Uint8Array(1))),
  )
  attribute(
    'pixelAspectRatio',
    'float',
    value((w) => w.float32(1)),
  )
  attribute(
    'screenWindowCenter',
    'v2f',
    value((w) => w.float32(0, 0)),
  )
  attribute(
    'screenWindowWidth',
    'float',
    value((w) => w.float32(1)),
  )
  for (const text of texts)
    attribute(
      text.name,
      'string',
      value((w) => w.bytes(strToU8(text.value))),
    )
  header.bytes(new Uint8Array(1))

  const lineBytes = sorted.reduce((sum, c) => sum + byteSize(c.type) * width, 0)
  const blocks: Uint8Array[] = []
  for (let y0 = 0; y0 < height; y0 += LINES_PER_BLOCK) {
    const lines = Math.min(LINES_PER_BLOCK, height - y0)
    const raw = new Uint8Array(lineBytes * lines)
    const view = new DataView(raw.buffer)
    let at = 0
    for (let y = y0; y < y0 + lines; y++) {
      for (const { type, data } of sorted) {
        const row = y * width
        const bits = type === 'half' && data instanceof Uint16Array
        for (let x = 0; x < width; x++) {
          const v = data[row + x]
          if (type === 'half') view.setUint16(at, bits ? v : floatToHalf(v), true)
          else if (type === 'float') view.setFloat32(at, v, true)
          else view.setUint32(at, v, true)
          at += byteSize(type)
        }
      }
    }
    const packed = zlibSync(predict(raw), { level: 6 })
    blocks.push(packed.length < raw.length ? packed : raw)
  }
  const out = new ByteWriter()
  out.bytes(header.join())
  let offset = header.length + 8 * blocks.length
  for (const block of blocks) {
    out.int32(offset, Math.floor(offset / 2 ** 32))
    offset += 8 + block.length
  }
  blocks.forEach((block, i) => {
    out.int32(i * LINES_PER_BLOCK, block.length)
    out.bytes(block)
  })
  return out.join()
}

/** Deflate makes at most this much of a byte (RFC 1951). */
const MOST_PER_BYTE = 1032

/**
 * Reads single-part scanline EXR files, uncompressed or ZIP(S): what {@link writeExr} writes and many tools do too.
 * Its size is judged before memory is asked for.
 * @param expected where given, no other size is read.
 * @throws {UnreadableFileError}
 */
export function readExr(
  bytes: Uint8Array,
  fileName: string,
  expected?: { readonly width: number; readonly height: number },
): { width: number; height: number; channels: ExrChannel[]; texts: { name: string; value: string }[] } {
  const fail = (reason: string): never => {
    throw new UnreadableFileError(fileName, reason)
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 16 || view.getUint32(0, true) !== 20000630) fail('is not an EXR')
  const flags = view.getUint32(4, true) >>> 8
  if (flags & 0b11010) fail('is a tiled, deep or multi-part EXR, which is not supported')
  try {
    let at = 8
    const text = (): string => {
      const end = bytes.indexOf(0, at)
      if (end < 0) fail('its header does not end')
      const value = strFromU8(bytes.subarray(at, end))
      at = end + 1
      return value
    }
    const specs: { name: string; type: ExrChannel['type'] }[] = []
    const texts: { name: string; value: string }[] = []
    let compression = -1
    let window: number[] = []
    for (let name = text(); name !== ''; name = text()) {
      const type = text()
      const size = view.getInt32(at, true)
      const end = at + 4 + size
      at += 4
      if (name === 'channels') {
        for (let channel = text(); channel !== ''; channel = text()) {
          const type = (['uint', 'half', 'float'] as const)[view.getInt32(at, true)]
          specs.push({ name: channel, type: type ?? fail('has a channel of an unknown type') })
          at += 16
        }
      } else if (name === 'compression') compression = bytes[at]
      else if (type === 'string') texts.push({ name, value: strFromU8(bytes.subarray(at, end)) })
      else if (name === 'dataWindow') window = [0, 4, 8, 12].map((o) => view.getInt32(at + o, true))
      at = end
    }
    if (![0, 2, 3].includes(compression)) fail(`its compression (${compression}) is not supported`)
    const width = window[2] - window[0] + 1
    const height = window[3] - window[1] + 1
    if (!(width > 0 && height > 0 && width * height <= 16384 * 16384))
      fail(`its size ${width} × ${height} is not possible`)
    if (expected && (width !== expected.width || height !== expected.height))
      fail(`is ${width} × ${height}, not ${expected.width} × ${expected.height}`)
    const lineBytes = specs.reduce((sum, c) => sum + byteSize(c.type) * width, 0)
    if (lineBytes * height > MOST_PER_BYTE * bytes.length)
      fail(`claims ${width} × ${height} pixels of ${specs.length} channels, more than its bytes can hold`)
    const blockLines = compression === 3 ? 16 : 1
    const blockCount = Math.ceil(height / blockLines)
    if (at + 8 * blockCount > bytes.length) fail('is cut short')
    const channels = specs.map(({ name, type }): ExrChannel => {
      const count = width * height
      return {
        name,
        type,
        data:
          type === 'half'
            ? new Uint16Array(count)
            : type === 'float'
              ? new Float32Array(count)
              : new Uint32Array(count),
      }
    })
    const offsetsAt = at
    for (let b = 0; b < blockCount; b++) {
      const offset = view.getUint32(offsetsAt + 8 * b, true)
      const y0 = view.getInt32(offset, true) - window[1]
      const size = view.getInt32(offset + 4, true)
      const lines = Math.min(blockLines, height - y0)
      let raw = bytes.subarray(offset + 8, offset + 8 + size)
      if (raw.length !== size || y0 < 0 || lines <= 0) fail('is cut short')
      if (compression !== 0 && size < lineBytes * lines) {
        raw = unpredict(unzlibSync(raw, { out: new Uint8Array(lineBytes * lines) }))
      }
      const block = new DataView(raw.buffer, raw.byteOffset, raw.byteLength)
      let from = 0
      for (let y = y0; y < y0 + lines; y++) {
        for (const { type, data } of channels) {
          for (let x = 0; x < width; x++, from += byteSize(type)) {
            const to = y * width + x
            if (type === 'half') data[to] = block.getUint16(from, true)
            else if (type === 'float') data[to] = block.getFloat32(from, true)
            else if (type === 'uint') data[to] = block.getUint32(from, true)
            else assertNever(type)
          }
        }
      }
    }
    return { width, height, channels, texts }
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(fileName, 'the EXR is damaged', { cause })
  }
}

/** A channel's values as numbers. */
export function exrValues(channel: ExrChannel): Float32Array {
  if (channel.type !== 'half') return Float32Array.from(channel.data)
  const out = new Float32Array(channel.data.length)
  for (let i = 0; i < out.length; i++) out[i] = halfToFloat(channel.data[i])
  return out
}
