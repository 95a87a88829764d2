import { beforeEach, describe, expect, it } from 'vitest'
import { contents } from '@/core/sheet/contents/registry'
import { evenFill, newLayer } from '@/core/sheet/new-layer'
import { MAX_NOTE, nodeSchema, type SheetNode } from '@/core/sheet/sheet-schema'
import { setBench, useViewStore } from '@/state/view-store'
import { beginMaking, endMaking, lastShown, liesIn, makingStops, showStop, stopBeside } from './making'

const layer = (id: string, own: Partial<SheetNode> = {}) =>
  newLayer({ id, name: id, content: evenFill('#808080'), ...own })
const stackOf = (...layers: SheetNode[]) => ({
  roots: layers.map(({ id }) => id),
  nodes: Object.fromEntries(layers.map((own) => [own.id, own])),
})
const stack = stackOf(
  layer('ground'),
  layer('kept back', { visible: false }),
  layer('shade', { mode: 'multiply', opacity: 0.66 }),
  layer('light'),
)

describe('how a sheet was made', () => {
  beforeEach(() => setBench({ peel: Infinity, isMaking: false, layerId: null }))

  it('stops once for each layer that is seen', () => {
    expect(makingStops(stack)).toEqual([1, 3, 4])
    expect(makingStops(stackOf())).toEqual([])
  })
  it('goes from any place of the peel to the stop beside it, and stays at the ends', () => {
    const stops = makingStops(stack)
    const forth = [0, 1, 2, 3, 4].map((shown) => stopBeside(stops, shown, 1))
    expect(forth).toEqual([1, 3, 3, 4, 4])
    const back = [0, 1, 2, 3, 4].map((shown) => stopBeside(stops, shown, -1))
    expect(back).toEqual([1, 1, 1, 1, 3])
    expect(stopBeside([], 2, 1)).toBe(2)
  })
  it('names the layer that came last, never one that is hidden', () => {
    expect([0, 1, 2, 3, 4].map((shown) => lastShown(stack, shown)?.name)).toEqual([
      undefined,
      'ground',
      'ground',
      'shade',
      'light',
    ])
  })
  it('tells how a layer lies', () => {
    expect(liesIn(stack.nodes.shade)).toBe('Multiply, 66 %')
    expect(liesIn(stack.nodes.light)).toBe('Normal')
  })
  it('begins at the back, chooses what it shows, and puts all back at the end', () => {
    beginMaking(stack)
    expect(useViewStore.getState()).toMatchObject({ isMaking: true, peel: 1, layerId: 'ground' })
    showStop(stack, 4)
    expect(useViewStore.getState()).toMatchObject({ peel: Infinity, layerId: 'light' })
    endMaking()
    expect(useViewStore.getState()).toMatchObject({ isMaking: false, peel: Infinity })
    beginMaking(stackOf(layer('hidden', { visible: false })))
    expect(useViewStore.getState().isMaking).toBe(false)
  })
})

describe('the note of a layer', () => {
  it('is empty in what was stored before there were notes, and has an end', () => {
    const { note, ...before } = layer('a')
    expect(note).toBe('')
    expect(nodeSchema.parse(before).note).toBe('')
    expect(contents.schema.safeParse(before.content).success).toBe(true)
    expect(nodeSchema.safeParse({ ...before, note: 'x'.repeat(MAX_NOTE + 1) }).success).toBe(false)
  })
})
