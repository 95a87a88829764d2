import { hyphenateSync as german } from 'hyphen/de'
import { hyphenateSync as english } from 'hyphen/en-gb'
import { hyphenateSync as spanish } from 'hyphen/es'
import { hyphenateSync as french } from 'hyphen/fr'
import { hyphenateSync as italian } from 'hyphen/it'
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
  const text = LANGUAGES[language](typed)
  const places = new Uint32Array(text.length + 1)
  let own = 0
  for (let at = 0; at < text.length; at++) {
    places[at] = own
    if (text[at] === typed[own]) own++
  }
  places[text.length] = own
  return { text, toTyped: (at) => places[at] }
}
