declare module 'linebreak' {
  /** Where a text may be broken into lines (Unicode Standard Annex 14). */
  export default class LineBreaker {
    constructor(text: string)
    nextBreak(): { readonly position: number; readonly required: boolean } | null
  }
}

declare module 'hyphen/*' {
  const hyphenation: {
    /** Puts soft hyphens where words may be divided. */
    hyphenateSync(text: string, options?: { readonly minWordLength?: number }): string
  }
  export default hyphenation
}
