import { describe, expect, it } from 'vitest'
import { writeExr } from '@/core/formats/exr'
import { decodeDome } from './decode-dome'

const text = (words: string) => new TextEncoder().encode(words)

/** A picture in shared exponents (Ward 1991), its rows as they are. */
function hdr(width: number, height: number, at: (x: number, y: number) => readonly [number, number, number]) {
  const head = text(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`)
  const out = new Uint8Array(head.length + 4 * width * height)
  out.set(head)
  for (let p = 0; p < width * height; p++) {
    const rgb = at(p % width, Math.floor(p / width))
    const most = Math.max(...rgb)
    const exponent = most > 0 ? Math.ceil(Math.log2(most)) : 0
    const scale = 255 / 2 ** exponent
    out.set([...rgb.map((v) => Math.round(v * scale)), most > 0 ? exponent + 128 : 0], head.length + 4 * p)
  }
  return out
}

describe('decodeDome', () => {
  it('reads shared exponents, rows from the top, far beyond white', async () => {
    const dome = await decodeDome(
      hdr(4, 2, (x, y) => (y === 0 ? [64, 0.5, 0] : [x, 0, 1])),
      'sky.hdr',
    )
    expect([dome.width, dome.height]).toEqual([4, 2])
    expect(dome.pixels[0]).toBeCloseTo(64, 0)
    expect(dome.pixels[1]).toBeCloseTo(0.5, 0)
    expect(dome.pixels[3 * 6]).toBeCloseTo(2, 1)
    expect(dome.pixels[3 * 6 + 2]).toBeCloseTo(1, 1)
  })
  it('reads an EXR, rows from the top', async () => {
    const plane = (values: number[]) => Float32Array.from(values)
    const bytes = writeExr(2, 2, [
      { name: 'R', type: 'float', data: plane([1, 2, 3, 4]) },
      { name: 'G', type: 'float', data: plane([0, 0, 0, 0]) },
      { name: 'B', type: 'float', data: plane([10, 20, 30, 40]) },
    ])
    const { pixels } = await decodeDome(bytes, 'sky.exr')
    expect(Array.from(pixels)).toEqual([1, 0, 10, 2, 0, 20, 3, 0, 30, 4, 0, 40])
  })
  it('thins a large picture by means, and takes nothing below darkness', async () => {
    const { width, height, pixels } = await decodeDome(
      hdr(2048, 1024, (x) => (x % 2 === 0 ? [0, 0, 0] : [2, 2, 2])),
      'sky.hdr',
    )
    expect([width, height]).toEqual([1024, 512])
    for (let i = 0; i < pixels.length; i += 999) expect(pixels[i]).toBeCloseTo(1, 1)
  })
  it.each([
    ['text', text('this is no picture')],
    ['half a header', text('#?RADIANCE\n')],
    ['an EXR cut short', Uint8Array.of(0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0)],
    ['nothing', new Uint8Array(0)],
  ])('refuses %s by name', async (_what, bytes) => {
    await expect(decodeDome(bytes, 'sky.hdr')).rejects.toThrow(/sky\.hdr: is not a picture that can light/)
  })
})
