import type { Turn } from '@/core/turn/turn-schema'
import { saveFrame } from '@/data/stored-frames'
import { packProject } from '@/data/storage-service'
import { studioFile } from '@/data/studio'
import type { Project } from '@/data/project-schema'
import { ensureMeshes } from './mesh-store'
import { flushSave } from './project-store'
import { atStudio, studioMakes } from './studio'
import { planTurn } from './turn-plan'
import { keepFrame } from './turn-render'

/** Has the frames of a turntable rendered at the studio, and takes each over as it is made. */
export const renderTurnAtStudio = (project: Project, turn: Turn): Promise<void> =>
  atStudio(turn.id, `${turn.name}, ${turn.quality}`, async (tell, signal) => {
    await flushSave()
    // What turns about its middle is named by where that is.
    await ensureMeshes(project)
    const plan = await planTurn(project, turn, signal)
    // What was written from it does not make it another project: the studio would render it anew.
    const shown = { ...project, before: [], handOver: { choice: null, written: [] } }
    const archive = await packProject(shown, signal)
    const taken = new Set<string>()
    await studioMakes(
      archive,
      { command: 'turn', turn: turn.id, quality: turn.quality },
      { tell, signal },
      async ({ files }) => {
        for (const { name, url } of files) {
          const frame = Number(/^frame_(\d+)\.png$/.exec(name)?.[1] ?? NaN)
          const kept = plan.names[frame] as string | undefined
          if (kept === undefined || taken.has(name)) continue
          const picture = await studioFile(url, signal)
          await saveFrame(project.id, kept, picture)
          keepFrame(project.id, kept, picture.size)
          taken.add(name)
        }
      },
    )
  })
