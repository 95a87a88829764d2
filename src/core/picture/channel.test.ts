import { describe, expect, it } from 'vitest'
import { InvalidValueError } from '../errors'
import {
  allocateChannel,
  bytesPerValue,
  CHANNEL_FORMATS,
  decodeChannel,
  encodeChannel,
  viewChannel,
  type ChannelFormat,
} from './channel'

const back = (format: ChannelFormat, values: readonly number[]) => {
  const data = encodeChannel(format, Float32Array.from(values))
  const out = new Float32Array(values.length)
  decodeChannel({ name: 'x', format, data }, 0, values.length, out)
  return [...out]
}

it('comes back as exactly as its format holds numbers', () => {
  expect(back('float32', [0.1, -7, 1e9]).map((v) => Math.fround(v))).toEqual([0.1, -7, 1e9].map(Math.fround))
  expect(back('uint16', [0, 1, 65535])).toEqual([0, 1, 65535])
  expect(back('half', [0.5, -2, 65504, 2 ** -14])).toEqual([0.5, -2, 65504, 2 ** -14])
  for (let n = 0; n < 256; n++) expect(encodeChannel('unorm8', Float32Array.of(n / 255))[0]).toBe(n)
  for (const n of [0, 1, 257, 32768, 65535])
    expect(encodeChannel('unorm16', Float32Array.of(n / 65535))[0]).toBe(n)
})

it('rounds to the nearest and clamps what a format cannot hold', () => {
  expect([...encodeChannel('unorm8', Float32Array.of(-1, 0.4999 / 255, 0.5001 / 255, 2))]).toEqual([
    0, 0, 1, 255,
  ])
  expect([...encodeChannel('unorm16', Float32Array.of(-1, 2))]).toEqual([0, 65535])
  expect(back('half', [1e6, -1e6])).toEqual([Infinity, -Infinity])
})

it('decodes a run from anywhere in it', () => {
  const data = encodeChannel('half', Float32Array.of(0, 1, 2, 3, 4))
  const out = new Float32Array(2)
  decodeChannel({ name: 'x', format: 'half', data }, 3, 2, out)
  expect([...out]).toEqual([3, 4])
})

describe.each(CHANNEL_FORMATS)('as %s', (format) => {
  it('takes the bytes it says, in storage and in a view of bytes', () => {
    const stored = allocateChannel(format, 6)
    expect(stored.byteLength).toBe(6 * bytesPerValue(format))
    expect(stored.every((v) => v === 0)).toBe(true)
    const bytes = encodeChannel(format, Float32Array.of(1, 0, 1))
    const copy = bytes.buffer.slice(0) as ArrayBuffer
    expect([...viewChannel(format, copy, 3)]).toEqual([...bytes])
    expect(() => viewChannel(format, copy, 4)).toThrow(InvalidValueError)
  })
})
