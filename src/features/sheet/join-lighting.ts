import { passKind } from '@/core/passes/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newMask, passOf, surfaceTerm } from '@/core/sheet/new-layer'
import { childrenOf, insertNode, placeOf } from '@/core/sheet/sheet-tree'
import { isSurfaceTerm, type SurfaceTerm } from '@/core/sheet/terms/registry'
import { activeSheet, passesOf, rigOfPass } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project, ProjectPass } from '@/data/project-schema'
import { changeProject } from '@/state/project-store'
import { setBench } from '@/state/view-store'

/** Kinds whose pictures of two lightings are joined: they cover all of the form in full. */
const JOINED: readonly ProjectPass['kind'][] = ['clay', 'lit']

/** The pass of a layer that another lighting can be joined to; null for other layers. */
export function lightingOf(project: Project, { content }: Pick<SheetNode, 'content'>): ProjectPass | null {
  const pass = content.kind === 'pass' ? project.passes.find((p) => p.id === content.passId) : undefined
  return pass && JOINED.includes(pass.kind) ? pass : null
}

/** Passes that show the same from the same shot under another rig. */
export const otherLightings = (project: Project, pass: ProjectPass): ProjectPass[] =>
  passesOf(project, pass.shotId).filter(
    (other) =>
      other.id !== pass.id &&
      other.kind === pass.kind &&
      rigOfPass(project, other).id !== rigOfPass(project, pass).id,
  )

/** Why nothing can be taken from another lighting into a layer, in words; null where it can. */
export function joinProblem(
  project: Project,
  layer: Pick<SheetNode, 'mode' | 'opacity'>,
  from: ProjectPass,
): string | null {
  if (layer.mode !== 'normal' || layer.opacity < 1) return 'The layer must be normal and whole'
  if (!from.rendered) return `${from.name} is not rendered yet`
  const hasId = passesOf(project, from.shotId).some((p) => p.kind === 'id' && p.rendered)
  return hasId ? null : 'A rendered ID pass is needed to tell parts apart'
}

/**
 * Takes a part or material of a layer from another lighting: a layer of it stands in front, held to what was taken by its
 * mask, with the look of the first. More from the same lighting goes into the same mask. One undo step.
 */
export function takeFromLighting(
  layer: SheetNode,
  from: ProjectPass,
  kind: SurfaceTerm['kind'],
  key: string,
): void {
  const { content } = layer
  if (content.kind !== 'pass') return
  const id = newId()
  let shown = id
  changeProject(`take from ${from.name}`, (draft) => {
    const sheet = activeSheet(draft)
    const place = placeOf(sheet, layer.id)
    if (!place) return
    const joined = childrenOf(sheet, place.parent)
      .slice(place.index + 1)
      .map((other) => sheet.nodes[other])
      .find((node) => node.content.kind === 'pass' && node.content.passId === from.id && node.mask !== null)
    const term = joined?.mask?.terms.find((t) => t.kind === kind && t.join === 'add')
    if (joined && term && isSurfaceTerm(term)) {
      if (!term.keys.includes(key)) term.keys.push(key)
      shown = joined.id
      return
    }
    const own: SheetNode = {
      ...structuredClone(layer),
      id,
      name: from.name === passKind(from.kind).label ? `${from.name}, second light` : from.name,
      content: passOf(from.id, { ...content.look }),
      mask: { ...newMask(), terms: [surfaceTerm(kind, [key])] },
    }
    insertNode(sheet, own, { ...place, index: place.index + 1 })
  })
  setBench({ layerId: shown, peel: Infinity })
}
