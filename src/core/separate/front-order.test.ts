import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { FrontCounts, frontOrder } from './front-order'

const NONE = Infinity
const counted = (planes: number[][]) => {
  const counts = new FrontCounts(planes.length)
  counts.add(planes.map((depths) => ({ x: 0, y: 0, width: depths.length, height: 1, depths })))
  return counts
}
/** Pixels that show the wrong thing where each lies beneath those before it, what cuts it left out. */
const wrong = (planes: number[][]) => {
  const { order, cuts } = frontOrder(counted(planes))
  const pixels = planes[0].map((_, p) => p)
  return pixels.filter((p) => {
    const depths = planes.map((plane) => plane[p])
    const nearest = Math.min(...depths)
    const seen = order.find((k) => Number.isFinite(depths[k]) && !cuts[k].some((b) => depths[b] < depths[k]))
    return seen === undefined ? Number.isFinite(nearest) : depths[seen] !== nearest
  }).length
}

describe('front order', () => {
  it('is that of the depths where nothing is in a ring', () => {
    const planes = [
      [5, 5, NONE],
      [1, NONE, NONE],
      [NONE, 3, 3],
    ]
    expect(frontOrder(counted(planes))).toEqual({ order: [1, 2, 0], cycles: [], cuts: [[], [], []] })
  })
  it('goes by what hides what, not by how near a thing is on the whole', () => {
    // The first is nearer on the whole, and hidden where they meet.
    const planes = [
      [9, 1, 1, 1],
      [8, NONE, NONE, NONE],
    ]
    expect(frontOrder(counted(planes)).order).toEqual([1, 0])
  })
  it('goes by the depth where nothing hides anything, and leaves to the end what is nowhere seen', () => {
    const planes = [
      [NONE, NONE, NONE],
      [7, NONE, NONE],
      [NONE, 2, NONE],
      [NONE, NONE, 4],
    ]
    expect(frontOrder(counted(planes)).order).toEqual([2, 3, 1, 0])
  })
  it('names two that hide each other, and cuts what fewer pixels are wrong by', () => {
    const planes = [
      [1, 1, 1, 4],
      [2, 2, 2, 3],
    ]
    expect(frontOrder(counted(planes))).toEqual({ order: [0, 1], cycles: [[0, 1]], cuts: [[1], []] })
    expect(wrong(planes)).toBe(0)
  })
  it('cuts a ring of three, with others before and behind it', () => {
    const planes = [
      [1, 2, NONE, NONE, 8],
      [2, NONE, 1, NONE, NONE],
      [NONE, 1, 2, NONE, NONE],
      [0.5, NONE, NONE, 1, NONE],
      [NONE, NONE, NONE, 2, 9],
    ]
    const { order, cycles, cuts } = frontOrder(counted(planes))
    expect(order[0]).toBe(3)
    expect(order[4]).toBe(4)
    expect(cycles.map((ring) => [...ring].sort((a, b) => a - b))).toEqual([[0, 1, 2]])
    expect(cuts.flat()).toHaveLength(1)
    expect(wrong(planes)).toBe(0)
  })
  it('compares what is there in rectangles of its own', () => {
    // Both hold the pixel at 2, 1, and no other together.
    const counts = new FrontCounts(3)
    counts.add([
      { x: 0, y: 0, width: 3, height: 2, depths: [9, 9, 9, 9, 9, 4] },
      { x: 2, y: 1, width: 2, height: 2, depths: [3, 8, 8, 8] },
      null,
    ])
    expect([...counts.before]).toEqual([0, 0, 0, 1, 0, 0, 0, 0, 0])
    expect(counts.meanDepths).toEqual([49 / 6, 27 / 4, Infinity])
    expect(frontOrder(counts).order).toEqual([1, 0, 2])
  })
  it('takes what is in one place for neither before nor behind', () => {
    const planes = [
      [1, 1],
      [1 + 1e-7, 0.9999999],
    ]
    expect(frontOrder(counted(planes)).cycles).toEqual([])
  })
  it('shows every pixel right, whatever hides whatever', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = seededRandom(seed)
      const count = 2 + Math.floor(random() * 12)
      const planes = Array.from({ length: count }, () =>
        Array.from({ length: 40 }, () => (random() < 0.6 ? NONE : 1 + Math.floor(random() * 900) / 100)),
      )
      const { order } = frontOrder(counted(planes))
      expect([...order].sort((a, b) => a - b)).toEqual(planes.map((_, k) => k))
      expect(wrong(planes)).toBe(0)
    }
  })
  it('is found for a thousand in a chain, without calls as deep as it is long', () => {
    // Each shares one pixel with the one before it, and lies before that one there.
    const planes = Array.from({ length: 1000 }, (_, k) => ({
      x: k - 1,
      y: 0,
      width: 2,
      height: 1,
      depths: [1000 - k, 1000.5 - k],
    }))
    const counts = new FrontCounts(planes.length)
    counts.add(planes)
    const { order, cycles } = frontOrder(counts)
    expect(cycles).toEqual([])
    expect(order).toEqual(planes.map((_, k) => 999 - k))
  })
})
