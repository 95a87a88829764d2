import { describe, expect, it } from 'vitest'
import { newLayer } from '@/core/sheet/new-layer'
import { newTurn, type Reveal } from '@/core/turn/turn-schema'
import { cameraShare, combTeeth, lanePath, seenShare } from './lane-shape'

const node = newLayer({ id: 'a', name: 'A', content: { kind: 'wash', version: 1 } as never })
const reveal: Reveal = {
  id: 'r',
  layerId: 'a',
  kind: 'fade',
  from: 10,
  whole: 20,
  goes: 30,
  gone: 40,
  ease: 'even',
  angleDeg: 0,
  softness: 0,
  centre: [0.5, 0.5],
  parts: [],
}
const turn = newTurn('t', 'T', 's', { turns: 1, framesPerTurn: 40 })

describe('how much of a layer is seen', () => {
  it('is its opacity, by how far it has come', () => {
    const now = { ...turn, reveals: [reveal] }
    const half = { ...node, opacity: 0.5 }
    expect([0, 10, 15, 20, 29, 35, 39].map((frame) => seenShare(half, now, frame))).toEqual([
      0,
      0,
      0.25,
      0.5,
      0.5,
      0.25,
      expect.closeTo(0.05, 9) as number,
    ])
  })
  it('follows keys of its opacity, and of whether it is shown', () => {
    const keyed = {
      ...turn,
      tracks: [
        {
          path: ['nodes', 'a', 'opacity'],
          keys: [
            { at: 0, value: 0, ease: 'even' as const },
            { at: 10, value: 1, ease: 'even' as const },
          ],
        },
        {
          path: ['nodes', 'a', 'visible'],
          keys: [
            { at: 0, value: true, ease: 'hold' as const },
            { at: 20, value: false, ease: 'hold' as const },
          ],
        },
      ],
    }
    expect([0, 5, 10, 19, 20, 30].map((frame) => seenShare(node, keyed, frame))).toEqual([0, 0.5, 1, 1, 0, 0])
  })
})

it('draws a lane from its floor to its floor, with the ends of what stays', () => {
  expect(lanePath(4, () => 1)).toBe('M0 1L0 0L4 0L4 1Z')
  expect(lanePath(6, (frame) => (frame < 3 ? 0 : 1))).toBe('M0 1L0 1L2 1L3 0L6 0L6 1Z')
})

it('tells how far the camera has gone', () => {
  const camera = {
    ...turn.camera,
    push: [
      { at: 0, value: 1, ease: 'even' as const },
      { at: 20, value: 0.5, ease: 'even' as const },
    ],
  }
  expect([0, 10, 20, 39].map((frame) => cameraShare(camera, frame))).toEqual([0, 0.5, 1, 1])
  expect(cameraShare(turn.camera, 7)).toBe(0)
})

describe('the comb', () => {
  const names = Array.from({ length: 8 }, (_, i) => `f${i}`)
  const teethOf = (path: string) => path.split('M').length - 1
  it('has a tooth for each frame', () => {
    const teeth = combTeeth(names, (name) => name < 'f3', new Set([3]), 160)
    expect([teeth.there, teeth.atWork, teeth.missing].map(teethOf)).toEqual([3, 1, 4])
  })
  it('has one for several where they would touch, long only when all are there', () => {
    const teeth = combTeeth(names, (name) => name !== 'f1', new Set(), 8)
    expect([teeth.there, teeth.atWork, teeth.missing].map(teethOf)).toEqual([3, 0, 1])
  })
})
