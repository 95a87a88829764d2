import type { Draft } from 'immer'
import { shareShowing } from '@/core/passes/material-touches'
import { activePasses } from '@/data/active-shot'
import { beforeId, beforeOf, comparedPasses } from '@/data/before-passes'
import { changedMaterials } from '@/data/project-scene'
import type { Project, ProjectMaterial, ProjectPass } from '@/data/project-schema'
import { dropResult } from '@/data/stored-results'
import { TILE_SIDE } from '@/engine/tile-queue'
import { isOnlyMaterials, passStatus } from './pass-status'
import { flushSave, recordInProject, useProjectStore } from './project-store'
import { renderAgain } from './render-queue'
import { ONE_MATERIAL } from './stored-tiles'

/**
 * One thing again: a material is changed on the last day, only what shows it is rendered, what was and what is are compared, and
 * it lies in its place.
 */

/** A rendered pass that shows a material. */
export interface Showing {
  readonly pass: ProjectPass
  /** Of the picture, 0…1; null where the whole of it is rendered again. */
  readonly share: number | null
  /** `changed`: it was rendered with the material as it was; `other`: more than materials changed, all of it is rendered again. */
  readonly state: 'as it is' | 'changed' | 'other'
}

const materialsOf = ({ models }: Pick<Project, 'models'>): readonly ProjectMaterial[] =>
  models.flatMap((model) => model.materials)

/** Rendered passes of the shot at work that show a material, and how much of each does. */
export function passesShowing(project: Project, materialKey: string): Showing[] {
  const number = materialsOf(project).findIndex(({ key }) => key === materialKey)
  return activePasses(project).flatMap((pass): Showing[] => {
    const { rendered, kind } = pass
    if (!rendered || rendered.materials[materialKey] === undefined) return []
    const isTold = ONE_MATERIAL.includes(kind) && !rendered.denoised && rendered.quality !== 'custom'
    const share = isTold ? shareShowing(rendered.facts, [number], rendered, TILE_SIDE) : null
    const isChanged = changedMaterials(project, pass).some(({ key }) => key === materialKey)
    if (share === 0 && !isChanged) return []
    const isOther = passStatus(project, pass).state === 'out of register' && !isOnlyMaterials(project, pass)
    return [{ pass, share, state: isOther ? 'other' : isChanged ? 'changed' : 'as it is' }]
  })
}

/** Renders again what passes show otherwise, each as it was rendered last; what they were is kept beside them. */
export const renderThingAgain = (passes: readonly Pick<ProjectPass, 'id'>[]): void =>
  renderAgain(
    passes.map(({ id }) => id),
    null,
    true,
  )

/** Lets go of what passes of the shot at work were: what they are stays. */
export async function letGoOfBefore(): Promise<void> {
  const { project } = useProjectStore.getState()
  if (!project) return
  const gone = new Set(comparedPasses(project).map(({ id }) => beforeId(id)))
  const results = project.before.flatMap(({ id, rendered }) =>
    gone.has(id) && rendered ? [rendered.resultId] : [],
  )
  recordInProject((draft) => {
    draft.before = draft.before.filter(({ id }) => !gone.has(id))
  })
  await flushSave()
  if (useProjectStore.getState().saving === 'failed') return
  const named = new Set(useProjectStore.getState().project?.passes.map(({ rendered }) => rendered?.resultId))
  for (const resultId of results) if (!named.has(resultId)) await dropResult(project.id, resultId)
}

/** Puts what passes of the shot at work were in the place of what they are, and the other way round. */
export const swapBefore = (): void =>
  recordInProject((draft) => {
    for (const { id } of comparedPasses(draft)) {
      const pass = draft.passes.find((own) => own.id === id)
      const before = beforeOf(draft, id)
      if (!pass || !before) continue
      const held = pass.rendered
      pass.rendered = before.rendered as Draft<ProjectPass>['rendered']
      before.rendered = held
    }
  })
