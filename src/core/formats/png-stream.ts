import { joinBytes } from '../join-bytes'
import { Zlib } from 'fflate'
import { InvalidValueError } from '../errors'

/** CRC-32 of the PNG specification (third edition, annex D), a byte at a time. */
const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c
})
function crc32(...parts: readonly Uint8Array[]): number {
  let c = 0xffffffff
  for (const part of parts) for (let i = 0; i < part.length; i++) c = CRC[(c ^ part[i]) & 255] ^ (c >>> 8)
  return ~c >>> 0
}

export const PNG_SIGNATURE = Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10)
/** Filter type 2 of the specification, section 9.2: what differs from the row above. */
const UP = 2
/** `quick` takes half the time of `small`, and a tenth more room. */
export type Packing = 'small' | 'quick'
const LEVELS = { small: 6, quick: 3 } as const satisfies Readonly<Record<Packing, number>>
/** Compressed bytes that are gathered before they become a chunk. */
const CHUNK_BYTES = 1 << 20

/**
 * Writes a PNG row by row, so that a large picture is never there as a whole. Straight RGBA.
 * @param onBytes is given the file piece by piece. @param dpi says how large it is on paper.
 * @param packing how hard it is tried to make the file small.
 */
export class PngStream {
  private readonly zlib: Zlib
  private readonly rowBytes: number
  private readonly above: Uint8Array
  private rows = 0
  private waiting: Uint8Array[] = []
  private waitingBytes = 0

  constructor(
    width: number,
    private readonly height: number,
    depth: 8 | 16,
    private readonly onBytes: (bytes: Uint8Array) => void,
    dpi?: number,
    packing: Packing = 'small',
  ) {
    this.rowBytes = (width * 4 * depth) / 8
    this.above = new Uint8Array(this.rowBytes)
    this.zlib = new Zlib({ level: LEVELS[packing] }, (bytes, isLast) => this.gather(bytes, isLast))
    onBytes(PNG_SIGNATURE)
    const header = new Uint8Array(13)
    const view = new DataView(header.buffer)
    view.setUint32(0, width)
    view.setUint32(4, height)
    // Depth, truecolour with alpha, and the only compression, filtering and order that there are.
    header.set([depth, 6, 0, 0, 0], 8)
    this.chunk('IHDR', header)
    if (dpi !== undefined) {
      // Pixels of a metre, section 11.3.4.3.
      const density = new Uint8Array(9)
      const perMetre = Math.round(dpi / 0.0254)
      new DataView(density.buffer).setUint32(0, perMetre)
      new DataView(density.buffer).setUint32(4, perMetre)
      density[8] = 1
      this.chunk('pHYs', density)
    }
  }

  /**
   * Adds rows, from the top down.
   * @param bytes whole rows; of 16 bits the higher byte first. @throws {InvalidValueError} for more rows than the picture has.
   */
  write(bytes: Uint8Array): void {
    const { rowBytes, above } = this
    const count = bytes.length / rowBytes
    if (!Number.isInteger(count) || this.rows + count > this.height)
      throw new InvalidValueError(
        'rows of a PNG',
        `must be whole and ${this.height} in all`,
        this.rows + count,
      )
    this.rows += count
    this.zlib.push(upFiltered(bytes, rowBytes, above), this.rows === this.height)
    if (this.rows === this.height) this.chunk('IEND', new Uint8Array(0))
  }

  private gather(bytes: Uint8Array, isLast: boolean): void {
    this.waiting.push(bytes)
    this.waitingBytes += bytes.length
    if (this.waitingBytes < CHUNK_BYTES && !isLast) return
    const data = joinBytes(this.waiting)
    this.waiting = []
    this.waitingBytes = 0
    this.chunk('IDAT', data)
  }

  private chunk(type: string, data: Uint8Array): void {
    for (const piece of pngChunk(type, data)) this.onBytes(piece)
  }
}

/** Rows as what differs from the one above. @param above the row above the first; becomes the last. */
export function upFiltered(bytes: Uint8Array, rowBytes: number, above: Uint8Array): Uint8Array<ArrayBuffer> {
  const count = bytes.length / rowBytes
  const filtered = new Uint8Array(count * (rowBytes + 1))
  for (let row = 0; row < count; row++) {
    const from = row * rowBytes
    const to = row * (rowBytes + 1)
    filtered[to] = UP
    for (let i = 0; i < rowBytes; i++) filtered[to + 1 + i] = bytes[from + i] - above[i]
    above.set(bytes.subarray(from, from + rowBytes))
  }
  return filtered
}

/** A chunk of a PNG in pieces: length and name, data, check (section 5.3). */
export function pngChunk(type: string, data: Uint8Array): Uint8Array[] {
  const head = new Uint8Array(8)
  new DataView(head.buffer).setUint32(0, data.length)
  for (let i = 0; i < 4; i++) head[4 + i] = type.charCodeAt(i)
  const tail = new Uint8Array(4)
  new DataView(tail.buffer).setUint32(0, crc32(head.subarray(4), data))
  return data.length > 0 ? [head, data, tail] : [head, tail]
}
