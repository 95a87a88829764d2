declare module 'linebreak' {
  /** Where a text may be broken into lines (Unicode Standard Annex 14). */
  export default class LineBreaker {
    constructor(text: string)
    nextBreak(): { readonly position: number; readonly required: boolean } | null
  }
}

declare module 'hyphen/*' {
  /** Puts soft hyphens where a word may be divided. */
  export function hyphenateSync(text: string, options?: { readonly minWordLength?: number }): string
}
