import { passKind } from '@/core/passes/registry'
import type { Layer, MaskTerm } from '@/core/sheet/sheet-schema'
import { activeSheet, passesOf, rigOfPass } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project, ProjectPass } from '@/data/project-schema'
import { changeProject } from '@/state/project-store'
import { setBench } from '@/state/view-store'

/** Kinds whose pictures of two lightings are joined: they cover all of the form in full. */
const JOINED: readonly ProjectPass['kind'][] = ['clay', 'lit']

/** The pass of a layer that another lighting can be joined to; null for other layers. */
export function lightingOf(project: Project, { source }: Pick<Layer, 'source'>): ProjectPass | null {
  const pass = source.type === 'pass' ? project.passes.find((p) => p.id === source.passId) : undefined
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
  layer: Pick<Layer, 'mode' | 'opacity'>,
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
export function takeFromLighting(layer: Layer, from: ProjectPass, by: MaskTerm['by'], key: string): void {
  if (layer.source.type !== 'pass') return
  const { look } = layer.source
  const id = newId()
  let shown = id
  changeProject(`take from ${from.name}`, (draft) => {
    const { layers } = activeSheet(draft)
    const at = layers.findIndex((l) => l.id === layer.id)
    if (at < 0) return
    const joined = layers
      .slice(at + 1)
      .find(({ source, mask }) => source.type === 'pass' && source.passId === from.id && mask !== null)
    const term = joined?.mask?.terms.find((t) => t.join === 'add' && t.by === by)
    if (joined && term) {
      if (!term.keys.includes(key)) term.keys.push(key)
      shown = joined.id
      return
    }
    const own: Layer = {
      ...structuredClone(layer),
      id,
      name: from.name === passKind(from.kind).label ? `${from.name}, second light` : from.name,
      source: { type: 'pass', passId: from.id, look: { ...look } },
      mask: { terms: [{ join: 'add', by, keys: [key] }], picture: null, invert: false, featherPx: 0 },
    }
    layers.splice(at + 1, 0, own as (typeof layers)[number])
  })
  setBench({ layerId: shown, peel: Infinity })
}
