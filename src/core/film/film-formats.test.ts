import { expect, it } from 'vitest'
import { bitsForSize, numberedName, patternProblem, quantizerOf } from './film-formats'

it('numbers pictures where the pattern says', () => {
  expect(numberedName('gauge_####', 7, 'png')).toBe('gauge_0007.png')
  expect(numberedName('gauge_####.png', 7, 'png')).toBe('gauge_0007.png')
  expect(numberedName('##_gauge_###', 12, 'png')).toBe('##_gauge_012.png')
  expect(numberedName('gauge', 7, 'png')).toBe('gauge_0007.png')
  expect(numberedName('f#', 123, 'png')).toBe('f123.png')
})
it('says what is wrong with a pattern', () => {
  expect(patternProblem('gauge_####', 288)).toBeNull()
  expect(patternProblem('gauge', 288)).toBeNull()
  expect(patternProblem(' ', 3)).toMatch(/name something/)
  expect(patternProblem('a/b_##', 3)).toMatch(/must not hold/)
  expect(patternProblem('gauge_##', 288)).toBe('288 frames take 3 digits: # must stand there as often.')
})
it('asks for so many bits a second that a film fits', () => {
  // Ten seconds in five megabytes.
  expect(bitsForSize(5e6, 240, 24)).toBe(Math.round(0.97 * 4e6))
  expect(bitsForSize(1, 240, 24)).toBe(10_000)
})
it('gives better quality with a lower quantizer, within what encoders take', () => {
  for (const format of ['mp4', 'webm', 'av1'] as const) {
    const all = [0, 25, 50, 75, 100].map((quality) => quantizerOf(format, quality))
    expect(all).toEqual([...all].sort((a, b) => b - a))
    expect(Math.min(...all)).toBeGreaterThanOrEqual(0)
    expect(Math.max(...all)).toBeLessThanOrEqual(format === 'mp4' ? 51 : 63)
  }
})
