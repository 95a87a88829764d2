import { describe, expect, it } from 'vitest'
import { lengthOf, tidyLines, type LoosePolyline } from './tidy-lines'

const line = (
  points: readonly (readonly [number, number])[],
  changes: Partial<LoosePolyline> = {},
): LoosePolyline => ({
  key: 0,
  xy: Float64Array.from(points.flat()),
  tags: Float64Array.from(points, (_, i) => i),
  closed: false,
  isSure: false,
  ...changes,
})
/** Pieces of a circle about (0.5, 0.5), in shares of a turn. */
const arc = (from: number, to: number, radius = 0.3): LoosePolyline => {
  const steps = Math.max(2, Math.ceil((to - from) * 180))
  return line(
    Array.from({ length: steps + 1 }, (_, i) => {
      const angle = (from + ((to - from) * i) / steps) * 2 * Math.PI
      return [0.5 + radius * Math.cos(angle), 0.5 + radius * Math.sin(angle)] as const
    }),
  )
}

describe('tidyLines', () => {
  it('joins what lies end to end, whichever way it runs, and closes what goes round', () => {
    const backwards = arc(0.34, 0.66)
    const turned = line(
      Array.from({ length: backwards.tags.length }, (_, i) => {
        const k = 2 * (backwards.tags.length - 1 - i)
        return [backwards.xy[k], backwards.xy[k + 1]] as const
      }),
    )
    const [whole, ...rest] = tidyLines([arc(0, 0.335), turned, arc(0.663, 0.997)])
    expect(rest).toEqual([])
    expect(whole.closed).toBe(true)
    expect(lengthOf(whole)).toBeCloseTo(2 * Math.PI * 0.3, 2)
    expect(whole.tags.length).toBe(whole.xy.length / 2)
  })
  it('joins nothing of another key, nothing that turns, nothing far away', () => {
    const a = line([
      [0.1, 0.1],
      [0.5, 0.1],
    ])
    const apart = (other: LoosePolyline) => expect(tidyLines([a, other])).toHaveLength(2)
    apart(
      line(
        [
          [0.505, 0.1],
          [0.9, 0.1],
        ],
        { key: 1 },
      ),
    )
    apart(
      line([
        [0.505, 0.1],
        [0.505, 0.5],
      ]),
    )
    apart(
      line([
        [0.53, 0.1],
        [0.9, 0.1],
      ]),
    )
    // Beside each other, not one after the other.
    apart(
      line([
        [0.5, 0.108],
        [0.9, 0.108],
      ]),
    )
    expect(
      tidyLines([
        a,
        line([
          [0.505, 0.1],
          [0.9, 0.1],
        ]),
      ]),
    ).toHaveLength(1)
  })
  it('leaves out scraps beside a longer line, keeps short lines of their own, and what is sure', () => {
    const long = line([
      [0.1, 0.1],
      [0.9, 0.1],
    ])
    const scrap = line([
      [0.4, 0.102],
      [0.42, 0.102],
    ])
    expect(tidyLines([long, scrap])).toHaveLength(1)
    expect(tidyLines([long, { ...scrap, isSure: true }])).toHaveLength(2)
    expect(tidyLines([long, { ...scrap, key: 3 }])).toHaveLength(2)
    expect(
      tidyLines([
        long,
        line([
          [0.4, 0.2],
          [0.42, 0.2],
        ]),
      ]),
    ).toHaveLength(2)
    expect(
      tidyLines([
        long,
        line([
          [0.2, 0.102],
          [0.5, 0.102],
        ]),
      ]),
    ).toHaveLength(2)
  })
})
