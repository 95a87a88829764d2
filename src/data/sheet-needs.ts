import { relitFacts } from '@/core/passes/line-pass'
import { passKind } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import type { Rig } from '@/core/scene/light-rig'
import { relit } from '@/core/scene/rendered-light'
import { paintNames } from '@/core/paint/paint-names'
import { sheetUses } from '@/core/sheet/sheet-uses'
import { rigOfPass } from './active-shot'
import type { Project, ProjectPass, ProjectSheet, Rendered } from './project-schema'
import { pictureFile } from './project-pictures'
import { surfacesNow } from './project-scene'
import { paintedFrom } from './shown-sheets'

/** Passes, and pictures of layers and masks. */
export interface Needed {
  readonly passes: readonly ProjectPass[]
  readonly pictureIds: ReadonlySet<string>
  /** Names of tiles that were painted by hand. */
  readonly paint: ReadonlySet<string>
  readonly fontIds: ReadonlySet<string>
}

/** What a sheet needs to be composited: what it shows, what its masks are made from, and all that sheets need that it shows. */
export function neededBy(project: Project, sheet: ProjectSheet): Needed {
  const all = paintedFrom(project, sheet).map((own) => neededAlone(project, own))
  return {
    passes: [...new Set(all.flatMap(({ passes }) => passes))],
    pictureIds: new Set(all.flatMap(({ pictureIds }) => [...pictureIds])),
    paint: new Set(all.flatMap(({ paint }) => [...paint])),
    fontIds: new Set(all.flatMap(({ fontIds }) => [...fontIds])),
  }
}

function neededAlone(project: Project, sheet: ProjectSheet): Needed {
  const pictureIds = new Set<string>()
  const { ids, kinds: asked } = sheetUses(sheet)
  // On a page parts are told by what is seen of them, and by how near they are.
  const kinds = sheet.page ? new Set([...asked, 'id' as const, 'depth' as const]) : asked
  // Passes and pictures have names of their own: each is looked for among its kind.
  for (const id of ids) if (pictureFile(project, id)) pictureIds.add(id)
  const passes = [
    ...project.passes.filter(
      (pass) => ids.has(pass.id) || (pass.shotId === sheet.shotId && kinds.has(pass.kind)),
    ),
    ...project.before.filter(({ id }) => ids.has(id)),
  ]
  const fontIds = new Set(
    Object.values(sheet.nodes).flatMap(({ content }) => (content.kind === 'type' ? [content.fontId] : [])),
  )
  return { passes, pictureIds, paint: new Set(paintNames([sheet]).keys()), fontIds }
}

/** A rendered pass as far as it follows the project as it is now: its lights, its base colours, what its lines go by. */
export type SeenPass = Pick<Rendered, 'lights' | 'surfaces'> & { readonly facts: Rendered['facts'] | null }

/** What was found last for a pass, and what it was found from. */
const known = new WeakMap<
  ProjectPass,
  { models: Project['models']; groups: Project['groups']; rig: Rig; seen: SeenPass }
>()

/** A pass as it is to be seen now; the same object as long as nothing that it follows has changed. */
export function seenAs(project: Project, pass: ProjectPass): SeenPass {
  const rig = rigOfPass(project, pass)
  const { models, groups } = project
  const before = known.get(pass)
  if (before && before.models === models && before.groups === groups && before.rig === rig) return before.seen
  const isLines = passKind(pass.kind).lines !== null
  const seen = {
    lights: [...relit(pass.rendered?.lights ?? [], rig)],
    surfaces: surfacesNow(pass.rendered?.surfaces ?? [], project),
    facts: isLines ? relitFacts(pass.rendered?.facts ?? {}, memberRig(rig, pass.members)) : null,
  }
  known.set(pass, { models, groups, rig, seen })
  return seen
}
