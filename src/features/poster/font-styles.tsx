import { CATALOGUE } from '@/core/type/font-catalogue'
import { pageStyles } from '@/ui/page-styles'

/** What a shipped font is called on this page, to show its name in its own letters. */
export const faceName = (fontId: string): string => `shipped ${fontId}`

/** The shipped fonts as faces of the page: a browser fetches one when something is set in it. */
export const FontStyles = pageStyles(
  CATALOGUE.map(({ id, files }) => ({
    '@font-face': {
      fontFamily: faceName(id),
      src: `url("/fonts/${files[0]}") format("woff")`,
      fontDisplay: 'swap',
    },
  })),
)
