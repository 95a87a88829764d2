import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import { newId } from '@/data/new-project'
import {
  dropStudioJob,
  sendToStudio,
  studioHealth,
  studioJob,
  type StudioHealth,
  type StudioJob,
} from '@/data/studio'
import type { StudioOrder } from '@/data/studio-door'

/** Something that the studio's machine makes for this tab. */
export interface StudioWork {
  readonly id: string
  /** What of the project it makes: a turntable by its id, or passes. */
  readonly of: string
  /** In words: "3 passes, good". */
  readonly label: string
  readonly state: 'sending' | 'waiting' | 'rendering'
  readonly progress: number
  readonly secondsLeft: number | null
}

interface Studio {
  /** Null: there is none, or it was not asked yet. */
  readonly health: StudioHealth | null
  readonly works: readonly StudioWork[]
  /** Why the last one ended; null where nothing went wrong. */
  readonly problem: string | null
}
export const useStudio = create<Studio>(() => ({ health: null, works: [], problem: null }))

/** How often it is asked how far it is. Milliseconds. */
const LOOK_MS = 1000

const aborts = new Map<string, AbortController>()

/** Looks whether there is one. */
export async function findStudio(): Promise<void> {
  useStudio.setState({ health: await studioHealth() })
}

/** How far one job is, as its work tells it on. */
type Tell = (patch: Partial<Pick<StudioWork, 'state' | 'progress' | 'secondsLeft'>>) => void

/**
 * Has one job done there, and follows it to its end.
 * @param onJob told of it whenever it was looked at, with the files that are there.
 * @throws {CancelledError} when aborted, and it is given up there, too; {Error} in the words of who refused it.
 */
export async function studioMakes(
  archive: Blob,
  order: StudioOrder,
  { tell, signal }: { readonly tell: Tell; readonly signal: AbortSignal },
  onJob: (job: StudioJob) => Promise<void>,
): Promise<void> {
  const id = await sendToStudio(archive, order, signal)
  try {
    for (;;) {
      const job = await studioJob(id, signal)
      tell({
        state: job.state === 'waiting' ? 'waiting' : 'rendering',
        progress: job.progress,
        secondsLeft: job.secondsLeft,
      })
      if (job.state === 'failed') throw new Error(job.error ?? 'the studio could not render it')
      await onJob(job)
      if (job.state === 'done') return
      await new Promise((resolve) => setTimeout(resolve, LOOK_MS))
      if (signal.aborted) throw new CancelledError('The studio')
    }
  } catch (error) {
    if (signal.aborted) await dropStudioJob(id)
    throw error
  }
}

/** Keeps a work in the list while it is done; why it ended otherwise is told there. */
export async function atStudio(
  of: string,
  label: string,
  work: (tell: Tell, signal: AbortSignal) => Promise<void>,
): Promise<void> {
  for (const same of useStudio.getState().works) if (same.of === of) aborts.get(same.id)?.abort()
  const id = newId()
  const abort = new AbortController()
  aborts.set(id, abort)
  const tell: Tell = (patch) =>
    useStudio.setState(({ works }) => ({
      works: works.map((own) => (own.id === id ? { ...own, ...patch } : own)),
    }))
  const begun: StudioWork = { id, of, label, state: 'sending', progress: 0, secondsLeft: null }
  useStudio.setState(({ works }) => ({ problem: null, works: [...works, begun] }))
  try {
    await work(tell, abort.signal)
  } catch (error) {
    if (!abort.signal.aborted)
      useStudio.setState({ problem: error instanceof Error ? error.message : String(error) })
  } finally {
    aborts.delete(id)
    useStudio.setState(({ works }) => ({ works: works.filter((own) => own.id !== id) }))
    // What it makes in a second is known better now.
    void findStudio()
  }
}

/** Gives a work up, there as well; what came over stays. */
export function cancelStudio(id: string): void {
  aborts.get(id)?.abort()
}
