import { describe, expect, it } from 'vitest'
import { fitsPattern, numbersNamed } from './part-sets'

describe('numbers that a text names', () => {
  it.each([
    ['all', [0, 1, 2, 3, 4]],
    [' ALL ', [0, 1, 2, 3, 4]],
    ['1', [0]],
    ['1,3-5', [0, 2, 3, 4]],
    ['5, 1 - 2 ,5,2', [4, 0, 1]],
  ])('%s', (text, numbers) => expect(numbersNamed(text, 5)).toEqual(numbers))

  it.each(['', '0', '6', '3-1', '1-9', 'x', '1,,2', '1-2-3', '-2', '1e3', '99999999'])(
    'are none in "%s", which is told by the piece',
    (text) => expect(() => numbersNamed(text, 5)).toThrow(/all, or numbers and ranges within 1-5/),
  )
})

describe('names that fit a pattern', () => {
  it.each([
    ['Rail post 3', 'rail*', true],
    ['Rail post 3', '*post ?', true],
    ['Rail post 3', 'post*', false],
    ['Rail post 3', 'Door, *3', true],
    ['Rail post 3', '*', true],
    ['', '*', true],
    ['a', '', false],
    ['ab', 'a?c', false],
    ['Größe', 'GRÖ*', true],
    ['😀 post', '? post', true],
    ['a[b](c)', 'a[b](c)', true],
  ])('%s by %s: %s', (name, pattern, is) => expect(fitsPattern(name, [], pattern)).toBe(is))

  it('fits with the groups it lies in', () => {
    expect(fitsPattern('Post', ['Quay', 'Rail'], 'quay/rail/*')).toBe(true)
    expect(fitsPattern('Post', ['Quay', 'Rail'], 'rail / *')).toBe(false)
    expect(fitsPattern('Post', ['Quay', 'Rail'], '*rail / post')).toBe(true)
  })

  it('is told whatever the pattern, where a regular expression would never end', () => {
    expect(fitsPattern('a'.repeat(2000), [], `${'*a'.repeat(200)}*b`)).toBe(false)
  })
})
