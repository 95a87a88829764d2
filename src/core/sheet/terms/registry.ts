import type { z } from 'zod'
import { KindRegistry } from '../../kinds'
import type { MapRequest } from '../../passes/shot-maps'
import type { PaintTarget } from '../contents/content-kind'
import { brightnessRangeTerm } from './brightness-range'
import { cavityRangeTerm } from './cavity-range'
import { chromaRangeTerm } from './chroma-range'
import { circleTerm } from './circle'
import { cloudsTerm } from './clouds'
import { depthRangeTerm } from './depth-range'
import { heightRangeTerm } from './height-range'
import { facingRangeTerm } from './facing-range'
import { gradientTerm } from './gradient'
import { groupsTerm } from './groups'
import { hueRangeTerm } from './hue-range'
import { layerAlphaTerm } from './layer-alpha'
import { layerMaskTerm } from './layer-mask'
import { materialsTerm } from './materials'
import { occlusionRangeTerm } from './occlusion-range'
import { paintedTerm } from './painted'
import { partsTerm } from './parts'
import { pictureTerm } from './picture'
import { polygonTerm } from './polygon'
import { rolesTerm } from './roles'
import { similarColourTerm } from './similar-colour'
import { standingTerm } from './standing'
import type { TermKind } from './term-kind'

/** Every term of a mask, in the order it is offered. Adding one is its file and its line here. */
export const terms = new KindRegistry('mask term', [
  partsTerm,
  materialsTerm,
  groupsTerm,
  rolesTerm,
  depthRangeTerm,
  heightRangeTerm,
  brightnessRangeTerm,
  chromaRangeTerm,
  hueRangeTerm,
  similarColourTerm,
  standingTerm,
  facingRangeTerm,
  occlusionRangeTerm,
  cavityRangeTerm,
  gradientTerm,
  circleTerm,
  polygonTerm,
  layerAlphaTerm,
  layerMaskTerm,
  cloudsTerm,
  pictureTerm,
  paintedTerm,
] as const)

export type MaskTerm = z.infer<typeof terms.schema>
export type MaskTermOf<K extends MaskTerm['kind']> = Extract<MaskTerm, { kind: K }>
/** A term that can be read. */
export type KnownTerm = Exclude<MaskTerm, { kind: 'unreadable' }>
/** Terms that choose surfaces by what they are named. */
export type SurfaceTerm = MaskTermOf<'parts' | 'materials' | 'groups' | 'roles'>
/** Terms that work out a plane. */
export type PlaneTerm = Exclude<KnownTerm, SurfaceTerm>

/** A term's descriptor as it is asked for whatever its kind: what is asked about is what it was registered with. */
export type AnyTermKind = TermKind<string, z.ZodRawShape>
export const termKind = ({ kind }: MaskTerm): AnyTermKind | undefined =>
  terms.kind(kind) as AnyTermKind | undefined

/** Ids of the passes and pictures that a term is made from, besides its maps. */
export const termUses = (term: MaskTerm): readonly string[] => termKind(term)?.uses?.(term) ?? []

/** Maps that a term is made from. */
export const termMaps = (term: MaskTerm): readonly MapRequest[] => termKind(term)?.maps?.(term) ?? []

export const isSurfaceTerm = (term: MaskTerm): term is SurfaceTerm => termKind(term)?.names !== undefined

/** What surfaces of a pass are named by, for a term that chooses them. */
export const termNaming = (term: SurfaceTerm): NonNullable<AnyTermKind['names']> => {
  const names = termKind(term)?.names
  if (!names) throw new Error(`term ${term.kind} chooses no surfaces`)
  return names
}

/** A window of a term's plane; see {@link TermKind.plane}. */
export const termPlane = (
  term: PlaneTerm,
  target: PaintTarget,
  maps: readonly Float32Array[],
): Float32Array | null => termKind(term)?.plane?.(term, target, maps) ?? null
