import type { z } from 'zod'
import { KindRegistry } from '../../kinds'
import { materialsTerm } from './materials'
import { partsTerm } from './parts'
import { pictureTerm } from './picture'

/** Every term of a mask, in the order it is offered. Adding one is its file and its line here. */
export const terms = new KindRegistry('mask term', [partsTerm, materialsTerm, pictureTerm] as const)

export type MaskTerm = z.infer<typeof terms.schema>
export type MaskTermOf<K extends MaskTerm['kind']> = Extract<MaskTerm, { kind: K }>
/** Terms that choose surfaces: pairs of part and material. */
export type SurfaceTerm = MaskTermOf<'parts' | 'materials'>

/** Ids of the pictures that a term is made from. */
export const termUses = (term: MaskTerm): readonly string[] =>
  term.kind === 'picture' ? [term.pictureId] : []

export const isSurfaceTerm = (term: MaskTerm): term is SurfaceTerm =>
  term.kind === 'parts' || term.kind === 'materials'
