import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { openFont } from '../type/shaper'
import { unfoldWoff } from './woff'

const file = new Uint8Array(readFileSync('public/fonts/anton-latin-400-normal.woff'))

describe('a WOFF file', () => {
  it('unfolds to a font whose tables add up as its directory says', () => {
    const font = unfoldWoff(file)
    const view = new DataView(font.buffer)
    const count = view.getUint16(4)
    for (let i = 0; i < count; i++) {
      const at = 12 + 16 * i
      const tag = String.fromCharCode(...font.subarray(at, at + 4))
      const [sum, from, length] = [4, 8, 12].map((by) => view.getUint32(at + by))
      expect(from % 4).toBe(0)
      let own = 0
      for (let k = 0; k < length; k += 4)
        own = (own + (k + 4 <= length ? view.getUint32(from + k) : tail(font, from + k, from + length))) >>> 0
      // The head's own sum is of the file before it was written there.
      if (tag !== 'head') expect([tag, own]).toEqual([tag, sum])
    }
    expect(openFont(font).nameOf(1)).toBe('Anton')
  })
  it('is refused where a table is shorter than it says, or unfolds to too much', () => {
    const short = file.slice()
    new DataView(short.buffer).setUint32(44 + 12, new DataView(short.buffer).getUint32(44 + 12) + 5)
    expect(() => unfoldWoff(short)).toThrow()
    const huge = file.slice()
    new DataView(huge.buffer).setUint32(44 + 12, 2 ** 31)
    expect(() => unfoldWoff(huge)).toThrow(/64 MB/)
    expect(() => unfoldWoff(file.slice(0, 60))).toThrow()
  })
})

const tail = (bytes: Uint8Array, from: number, to: number): number => {
  let value = 0
  for (let i = 0; i < 4; i++) value = value * 256 + (from + i < to ? bytes[from + i] : 0)
  return value
}
