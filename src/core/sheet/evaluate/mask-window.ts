import { parseHex } from '../../math/colour'
import type { Surface } from '../../passes/pass-kind'
import { partDepths, partsNearer } from '../../passes/part-depths'
import { surfaceCoverage, type PassResult } from '../../passes/pass-result'
import type { MapRequest } from '../../passes/shot-maps'
import type { Tile } from '../../passes/tile'
import { resizePlaneWindow } from '../../picture/resample'
import type { PaintTarget } from '../contents/content-kind'
import { layWindow, passPlacement } from '../pass-placement'
import {
  isSurfaceTerm,
  termNaming,
  termPlane,
  type MaskTerm,
  type PlaneTerm,
  type SurfaceTerm,
} from '../terms/registry'
import type { TermJoin } from '../terms/term-kind'

/** What terms choose together: surfaces by number, and whether the empty background belongs to it. */
export interface ChosenSurfaces {
  /** Uint8Array, one per surface: 1 is chosen. */
  readonly surfaces: Uint8Array
  readonly background: boolean
}

type Named = Pick<Surface, 'part' | 'material' | 'groups' | 'role'>

/**
 * Works terms out on the surfaces themselves (pairs of part and material), from the first to the last, so that an edge
 * shared by two terms stays exact: within a pixel it is known which surface belongs to which term.
 * A list that begins by taking away, or by intersecting, begins with everything.
 */
export function chooseSurfaces(terms: readonly SurfaceTerm[], surfaces: readonly Named[]): ChosenSurfaces {
  const everything = terms.length > 0 && terms[0].join !== 'add'
  const chosen = new Uint8Array(surfaces.length).fill(everything ? 1 : 0)
  let background = everything
  for (const term of terms) {
    const keys = new Set(term.keys)
    const naming = termNaming(term)
    const named = (surface: Named) => naming(surface).some((key) => keys.has(key)) !== term.invert
    // The background is no part and of no material: an inverted term names it.
    if (term.join === 'add') background ||= term.invert
    else background &&= term.join === 'subtract' ? !term.invert : term.invert
    surfaces.forEach((surface, i) => {
      if (named(surface) && term.join === 'add') chosen[i] = 1
      if (named(surface) && term.join === 'subtract') chosen[i] = 0
      if (!named(surface) && term.join === 'intersect') chosen[i] = 0
    })
  }
  return { surfaces: chosen, background }
}

/** Terms of a mask that give one plane: surfaces that are joined exactly, or a plane of its own; and how that plane is joined. */
export interface TermRun {
  readonly join: TermJoin
  readonly source:
    | { readonly by: 'surfaces'; readonly terms: readonly SurfaceTerm[] }
    | { readonly by: 'plane'; readonly term: PlaneTerm }
  readonly featherPx: number
  readonly growPx: number
  readonly invert: boolean
  readonly strength: number
}

const isPlain = ({ featherPx, growPx, strength }: SurfaceTerm): boolean =>
  featherPx === 0 && growPx === 0 && strength === 1

/**
 * Terms in runs. Surface terms that follow each other without an edge or a strength of their own are joined as surfaces, not
 * as planes: at the beginning of a list all of them, later on those that are added, or taken away, together.
 */
export function termRuns(terms: readonly MaskTerm[]): TermRun[] {
  const runs: TermRun[] = []
  /** The run that a surface term may still go into. */
  let open: { readonly terms: SurfaceTerm[]; readonly join: TermJoin | null } | null = null
  for (const term of terms) {
    if (term.kind === 'unreadable' || !term.enabled) continue
    const { join, featherPx, growPx, strength, invert } = term
    if (!isSurfaceTerm(term) || !isPlain(term)) {
      open = null
      const source = isSurfaceTerm(term)
        ? ({ by: 'surfaces', terms: [{ ...term, join: 'add', invert: false }] } as const)
        : ({ by: 'plane', term } as const)
      runs.push({ join, source, featherPx, growPx, invert, strength })
    } else if (open && (open.join === null || (open.join === join && join !== 'intersect')))
      open.terms.push(open.join === null ? term : { ...term, join: 'add' })
    else {
      const isFirst = runs.length === 0
      open = { terms: [isFirst ? term : { ...term, join: 'add' }], join: isFirst ? null : join }
      const source = { by: 'surfaces', terms: open.terms } as const
      runs.push({ join: isFirst ? 'add' : join, source, featherPx: 0, growPx: 0, invert: false, strength: 1 })
    }
  }
  return runs
}

