import type { FontFile } from '@/core/type/shaper'
import type { FontFacts } from './sheet-requests'

/** What a font file says of itself. */
export const fontFacts = (file: FontFile): FontFacts => ({
  family: file.nameOf(16) || file.nameOf(1),
  licence: file.nameOf(13),
  copyright: file.nameOf(0),
  axes: file.axes,
  features: file.features,
})
