import bidiFactory from 'bidi-js'
import type { Font, RunDirection } from './shaper'

/** Parts of a text that are set in one go: of one font, one script and one direction. In the order in which they are read. */
export interface TextRun {
  readonly start: number
  readonly end: number
  /** Even: from left to right, odd: from right to left (Unicode Standard Annex 9). */
  readonly level: number
  /** Which of the fonts has its characters. */
  readonly font: number
}

const bidi = bidiFactory()

/** Scripts that are shaped by rules of their own; all others go with what stands beside them. */
const SCRIPTS = [
  'Latin',
  'Greek',
  'Cyrillic',
  'Hebrew',
  'Arabic',
  'Devanagari',
  'Thai',
  'Hangul',
  'Han',
  'Hiragana',
  'Katakana',
].map((name) => new RegExp(`\\p{Script=${name}}`, 'u'))
const scriptOf = (character: string): number => SCRIPTS.findIndex((script) => script.test(character))

/** Levels of each UTF-16 unit. @param base `auto`: by the first letter that has a direction. */
export const levelsOf = (text: string, base: RunDirection | 'auto'): Uint8Array =>
  bidi.getEmbeddingLevels(text, base === 'left' ? 'rtl' : base === 'auto' ? 'auto' : 'ltr').levels

/**
 * Cuts a paragraph into runs.
 * @param fonts in the order in which they are asked for a character; the first stands in where none has it.
 */
export function textRuns(text: string, levels: Uint8Array, fonts: readonly Font[]): TextRun[] {
  const runs: TextRun[] = []
  let script = -1
  let at = 0
  for (const character of text) {
    const code = character.codePointAt(0) ?? 0
    const level = levels[at]
    const own = scriptOf(character)
    const last = runs.at(-1)
    const isMark = /\p{M}/u.test(character)
    // A space, or a mark, goes with what stands before it if that font has it: kerning and marks need both.
    const has = (font: number) => fonts[font].has(code)
    const holds = last && (isMark || has(last.font))
    const found = fonts.findIndex((font) => font.has(code))
    const font = last && holds && (own < 0 || found === last.font || isMark) ? last.font : Math.max(0, found)
    const isSame =
      last?.level === level && last.font === font && (own < 0 || script < 0 || own === script || isMark)
    if (last && isSame) runs[runs.length - 1] = { ...last, end: at + character.length }
    else runs.push({ start: at, end: at + character.length, level, font })
    if (own >= 0) script = own
    else if (!isSame) script = -1
    at += character.length
  }
  return runs
}

/** Puts things of a line that are in reading order into the order in which they are seen (UAX 9, rule L2). */
export function inSeenOrder<T>(items: readonly T[], levelOf: (item: T) => number): T[] {
  const out = [...items]
  const levels = out.map(levelOf)
  const highest = Math.max(0, ...levels)
  for (let level = highest; level >= 1; level--)
    for (let i = 0; i < out.length;) {
      if (levels[i] < level) {
        i++
        continue
      }
      let end = i
      while (end < out.length && levels[end] >= level) end++
      out.splice(i, end - i, ...out.slice(i, end).reverse())
      levels.splice(i, end - i, ...levels.slice(i, end).reverse())
      i = end
    }
  return out
}
