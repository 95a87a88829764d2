import { CancelledError } from '@/core/errors'
import { joinDrawings } from '@/core/lines/line-drawing'
import { lineGroupsOf } from '@/core/passes/render-tile'
import type { RenderWorker } from './render-worker'
import type { DrawRequest, FoundLines } from './render-request'
import { sharedNumbers } from './shared-numbers'

/** How often the progress of lines is asked for. */
const SHARE_EVERY_MS = 120

/**
 * Finds the lines of a pass, each group of them on a worker of its own where there are enough.
 * @param onShare told how much is done, 0…1, several times a second.
 * @param first the worker of the first group.
 * @throws {CancelledError} when aborted; where threads share no memory, the workers finish and are not heard.
 */
export async function drawLinesOn(
  workers: readonly RenderWorker[],
  request: DrawRequest,
  signal: AbortSignal,
  onShare: (share01: number) => void,
  first: number,
): Promise<FoundLines> {
  const groups = Array.from({ length: lineGroupsOf(request.order) }, (_, group) => ({
    group,
    control: sharedNumbers(2),
  }))
  const share = () =>
    groups.reduce((sum, { control }) => sum + (control ? Atomics.load(control, 1) / 1000 : 0), 0) /
    groups.length
  let stop = () => undefined as void
  const ended = new Promise<never>((_, reject) => {
    stop = () => {
      for (const { control } of groups) if (control) Atomics.store(control, 0, 1)
      reject(new CancelledError('Finding the lines'))
    }
    if (signal.aborted) stop()
    else signal.addEventListener('abort', stop, { once: true })
  })
  const watch = setInterval(() => onShare(share()), SHARE_EVERY_MS)
  try {
    const asked = Promise.all(
      groups.map(({ group, control }) =>
        workers[(first + group) % workers.length].ask({ type: 'draw', ...request, group, control }, 'drawn'),
      ),
    )
    // One that is not waited for any more may fail: its cancel is known.
    asked.catch(() => undefined)
    const found = await Promise.race([asked, ended])
    onShare(1)
    return {
      drawing: joinDrawings(found.map(({ drawing }) => drawing)),
      rays: found.reduce((sum, { rays }) => sum + rays, 0),
      seconds: found.reduce((sum, { seconds }) => sum + seconds, 0),
    }
  } finally {
    clearInterval(watch)
    signal.removeEventListener('abort', stop)
  }
}
