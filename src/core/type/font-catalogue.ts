import fonts from './font-catalogue.json'
import type { FontAxis } from './shaper'

/** The fonts that are shipped: `node scripts/fonts.mjs` writes their list and copies their files. */
export interface CatalogueFont {
  readonly id: string
  readonly family: string
  readonly style: string
  readonly group: string
  /** In the order in which they are asked for a character. */
  readonly files: readonly string[]
  readonly axes: readonly FontAxis[]
  /** As the SPDX list calls it. */
  readonly licence: string
  readonly attribution: string
}

export const CATALOGUE: readonly CatalogueFont[] = fonts

const byId = new Map(CATALOGUE.map((font) => [font.id, font]))

/** A shipped font by its id. */
export const catalogueFont = (id: string): CatalogueFont | undefined => byId.get(id)

/** What type begins with. */
export const FIRST_FONT = 'league-gothic'
