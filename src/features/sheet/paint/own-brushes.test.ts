import { beforeEach, expect, it, vi } from 'vitest'
import { BRUSH_DEFAULTS } from '@/core/paint/brush'

const stored = new Map<string, string>()
let isFull = false
vi.stubGlobal('localStorage', {
  getItem: (key: string) => stored.get(key) ?? null,
  setItem: (key: string, value: string) => {
    if (isFull) throw new Error('full')
    stored.set(key, value)
  },
})
const { dropBrush, keepBrush, useOwnBrushes } = await import('./own-brushes')
const brush = { tip: 'chalk', seed: 3, params: BRUSH_DEFAULTS }
const names = () => useOwnBrushes.getState().brushes.map(({ name }) => name)

beforeEach(() => {
  stored.clear()
  isFull = false
})

it('keeps brushes under names of their own, and brings one back that was taken away', () => {
  expect([keepBrush('Soft', brush), keepBrush(' Soft ', brush), keepBrush('', brush)]).toEqual([
    'Soft',
    'Soft 2',
    'Brush',
  ])
  dropBrush('Soft 2')
  expect(names()).toEqual(['Soft', 'Brush'])
  keepBrush('Soft 2', brush)
  expect(names()).toContain('Soft 2')
})

it('leaves alone what it cannot read, and what another tab kept meanwhile', () => {
  const later = { name: 'Later', tip: 'chalk', seed: 'many', params: {} }
  const elsewhere = { ...brush, name: 'Elsewhere' }
  stored.set('relief.brushes', JSON.stringify([later, elsewhere]))
  keepBrush('Here', brush)
  expect(names()).toEqual(['Elsewhere', 'Here'])
  expect(JSON.parse(stored.get('relief.brushes') ?? '')).toContainEqual(later)
})

it('says where there is no room, and changes nothing', () => {
  keepBrush('One', brush)
  isFull = true
  expect(() => keepBrush('Two', brush)).toThrow(/no room/)
  expect(names()).toEqual(['One'])
})
