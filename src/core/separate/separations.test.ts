import { describe, expect, it } from 'vitest'
import type { ScenePart } from '../scene/scene-geometry'
import { passMembersSchema } from '../passes/render-tile'
import {
  partsWithShape,
  setDepthOrder,
  setOrder,
  setReflectionOrder,
  setsBy,
  setsFitting,
  setShadowOrder,
} from './separations'

const part = (key: string, rest: Partial<ScenePart> = {}): ScenePart => ({
  key,
  name: key.toUpperCase(),
  role: 'subject',
  ...rest,
})
const PARTS = [
  part('a', { group: ['Boat', 'Oars'] }),
  part('b'),
  part('c', { role: 'unseen' }),
  part('d', { group: ['Boat'], role: 'ground' }),
  part('e', { role: 'off' }),
]

describe('sets', () => {
  it('are of every part that is seen, or of outermost groups', () => {
    expect(setsBy('part', PARTS)).toEqual([
      { name: 'A', parts: ['a'] },
      { name: 'B', parts: ['b'] },
      { name: 'D', parts: ['d'] },
    ])
    expect(setsBy('group', PARTS)).toEqual([
      { name: 'Boat', parts: ['a', 'd'] },
      { name: 'B', parts: ['b'] },
    ])
  })
  it('are found by names, parts also with their groups', () => {
    const named = (by: 'part' | 'group', pattern: string) =>
      setsFitting(by, setsBy(by, PARTS), PARTS, pattern).map(({ name }) => name)
    expect(named('part', 'boat / *')).toEqual(['A', 'D'])
    expect(named('part', 'b, d')).toEqual(['B', 'D'])
    expect(named('group', 'b*')).toEqual(['Boat', 'B'])
    expect(named('group', 'boat / *')).toEqual([])
  })
  it('leave out what has no triangles', () => {
    const boxes = Float32Array.of(
      0,
      0,
      0,
      1,
      1,
      1,
      Infinity,
      Infinity,
      Infinity,
      -Infinity,
      -Infinity,
      -Infinity,
    )
    expect(partsWithShape(PARTS, boxes).map(({ key }) => key)).toEqual(['a'])
  })
})

describe('passes of a set', () => {
  const [set] = setsBy('group', PARTS)
  const pass = { kind: 'clay', params: {}, effort: { samples: 1, rays: 1 } } as const
  it('look past the others where it is whole, and hold out what cuts it', () => {
    expect(setOrder(pass, set, 'whole').members).toMatchObject({ parts: ['a', 'd'], others: 'look past' })
    expect(setOrder(pass, set, 'whole').members?.holdOut).toBeUndefined()
    expect(setOrder(pass, set, 'whole', ['b']).members?.holdOut).toEqual(['b'])
    expect(setOrder(pass, set, 'seen', ['b']).members).toMatchObject({ others: 'hold out' })
    expect(setOrder(pass, set, 'whole').members?.letThrough).toEqual([])
    expect(setDepthOrder(set).members).toMatchObject({ parts: ['a', 'd'], others: 'look past' })
  })
  it('throw its shadow alone, on all others', () => {
    const order = setShadowOrder(pass.effort, set, PARTS, 'whole', { softness: 0 })
    expect(order.params.on).toBe('all')
    expect(order.shownAs).toEqual({ softness: 0 })
    expect(order.members).toMatchObject({
      parts: ['b', 'c', 'e'],
      letThrough: ['b', 'c', 'e'],
      others: 'look past',
    })
    expect(setShadowOrder(pass.effort, set, PARTS, 'seen', {}).members?.others).toBe('hold out')
    expect(passMembersSchema.safeParse(order.members).success).toBe(true)
  })
  it('are mirrored alone, in the light of all', () => {
    const order = setReflectionOrder(pass.effort, set, PARTS, 'seen', { shows: 'clay' })
    expect(order.params).toMatchObject({ on: 'ground', shows: 'clay' })
    expect(order.members).toMatchObject({
      parts: ['b', 'c', 'e'],
      mirrored: ['a', 'd'],
      letThrough: [],
      others: 'hold out',
    })
  })
})
