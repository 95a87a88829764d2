import { isSeen, roleNow } from '@/core/scene/part-role'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import { rigOfPass } from '@/data/active-shot'
import type { Project, ProjectPass } from '@/data/project-schema'

/** Something about a pass that looks forgotten. */
export interface RenderWarning {
  readonly passId: string
  readonly message: string
}

/** Passes of what falls on the ground, where they are not asked of everything. */
const TAKEN_FROM_GROUND: readonly PassKindName[] = ['shadow', 'reflection']

/** Why nothing at all can be rendered, in words; null where something can. */
export function nothingToRender({ models }: Pick<Project, 'models'>): string | null {
  if (models.length === 0) return 'There is nothing to render yet: bring in a model.'
  const parts = models.flatMap((model) => model.parts).filter((part) => part.polygons > 0)
  if (parts.every((part) => roleNow(part) === 'off'))
    return 'There is nothing to render: every part is hidden or off. Show one in Models.'
  return null
}

/** What looks forgotten in passes that are about to be rendered, in words that name it. */
export function renderWarnings(project: Project, passes: readonly ProjectPass[]): RenderWarning[] {
  const parts = project.models.flatMap((m) => m.parts).filter((p) => p.polygons > 0)
  const known = new Set(parts.map((p) => p.key))
  return passes.flatMap((pass) => {
    const usesLights = passKind(pass.kind).usesLights(pass.params)
    const rig = rigOfPass(project, pass)
    const { members, name } = pass
    const messages: string[] = []
    if (usesLights) {
      const held = memberRig(rig, members).lights
      const nothing = passKind(pass.kind).lines ? 'it will have no shadow edges' : 'it will be black'
      if (held.length === 0) messages.push(`${name} holds no light that is on: ${nothing}`)
      if (pass.kind === 'light' && members.lights === null && held.length > 1)
        messages.push(`${name} holds every light of the rig; one alone is the use of it`)
      if (members.lights === null && pass.rendered) {
        const before = new Set(pass.rendered.lights.map((l) => l.id))
        const added = held.filter((l) => !before.has(l.id)).map((l) => l.name)
        if (before.size > 0 && added.length > 0)
          messages.push(`${added.join(', ')} joined ${name}, which holds all lights`)
      }
      const gone = (members.lights ?? []).filter((id) => !rig.lights.some((l) => l.id === id))
      if (gone.length > 0) messages.push(`${name} names ${gone.length} lights that are not in the rig`)
      if (pass.kind === 'stepped' && held.length > 0 && held.every((l) => l.kind === 'dome'))
        messages.push(`${name} holds only domes, and a dome makes no bands`)
    }
    if (members.parts !== null) {
      const left = members.parts.filter((key) => known.has(key))
      const shown = parts.filter((p) => left.includes(p.key) && isSeen(p))
      if (members.parts.length === 0) messages.push(`${name} holds no part: it will be empty`)
      else if (shown.length === 0) messages.push(`no part that ${name} holds is seen: it will be empty`)
    }
    if (TAKEN_FROM_GROUND.includes(pass.kind) && (pass.params.on ?? 'ground') === 'ground') {
      if (!parts.some((p) => roleNow(p) === 'ground'))
        messages.push(`${name} is taken from the ground, and no part is ground`)
    }
    return messages.map((message) => ({ passId: pass.id, message }))
  })
}