/**
 * A window of a run's plane, before its edge, inversion and strength.
 * @param shotId the shot whose ID pass knows the surfaces.
 * @param mapsOf what the term asks for, as large as the window.
 * @returns Float32Array, width·height of the window, 0…1; null where it has nothing to say: what it is made from is missing.
 */
export function runWindow(
  { source }: TermRun,
  target: PaintTarget,
  shotId: string | undefined,
  mapsOf: (term: PlaneTerm) => readonly Float32Array[],
): Float32Array | null {
  return source.by === 'surfaces'
    ? surfacesWindow(source.terms, target, shotId)
    : termPlane(source.term, target, mapsOf(source.term))
}

/** How much of each pixel of a window surfaces cover that terms choose; null without an ID pass. */
export function surfacesWindow(
  terms: readonly SurfaceTerm[],
  { window, view, sheet, resources }: PaintTarget,
  shotId: string | undefined,
): Float32Array | null {
  const idPass = resources.shotPass(shotId, 'id')
  if (!idPass) return null
  const { surfaces, background } = chooseSurfaces(terms, idPass.surfaces)
  // Beside the picture there is nothing but background.
  const wanted = background ? surfaces.map((chosen) => 1 - chosen) : surfaces
  const plane = coverageWindow(idPass, wanted, { window, view, sheet })
  if (background) for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i]
  return plane
}

/** A window of how much of each pixel surfaces cover, each counting as much as it is told. */
function coverageWindow(
  idPass: PassResult,
  wanted: Uint8Array | Float32Array,
  { window, view, sheet }: Pick<PaintTarget, 'window' | 'view' | 'sheet'>,
): Float32Array {
  const placed = passPlacement(idPass, view, sheet)
  const isAsRendered = placed.width === idPass.width && placed.height === idPass.height
  const rectOf = (rect: Tile) => surfaceCoverage(idPass, wanted, rect)
  const across = { pixels: idPass.width, origin: 0, length: placed.width }
  const down = { pixels: idPass.height, origin: 0, length: placed.height }
  return (
    layWindow(placed, window, 1, (inside) =>
      isAsRendered ? rectOf(inside) : resizePlaneWindow(rectOf, across, down, inside),
    ) ?? new Float32Array(window.width * window.height)
  )
}

/** How much of each pixel of a window parts cover that are nearer than a depth; null without an ID and a depth pass. */
export function nearerWindow(
  depth: number,
  target: PaintTarget,
  shotId: string | undefined,
): Float32Array | null {
  const { resources } = target
  const [idPass, depthPass] = [resources.shotPass(shotId, 'id'), resources.shotPass(shotId, 'depth')]
  if (!idPass || !depthPass) return null
  const nearer = new Set(partsNearer(partDepths(idPass, depthPass), depth))
  return coverageWindow(
    idPass,
    Uint8Array.from(idPass.surfaces, ({ part }) => Number(nearer.has(part))),
    target,
  )
}

/** A window of one channel of the colours that parts or materials have in a palette; null without an ID pass. */
export function paletteWindow(
  { by, colours, channel }: Extract<MapRequest, { from: 'palette' }>,
  target: PaintTarget,
  shotId: string | undefined,
): Float32Array | null {
  const idPass = target.resources.shotPass(shotId, 'id')
  if (!idPass) return null
  // Each in the order in which it first stands among the surfaces.
  const order = new Map<string, number>()
  for (const surface of idPass.surfaces) if (!order.has(surface[by])) order.set(surface[by], order.size)
  const parsed = colours.map((hex) => parseHex(hex))
  const wanted = Float32Array.from(idPass.surfaces, (surface) =>
    channel === 3 ? 1 : parsed[(order.get(surface[by]) ?? 0) % parsed.length][channel],
  )
  return coverageWindow(idPass, wanted, target)
}

/**
 * Joins a plane to what the terms above made, in place, as shares of a pixel that know nothing of each other: a + b − ab,
 * a · (1 − b), ab. Both 0…1.
 */
export function joinPlane(made: Float32Array, plane: Float32Array, join: TermJoin): void {
  if (join === 'add') for (let i = 0; i < made.length; i++) made[i] += plane[i] - made[i] * plane[i]
  else if (join === 'subtract') for (let i = 0; i < made.length; i++) made[i] *= 1 - plane[i]
  else for (let i = 0; i < made.length; i++) made[i] *= plane[i]
}
