import { describe, expect, it } from 'vitest'
import { pictureMemory } from '../../picture/picture-kernel'
import { EMPTY, FULL, KeptTiles, stepKey } from './kept-tiles'

const key = (n: number) => stepKey(n.toString(16).padStart(16, '0'))
const fillWith =
  (tiles: KeptTiles, value: number, flags = 0) =>
  (address: number) => {
    tiles.bytes(address, 16).fill(value)
    return flags
  }

describe('kept tiles', () => {
  it('are made once, and found by step and number', () => {
    const tiles = new KeptTiles()
    let made = 0
    const make = (value: number) => (address: number) => {
      made++
      return fillWith(tiles, value, FULL)(address)
    }
    const first = tiles.obtain(key(1), 5, 1024, make(7))
    expect(tiles.obtain(key(1), 5, 1024, make(8))).toEqual(first)
    expect([made, first.flags, tiles.bytes(first.address, 1)[0]]).toEqual([1, FULL, 7])
    expect(tiles.find(key(1), 5)).toEqual(first)
    expect(tiles.find(key(1), 6)).toBeNull()
    expect(tiles.find(key(2), 5)).toBeNull()
    tiles.obtain(key(2), 5, 1024, make(9))
    tiles.obtain(key(1), 6, 1024, make(10))
    expect(made).toBe(3)
    expect(tiles.bytes(first.address, 1)[0]).toBe(7)
  })
  it('take no memory while nothing is in them', () => {
    const tiles = new KeptTiles()
    const before = tiles.usedBytes
    const empty = tiles.obtain(key(1), 0, 1 << 17, () => EMPTY)
    expect(empty).toEqual({ address: 0, flags: EMPTY })
    expect(tiles.usedBytes).toBe(before)
    expect(tiles.find(key(1), 0)).toEqual(empty)
  })
  it('count what they take, and give back the longest unused first', () => {
    const tiles = new KeptTiles()
    for (let n = 0; n < 8; n++) {
      tiles.tick()
      tiles.obtain(key(n), 0, 1 << 14, fillWith(tiles, n))
    }
    expect(tiles.usedBytes).toBe(8 << 14)
    // Asked for again, the oldest is the youngest.
    tiles.tick()
    tiles.find(key(0), 0)
    tiles.shrinkTo(3 << 14)
    // One more than it must: the next picture need not let go of anything.
    expect(tiles.usedBytes).toBe(2 << 14)
    const left = Array.from({ length: 8 }, (_, n) => n).filter((n) => tiles.find(key(n), 0))
    expect(left).toEqual([0, 7])
    expect(tiles.bytes(tiles.find(key(7), 0)?.address ?? 0, 1)[0]).toBe(7)
  })
  it('use again what was given back', () => {
    const tiles = new KeptTiles()
    const [a, b] = [tiles.take(1 << 18), tiles.take(1 << 18)]
    const { byteLength } = tiles.memory.buffer
    tiles.giveBack(a, 1 << 18)
    tiles.giveBack(b, 1 << 18)
    for (let i = 0; i < 50; i++) tiles.giveBack(tiles.take(1 << 18), 1 << 18)
    expect(tiles.memory.buffer.byteLength).toBe(byteLength)
    expect(tiles.usedBytes).toBe(0)
  })
  it('never overlap, whatever their sizes', () => {
    const tiles = new KeptTiles()
    const taken = Array.from({ length: 60 }, (_, i) => {
      const bytes = [1024, 5000, 16384, 40000, 131072][i % 5]
      return { at: tiles.take(bytes), bytes }
    }).sort((x, y) => x.at - y.at)
    for (let i = 1; i < taken.length; i++)
      expect(taken[i].at).toBeGreaterThanOrEqual(taken[i - 1].at + taken[i - 1].bytes)
    expect(() => tiles.take(1 << 25)).toThrow(/more memory/)
  })
  it('whose making failed are not there, and can be made after the next sweep', () => {
    const tiles = new KeptTiles()
    const fail = () => {
      throw new Error('no ink')
    }
    expect(() => tiles.obtain(key(1), 0, 1024, fail)).toThrow('no ink')
    expect(tiles.find(key(1), 0)).toBeNull()
    expect(tiles.usedBytes).toBe(0)
    tiles.shrinkTo(Infinity)
    expect(tiles.obtain(key(1), 0, 1024, fillWith(tiles, 3)).address).toBeGreaterThan(0)
  })
  it('hold many, and forget many', () => {
    const tiles = new KeptTiles()
    for (let n = 0; n < 20_000; n++) {
      if (n % 1000 === 0) tiles.tick()
      tiles.obtain(key(n * 7919), n % 97, 1024, () => EMPTY)
    }
    tiles.shrinkTo(0)
    expect(tiles.find(key(19_999 * 7919), 19_999 % 97)).not.toBeNull()
    expect(tiles.find(key(0), 0)).toBeNull()
  })
  it('are seen by whoever shares the memory', () => {
    const memory = pictureMemory(4 << 20, true)
    const one = new KeptTiles(memory)
    const other = new KeptTiles(memory, false)
    const made = one.obtain(key(1), 2, 1024, fillWith(one, 42))
    expect(other.find(key(1), 2)).toEqual(made)
    expect(other.bytes(made.address, 1)[0]).toBe(42)
    // Grown by one, it is grown for the other.
    while (one.memory.buffer.byteLength < 32 << 20) one.take(1 << 18)
    const late = one.obtain(key(3), 0, 1 << 18, fillWith(one, 9))
    expect(other.bytes(late.address, 1)[0]).toBe(9)
  })
})
