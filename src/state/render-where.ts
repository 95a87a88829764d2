import type { Quality } from '@/data/project-schema'
import { useProjectStore } from './project-store'
import { nothingToRender } from './render-check'
import { queueRender } from './render-queue'
import { useStudio } from './studio'
import { renderPassesAtStudio } from './studio-passes'
import { useViewStore } from './view-store'

/** Renders passes of one shot where it was chosen: here, or at the studio as long as it answers. */
export function renderPasses(passIds: readonly string[], quality: Quality): void {
  const { project } = useProjectStore.getState()
  if (!project || nothingToRender(project) !== null) return
  const isThere = useStudio.getState().health !== null
  if (isThere && useViewStore.getState().renderAt === 'studio')
    void renderPassesAtStudio(project, passIds, quality)
  else queueRender(passIds, quality)
}
