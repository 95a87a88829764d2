import { describe, expect, it } from 'vitest'
import { contentOf, evenFill, gradientFill, newEffect, wash, wholePicture } from './new-layer'
import { suggestedName } from './suggested-name'
import { testLayer } from './testing/sheets'

describe('the name a layer suggests', () => {
  const named = (rest: Parameters<typeof testLayer>[1]) => suggestedName(testLayer('l', rest))

  it('tells what it holds', () => {
    expect(named({ content: evenFill('#ff0000') })).toBe('Fill')
    expect(named({ content: gradientFill('radial', ['#ff0000', '#00ff00']) })).toBe('Radial gradient')
    expect(named({ content: contentOf('texture', { style: 'laidPaper' }) })).toBe('Laid paper')
    expect(named({ content: wash() })).toBe('Wash')
    const [one, two] = [newEffect('a', 'levels'), newEffect('b', 'grain')]
    expect(named({ content: wash(), effects: [one] })).toBe('Levels wash')
    expect(named({ content: wash(), effects: [one, two] })).toBe('Levels wash and 1 more')
  })

  it('is none where only who made it knows', () => {
    expect(named({ content: wholePicture('p') })).toBeNull()
  })
})
