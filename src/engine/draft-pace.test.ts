import { describe, expect, it } from 'vitest'
import { DraftPace } from './draft-pace'

/** Pictures of one movement, each of which takes as long as its share of the pixels. */
function moved(pace: DraftPace, fineMs: number, count: number, from = 0): number[] {
  const levels: number[] = []
  let now = from
  for (let i = 0; i < count; i++) {
    const coarse = pace.next(true, now)
    const took = fineMs / coarse ** 2
    now += took + 5
    pace.tell(coarse, took, now)
    levels.push(coarse)
  }
  return levels
}

describe('the pace of drafts', () => {
  it('stays fine where that keeps up', () => {
    expect(moved(new DraftPace(), 25, 5)).toEqual([1, 1, 1, 1, 1])
  })

  it('goes to half the size, or a quarter, where it must, and stays there', () => {
    expect(moved(new DraftPace(), 90, 6)).toEqual([1, 2, 2, 2, 2, 2])
    expect(moved(new DraftPace(), 400, 5)).toEqual([1, 4, 4, 4, 4])
    // Half is not enough, as the second of that size tells: the first makes what the next find.
    expect(moved(new DraftPace(), 140, 6)).toEqual([1, 2, 2, 4, 4, 4])
  })

  it('begins the next movement finely, and goes on where the last one was', () => {
    const pace = new DraftPace()
    moved(pace, 100, 4)
    expect(pace.next(false, 500)).toBe(1)
    expect(moved(pace, 100, 4, 900)).toEqual([1, 2, 2, 2])
    expect(moved(pace, 100, 3, 9000)).toEqual([1, 2, 2])
  })

  it('begins coarsely where a fine picture would come late, until it would not', () => {
    const pace = new DraftPace()
    moved(pace, 400, 4)
    expect(pace.next(false, 500)).toBe(1)
    expect(moved(pace, 400, 3, 900)).toEqual([4, 4, 4])
    // The layers that took long are gone.
    moved(pace, 20, 6, 9000)
    expect(moved(pace, 20, 2, 18_000)).toEqual([1, 1])
  })

  it('becomes finer again when there is time', () => {
    const pace = new DraftPace()
    moved(pace, 400, 4)
    expect(moved(pace, 20, 5, 450)).toEqual([4, 2, 2, 1, 1])
  })

  it('does not try a finer size again and again that was too slow', () => {
    const pace = new DraftPace()
    // As it is where a quarter of the size is mostly not for pixels: 12 ms there, 40 at half.
    const levels: number[] = []
    let now = 0
    for (let i = 0; i < 60; i++) {
      const coarse = pace.next(true, now)
      const took = { 1: 400, 2: 40, 4: 12 }[coarse]
      now += took + 5
      pace.tell(coarse, took, now)
      levels.push(coarse)
    }
    expect(levels[0]).toBe(1)
    // Each try is two pictures: the first of a size is not judged.
    expect(levels.filter((coarse) => coarse === 2)).toHaveLength(2)
  })

  it('judges half the size by its first picture where that is far too late, and does not try it again soon', () => {
    const pace = new DraftPace()
    const levels: number[] = []
    let now = 0
    for (let i = 0; i < 60; i++) {
      const coarse = pace.next(true, now)
      const took = { 1: 120, 2: 280, 4: 5 }[coarse]
      now += took + 40
      pace.tell(coarse, took, now)
      levels.push(coarse)
    }
    expect(levels.slice(0, 3)).toEqual([1, 2, 4])
    expect(levels.filter((coarse) => coarse === 2)).toHaveLength(1)
  })

  it('begins coarsely where fine pictures are known to take long, and is fine at rest', () => {
    const pace = new DraftPace()
    pace.expectSlow()
    expect(pace.next(true, 0)).toBe(4)
    pace.tell(4, 90, 90)
    pace.expectSlow()
    expect(pace.next(true, 100)).toBe(4)
    expect(pace.next(false, 400)).toBe(1)
    // What was found to be quick is not taken for slow by its own doing.
    expect(new DraftPace().next(true, 0)).toBe(1)
  })
})
