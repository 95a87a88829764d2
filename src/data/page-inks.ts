import { newEffect, newLayer, wash } from '@/core/sheet/new-layer'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Ink, Page, PageInks, ProjectSheet } from './project-schema'

/** Pages that are printed in a few inks: what lies on them goes through a separation, as the last of all. */

/** The layer that does it; it is no layer of the document. */
export const INKS_LAYER = 'inks of the page'
const PLATES = ['first', 'second', 'third', 'fourth'] as const

/** A page's layers with the one that prints them in its inks. @param dpi of the page. */
export function inked(
  { roots, nodes, background }: Pick<ProjectSheet, 'roots' | 'nodes' | 'background'>,
  { list, screened, linesPerInch, slipMm, slipSeed, plate }: PageInks,
  dpi: number,
): { readonly roots: string[]; readonly nodes: Record<string, SheetNode> } {
  const shown = list.findIndex(({ id }) => id === plate)
  const cell = dpi / linesPerInch
  const effect = newEffect(INKS_LAYER, 'inks')
  const layer = newLayer({
    id: INKS_LAYER,
    name: 'Inks',
    content: wash(),
    effects: [
      {
        ...effect,
        params: {
          ...effect.params,
          inks: list.map(({ colour }) => colour),
          paper: (background ?? '#ffffff').slice(0, 7),
          show: PLATES[shown] ?? 'together',
          screened,
          size: Math.min(80, Math.max(2, cell)),
          slip: Math.min(80, (slipMm * dpi) / 25.4),
          slipSeed,
          ...Object.fromEntries(list.map(({ angleDeg }, i) => [`angle${i + 1}`, angleDeg])),
        },
      },
    ],
  })
  return { roots: [...roots, INKS_LAYER], nodes: { ...nodes, [INKS_LAYER]: layer } }
}

/** A page as one of its plates: a grey picture, black where there is all of the ink. */
export function plateOf(page: ProjectSheet, inkId: string): ProjectSheet {
  if (!page.page?.inks) return page
  const known = plates.get(page) ?? new Map<string, ProjectSheet>()
  plates.set(page, known)
  const made = known.get(inkId) ?? {
    ...page,
    page: { ...page.page, inks: { ...page.page.inks, on: true, plate: inkId } },
  }
  known.set(inkId, made)
  return made
}
/** The same page has the same plates. */
const plates = new WeakMap<ProjectSheet, Map<string, ProjectSheet>>()

/** Angles of screens that do not beat against each other. */
const ANGLES = [15, 75, 0, 45]

/** What pages begin to be printed in. */
export const firstInks = (newId: () => string): PageInks => ({
  on: true,
  list: [
    { id: newId(), name: 'Red', colour: '#c8452b', angleDeg: ANGLES[0] },
    { id: newId(), name: 'Deep blue', colour: '#1f3f58', angleDeg: ANGLES[1] },
  ],
  screened: false,
  linesPerInch: 45,
  slipMm: 0,
  slipSeed: 1,
})

/** Another ink, as it begins. */
export const newInk = (id: string, list: readonly Ink[]): Ink => ({
  id,
  name: `Ink ${list.length + 1}`,
  colour: (['#e0a52c', '#2c6e54', '#221f1d', '#c8452b'] as const)[list.length % 4],
  angleDeg: ANGLES[list.length % ANGLES.length],
})

/** Papers and what ink is on them: their white, and the black of their ink. */
export const STOCKS: readonly { readonly name: string; readonly stock: NonNullable<Page['stock']> }[] = [
  { name: 'Coated', stock: { paper: '#f6f5f2', black: '#1c1b1a' } },
  { name: 'Uncoated', stock: { paper: '#f3efe4', black: '#33302d' } },
  { name: 'Newsprint', stock: { paper: '#e3dccb', black: '#45413c' } },
  { name: 'Craft board', stock: { paper: '#c9a87c', black: '#33281d' } },
]
