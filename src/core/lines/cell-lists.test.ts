import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { CellLists } from './cell-lists'

describe('CellLists', () => {
  it('lists what a map of arrays lists, however many cells there are', () => {
    const random = seededRandom(5)
    const lists = new CellLists()
    const map = new Map<string, number[]>()
    const whole = (span: number) => Math.floor(random() * span) - span / 2
    for (let i = 0; i < 20_000; i++) {
      const [key, x, y] = [whole(6), whole(60), i % 7 === 0 ? whole(2 ** 31) : whole(60)]
      expect(lists.add(key, x, y)).toBe(i)
      const name = `${key} ${x} ${y}`
      map.set(name, [...(map.get(name) ?? []), i])
    }
    for (const [name, items] of map) {
      const [key, x, y] = name.split(' ').map(Number)
      const found: number[] = []
      for (let item = lists.last(key, x, y); item >= 0; item = lists.previous(item)) found.unshift(item)
      expect(found).toEqual(items)
    }
    expect(lists.last(99, 0, 0)).toBe(-1)
  })
})
