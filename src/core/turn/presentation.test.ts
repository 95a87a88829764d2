import { describe, expect, it } from 'vitest'
import { evenFill } from '../sheet/new-layer'
import { insertNode } from '../sheet/sheet-tree'
import type { Sheet } from '../sheet/sheet-schema'
import { sheetSchema } from '../sheet/sheet-schema'
import { testLayer, testSheet } from '../sheet/testing/sheets'
import { frameSheet, seenOf } from './frame-sheet'
import { groundColour, PRESENTATIONS, presented, type PresentationName } from './presentation'
import { newTurn, revealSchema } from './turn-schema'

const motion = { turns: 2, framesPerTurn: 60, rate: 12 }
const turn = newTurn('t', 't', 's', motion)
const still = testSheet({ width: 640, height: 360 }, [
  testLayer('paper', { content: evenFill('#f1e6d4') }),
  testLayer('ink', { content: evenFill('#203040') }),
])
let count = 0
const make = (name: PresentationName, frame = 24) => {
  const made = presented(name, still, turn.motion, frame, 'The Brass Gauge', () => `new-${count++}`)
  const sheet: Sheet = structuredClone(still)
  const [first, ...rest] = made.layers
  insertNode(sheet, first, { parent: null, index: made.lies === 'front' ? Infinity : 1 })
  for (const node of rest) sheet.nodes[node.id] = node
  const own = { ...turn, reveals: [made.reveal] }
  const seenAt = (at: number) => first.id in seenOf(frameSheet(sheet, own, at)).nodes
  return { ...made, sheet, seenAt, first, own }
}

describe('what a turntable is presented with', () => {
  it.each(PRESENTATIONS)('%s is hidden in the still, whole, and a reveal of it', (name) => {
    const { sheet, first, reveal } = make(name)
    expect(sheetSchema.parse(sheet)).toEqual(sheet)
    expect(revealSchema.parse(reveal)).toEqual(reveal)
    expect(reveal.layerId).toBe(first.id)
    expect(first.id in seenOf(sheet).nodes).toBe(false)
  })
  it('shows a card at once, and no more after its time', () => {
    const { seenAt, sheet, own } = make('card')
    expect([0, 12, 23, 24, 119].map(seenAt)).toEqual([true, true, true, false, false])
    const said = Object.values(frameSheet(sheet, own, 0).nodes).flatMap(({ content }) =>
      content.kind === 'type' ? content.text : [],
    )
    expect(said).toContain('The Brass Gauge')
  })
  it('shows a caption from the playhead on', () => {
    const { seenAt } = make('caption', 40)
    expect([39, 41, 60, 70, 119].map(seenAt)).toEqual([false, true, true, false, false])
  })
  it('lets a caption at the very end go where it closes', () => {
    const { reveal } = make('caption', 119)
    expect(revealSchema.safeParse(reveal).success).toBe(true)
    expect(reveal.gone).toBe(120)
  })
  it('leaves the statistics there once they have come', () => {
    const { seenAt } = make('plate', 30)
    expect([29, 40, 119].map(seenAt)).toEqual([false, true, true])
  })
  it('lays a graded ground above the paper, below the rest, for all frames', () => {
    const { sheet, seenAt, first } = make('ground')
    expect(sheet.roots).toEqual(['paper', first.id, 'ink'])
    expect([0, 60, 119].map(seenAt)).toEqual([true, true, true])
  })
  it('writes in dark on light paper, and in light on dark', () => {
    const colours = (paper: string) => {
      const own = testSheet({ width: 640, height: 360 }, [testLayer('paper', { content: evenFill(paper) })])
      const { layers } = presented('plate', own, turn.motion, 0, '', () => `ink-${count++}`)
      return layers[0].content.kind === 'type' ? layers[0].content.colour : ''
    }
    expect(colours('#f1e6d4')).not.toBe(colours('#101014'))
  })
  it('takes the colour of the hindmost even fill, or of the sheet', () => {
    expect(groundColour(still)).toBe('#f1e6d4')
    expect(groundColour({ ...still, roots: [], background: '#11223344' })).toBe('#112233')
  })
})
