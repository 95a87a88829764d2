import { decode } from 'fast-png'
import { describe, expect, it } from 'vitest'
import { PngStream } from './png-stream'

/** A picture written in bands of so many rows, and read by another. */
function written(width: number, height: number, depth: 8 | 16, band: number, packing?: 'quick' | 'small') {
  const rowBytes = (width * 4 * depth) / 8
  const bytes = Uint8Array.from({ length: height * rowBytes }, (_, i) => (i * 7919 + (i >> 7)) & 255)
  const parts: Uint8Array[] = []
  const stream = new PngStream(width, height, depth, (part) => parts.push(part.slice()), undefined, packing)
  for (let y = 0; y < height; y += band)
    stream.write(bytes.subarray(y * rowBytes, Math.min(height, y + band) * rowBytes))
  return { bytes, file: Buffer.concat(parts) }
}

describe('a PNG that is written row by row', () => {
  it.each([
    [1, 1, 8, 1],
    [37, 29, 8, 8],
    [37, 29, 16, 5],
    [900, 700, 16, 128],
  ] as const)('is read by another: %i × %i, %i bits, %i rows at a time', (width, height, depth, band) => {
    const { bytes, file } = written(width, height, depth, band)
    const read = decode(file, { checkCrc: true })
    expect([read.width, read.height, read.depth, read.channels]).toEqual([width, height, depth, 4])
    const view = new DataView(bytes.buffer)
    const expected = depth === 8 ? bytes : Uint16Array.from(read.data, (_, i) => view.getUint16(2 * i))
    expect(read.data.every((v, i) => v === expected[i])).toBe(true)
  })
  it('is the same file however it is cut into bands', () => {
    const files = [1, 7, 64].map((band) => written(64, 64, 8, band).file)
    const pixels = files.map((file) => Buffer.from(decode(file).data))
    expect(pixels[1].equals(pixels[0]) && pixels[2].equals(pixels[0])).toBe(true)
  })
  it('holds the same packed quickly, in more room', () => {
    const [quick, small] = (['quick', 'small'] as const).map((how) => written(900, 700, 8, 128, how).file)
    expect(Buffer.from(decode(quick).data).equals(Buffer.from(decode(small).data))).toBe(true)
    expect(quick.length).toBeGreaterThan(small.length)
  })
  it('takes no row too many, and no half ones', () => {
    const stream = new PngStream(2, 2, 8, () => undefined)
    expect(() => stream.write(new Uint8Array(7))).toThrow(/rows of a PNG/)
    stream.write(new Uint8Array(16))
    expect(() => stream.write(new Uint8Array(8))).toThrow(/2 in all/)
  })
})
