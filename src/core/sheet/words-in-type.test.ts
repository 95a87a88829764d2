import { describe, expect, it } from 'vitest'
import { contentOf } from './new-layer'
import { testLayer, testSheet } from './testing/sheets'
import { withWords, withWordsIn } from './words-in-type'

const type = (id: string, text: string) =>
  testLayer(id, { content: contentOf('type', { text, fontId: 'anton', box: [0, 0, 1, 1] }) })
const textOf = (sheet: ReturnType<typeof testSheet>, id: string) =>
  (sheet.nodes[id].content as { readonly text: string }).text

describe('words in type', () => {
  it('stand for what they are given, as often as they stand there', () =>
    expect(withWordsIn('{a} of {b}, {a}', { a: '3', b: '9' })).toBe('3 of 9, 3'))
  it('stay where nothing is known of them, and are no names of what every object has', () =>
    expect(withWordsIn('{a} {toString} {} {b c}', { a: '1' })).toBe('1 {toString} {} {b c}'))
  it('change only the blocks that hold one; the same words give the same block again', () => {
    const sheet = testSheet({ width: 100, height: 50 }, [
      type('plain', 'Tide'),
      type('words', 'frame {frame}'),
    ])
    const made = withWords(sheet, { frame: '7' })
    expect(made.nodes.plain).toBe(sheet.nodes.plain)
    expect(textOf(made, 'words')).toBe('frame 7')
    expect(withWords(sheet, { frame: '7' }).nodes.words).toBe(made.nodes.words)
    expect(textOf(withWords(sheet, { frame: '8' }), 'words')).toBe('frame 8')
    expect(withWords(sheet, { other: '7' })).toBe(sheet)
  })
})
