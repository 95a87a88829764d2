import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import type { Turn } from '@/core/turn/turn-schema'
import { packProject } from '@/data/storage-service'
import { saveFrame } from '@/data/stored-frames'
import { dropStudioJob, sendToStudio, studioFile, studioIsThere, studioJob } from '@/data/studio'
import type { Project } from '@/data/project-schema'
import { ensureMeshes } from './mesh-store'
import { flushSave } from './project-store'
import { planTurn } from './turn-plan'
import { keepFrame } from './turn-render'

/** Frames of a turntable that the studio's machine renders. */
export interface StudioTurn {
  readonly turnId: string
  readonly state: 'sending' | 'waiting' | 'rendering'
  readonly progress: number
  readonly secondsLeft: number | null
}

interface Studio {
  /** Null: not asked yet. */
  readonly isThere: boolean | null
  readonly turn: StudioTurn | null
  /** Why the last one ended; null where nothing went wrong. */
  readonly problem: string | null
}
export const useStudio = create<Studio>(() => ({ isThere: null, turn: null, problem: null }))

/** How often it is asked how far it is. Milliseconds. */
const LOOK_MS = 1000

let abort: AbortController | null = null

/** Looks whether there is one. */
export async function findStudio(): Promise<void> {
  useStudio.setState({ isThere: await studioIsThere() })
}

/** Has the frames of a turntable rendered there, and takes each over as it is made. */
export async function renderAtStudio(project: Project, turn: Turn): Promise<void> {
  abort?.abort()
  const own = new AbortController()
  abort = own
  const tell = (patch: Partial<StudioTurn>) =>
    useStudio.setState((now) => ({ turn: now.turn && { ...now.turn, ...patch } }))
  useStudio.setState({
    problem: null,
    turn: { turnId: turn.id, state: 'sending', progress: 0, secondsLeft: null },
  })
  let id: string | null = null
  try {
    await flushSave()
    // What turns about its middle is named by where that is.
    await ensureMeshes(project)
    const plan = await planTurn(project, turn, own.signal)
    // What was written from it does not make it another project: the studio would render it anew.
    const shown = { ...project, before: [], handOver: { choice: null, written: [] } }
    const archive = await packProject(shown, own.signal)
    const options = { command: 'turn', turn: turn.id, quality: turn.quality }
    id = await sendToStudio(archive, options, own.signal)
    const taken = new Set<string>()
    for (;;) {
      const job = await studioJob(id, own.signal)
      tell({
        state: job.state === 'waiting' ? 'waiting' : 'rendering',
        progress: job.progress,
        secondsLeft: job.secondsLeft,
      })
      for (const { name, url } of job.files) {
        const frame = Number(/^frame_(\d+)\.png$/.exec(name)?.[1] ?? NaN)
        const kept = plan.names[frame] as string | undefined
        if (kept === undefined || taken.has(name)) continue
        const picture = await studioFile(url, own.signal)
        await saveFrame(project.id, kept, picture)
        keepFrame(project.id, kept, picture.size)
        taken.add(name)
      }
      if (job.state === 'failed') throw new Error(job.error ?? 'the studio could not render it')
      if (job.state === 'done') break
      await new Promise((resolve) => setTimeout(resolve, LOOK_MS))
      if (own.signal.aborted) throw new CancelledError('The studio')
    }
  } catch (error) {
    if (own.signal.aborted) {
      if (id !== null) await dropStudioJob(id)
    } else useStudio.setState({ problem: error instanceof Error ? error.message : String(error) })
  } finally {
    if (abort === own) {
      abort = null
      useStudio.setState({ turn: null })
    }
  }
}

/** Gives it up, there as well; the frames that are here stay. */
export function cancelStudio(): void {
  abort?.abort()
}
