import { describe, expect, it } from 'vitest'
import { contentOf } from '@/core/sheet/new-layer'
import type { TypeBlock } from '@/core/sheet/contents/type'
import { setIn, styleDifferences, styleOf } from './type-styles'

const block = (given: Readonly<Record<string, unknown>> = {}): TypeBlock =>
  structuredClone(
    contentOf('type', { text: 'Tide', fontId: 'anton', box: [0, 0, 1, 1], ...given }),
  ) as TypeBlock & {
    kind: 'type'
  }
const A3 = { width: 1754, height: 2480 }

describe('a style of type', () => {
  it('sets another block as it was kept, but for its text, its place and its pairs', () => {
    const kept = styleOf(
      's',
      'Title',
      block({ size: 300, tracking: -20, colour: '#123456', axes: { wght: 700 } }),
      A3,
    )
    const other = block({
      text: 'Fair',
      fontId: 'league-gothic',
      box: [0.1, 0.2, 0.3, 0.4],
      pairs: [{ pair: 'Fa', by: -30 }],
    })
    setIn(other, kept, A3)
    expect(other).toMatchObject({
      text: 'Fair',
      box: [0.1, 0.2, 0.3, 0.4],
      pairs: [{ pair: 'Fa', by: -30 }],
      fontId: 'anton',
      axes: { wght: 700 },
      size: 300,
      tracking: -20,
      colour: '#123456',
      styleId: 's',
    })
  })
  it('has its lengths in proportion on a page of another size', () => {
    const kept = styleOf('s', 'Title', block({ size: 300, outline: 4 }), A3)
    const other = block()
    setIn(other, kept, { width: A3.width / 2, height: A3.height / 2 })
    expect(other.size).toBeCloseTo(150, 5)
    expect(other.outline).toBeCloseTo(2, 5)
    expect(other.leading).toBe(block().leading)
  })
  it('tells what was changed since, and nothing of what was not', () => {
    const kept = styleOf('s', 'Title', block({ size: 300 }), A3)
    const project = { typeStyles: [kept] }
    const own = block()
    setIn(own, kept, A3)
    expect(styleDifferences(project, own, A3)).toEqual([])
    expect(styleDifferences(project, { ...own, tracking: 40, fontId: 'lobster' }, A3)).toEqual([
      'Family',
      'Tracking',
    ])
    expect(styleDifferences(project, block(), A3)).toBeNull()
    expect(styleDifferences({ typeStyles: [] }, own, A3)).toBeNull()
  })
  it('keeps a copy: what the block becomes later does not change it', () => {
    const own = block({
      stops: [
        [0, '#000000'],
        [1, '#ffffff'],
      ],
    })
    const kept = styleOf('s', 'Title', own, A3)
    own.stops[0] = [0.5, '#ff0000']
    expect(kept.style.stops[0]).toEqual([0, '#000000'])
  })
})
