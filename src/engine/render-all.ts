import type { RenderPool } from './render-pool'
import type { RenderedPass } from './render-request'
import { runRender, type RenderPlan } from './run-render'

/**
 * Renders passes of one shot and gives them back by their ids: kept nowhere else, noted by whoever asked.
 * @param workers those that have the scene.
 * @param onPass told of each as it is done.
 * @param onShare how much of all is done.
 * @throws as {@link runRender} does.
 */
export async function renderAll(
  plan: RenderPlan,
  workers: () => Promise<RenderPool>,
  signal: AbortSignal,
  onPass: (id: string) => void = () => undefined,
  onShare: (share01: number) => void = () => undefined,
): Promise<ReadonlyMap<string, RenderedPass>> {
  const done = new Map<string, RenderedPass>()
  await runRender(
    {
      plan: () => Promise.resolve(plan),
      workers,
      note: ({ id }) => {
        onPass(id)
        return Promise.resolve()
      },
    },
    {
      keep: ({ id }, rendered) => {
        done.set(id, rendered)
        return Promise.resolve(id)
      },
    },
    { onProgress: ({ done: part, total }) => onShare(part / Math.max(1, total)) },
    signal,
  )
  return done
}
