import german from 'hyphen/de/index.js'
import english from 'hyphen/en-gb/index.js'
import spanish from 'hyphen/es/index.js'
import french from 'hyphen/fr/index.js'
import italian from 'hyphen/it/index.js'
import type { TypeStyle } from './type-style'

export const SOFT_HYPHEN = '\u00ad'

const LANGUAGES = { en: english, de: german, fr: french, es: spanish, it: italian }

/**
 * A text with soft hyphens where its words may be divided; those that were typed are always there.
 * @returns with what tells places in it as places in what was typed.
 */
export function hyphenated(
  typed: string,
  language: TypeStyle['hyphens'],
): { readonly text: string; readonly toTyped: (at: number) => number } {
  if (language === 'none') return { text: typed, toTyped: (at) => at }
  const text = LANGUAGES[language].hyphenateSync(typed)
  const places = new Uint32Array(text.length + 1)
  let own = 0
  for (let at = 0; at < text.length; at++) {
    places[at] = own
    if (text[at] === typed[own]) own++
  }
  places[text.length] = own
  return { text, toTyped: (at) => places[at] }
}
