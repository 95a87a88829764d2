import { relitFacts } from '@/core/passes/line-pass'
import { passKind } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import type { Rig } from '@/core/scene/light-rig'
import { relit } from '@/core/scene/rendered-light'
import { contentUses } from '@/core/sheet/contents/registry'
import { isSurfaceTerm, termUses } from '@/core/sheet/terms/registry'
import { rigOfPass } from './active-shot'
import type { Project, ProjectPass, ProjectSheet, Rendered } from './project-schema'
import { recoloured } from './project-scene'

/** Passes, and pictures of layers and masks. */
export interface Needed {
  readonly passes: readonly ProjectPass[]
  readonly pictureIds: ReadonlySet<string>
}

/** What a sheet needs to be composited: the passes and pictures that it shows, and what its masks are made from. */
export function neededBy(project: Project, sheet: ProjectSheet): Needed {
  const shown = new Set<string>()
  const pictureIds = new Set<string>()
  const nodes = Object.values(sheet.nodes)
  const terms = nodes
    .flatMap(({ mask, effects }) => [mask, ...effects.map((effect) => effect.mask)])
    .flatMap((mask) => mask?.terms ?? [])
  // Passes and pictures have names of their own: each is looked for among its kind.
  const used = new Set([...nodes.flatMap(({ content }) => contentUses(content)), ...terms.flatMap(termUses)])
  for (const { id } of project.pictures) if (used.has(id)) pictureIds.add(id)
  for (const { id } of project.passes) if (used.has(id)) shown.add(id)
  const isMasked = terms.some(isSurfaceTerm)
  const passes = project.passes.filter(
    (pass) => shown.has(pass.id) || (isMasked && pass.kind === 'id' && pass.shotId === sheet.shotId),
  )
  return { passes, pictureIds }
}

/** A rendered pass as far as it follows the project as it is now: its lights, its base colours, what its lines go by. */
export type SeenPass = Pick<Rendered, 'lights' | 'surfaces'> & { readonly facts: Rendered['facts'] | null }

/** What was found last for a pass, and what it was found from. */
const known = new WeakMap<ProjectPass, { models: Project['models']; rig: Rig; seen: SeenPass }>()

/** A pass as it is to be seen now; the same object as long as nothing that it follows has changed. */
export function seenAs(project: Project, pass: ProjectPass): SeenPass {
  const rig = rigOfPass(project, pass)
  const { models } = project
  const before = known.get(pass)
  if (before && before.models === models && before.rig === rig) return before.seen
  const isLines = passKind(pass.kind).lines !== null
  const seen = {
    lights: [...relit(pass.rendered?.lights ?? [], rig)],
    surfaces: recoloured(pass.rendered?.surfaces ?? [], project),
    facts: isLines ? relitFacts(pass.rendered?.facts ?? {}, memberRig(rig, pass.members)) : null,
  }
  known.set(pass, { models, rig, seen })
  return seen
}
