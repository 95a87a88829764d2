import { expect, it } from 'vitest'
import { decodeChannel, type ChannelSpec } from '../picture/channel'
import { PackedChannels } from '../picture/packed-channels'
import { TileMemory } from './tile-memory'

const kinds = ['floats', 'doubles', 'ints', 'unsigned', 'bytes'] as const

it('gives arrays of their own, all 0, also where more is asked for than there is room', () => {
  const memory = new TileMemory()
  for (let round = 0; round < 4; round++) {
    memory.begin()
    const given = Array.from({ length: 40 }, (_, i) => memory[kinds[i % 5]](1 + 997 * i))
    given.forEach((array, i) => {
      expect(array.length).toBe(1 + 997 * i)
      expect(array.every((v) => v === 0)).toBe(true)
      array.fill(i + 1)
    })
    // Nothing of one is written by another.
    given.forEach((array, i) => expect(array.every((v) => v === i + 1)).toBe(true))
  }
})

it('takes its room again: the next tile has it without new memory', () => {
  const memory = new TileMemory()
  const { buffer } = memory.floats(1000)
  memory.begin()
  expect(memory.doubles(500).buffer).toBe(buffer)
  // What was too much once fits from then on.
  memory.floats(1 << 20)
  memory.begin()
  const large = memory.floats(1 << 20)
  expect(memory.bytes(3).buffer).toBe(large.buffer)
})

it('channels lie behind one another in one buffer, each read back as it was', () => {
  const specs: ChannelSpec[] = [
    { name: 'a', format: 'unorm8' },
    { name: 'b', format: 'half' },
    { name: 'c', format: 'float32' },
    { name: 'd', format: 'uint16' },
    { name: 'e', format: 'unorm16' },
  ]
  const count = 5
  const packed = new PackedChannels(specs, count)
  const planes = specs.map((_, c) =>
    Float32Array.from({ length: count }, (_, i) => (c === 3 ? 9 * i : i / 4)),
  )
  const made = specs.map(({ format }, c) => packed.encode(format, planes[c]))
  expect(new Set(made.map(({ buffer }) => buffer)).size).toBe(1)
  made.forEach((data, c) => {
    const back = new Float32Array(count)
    decodeChannel({ ...specs[c], data }, 0, count, back)
    // Formats of shares hold no more than 1.
    const most = specs[c].format.startsWith('unorm') ? 1 : Infinity
    back.forEach((v, i) => expect(v).toBeCloseTo(Math.min(planes[c][i], most), 2))
  })
})
