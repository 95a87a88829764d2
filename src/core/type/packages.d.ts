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

declare module 'opentype.js' {
  type PathCommand =
    | { readonly type: 'M' | 'L'; readonly x: number; readonly y: number }
    | { readonly type: 'Q'; readonly x: number; readonly y: number; readonly x1: number; readonly y1: number }
    | {
        readonly type: 'C'
        readonly x: number
        readonly y: number
        readonly x1: number
        readonly y1: number
        readonly x2: number
        readonly y2: number
      }
    | { readonly type: 'Z' }
  interface Glyph {
    readonly index: number
    readonly advanceWidth?: number
    readonly path: { readonly commands: readonly PathCommand[] }
  }
  /** Another reader of fonts, which ours is held to. */
  export function parse(bytes: ArrayBufferLike): { charToGlyph(character: string): Glyph }
}
