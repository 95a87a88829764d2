import type { PassResult } from '@/core/passes/pass-result'
import type { PassOrder } from '@/core/passes/render-tile'
import { BACKDROP_RENDERS, type BackdropRender } from '@/core/separate/backdrop'
import type { RenderPool } from './render-pool'
import { runRender, type RenderPlan } from './run-render'

/**
 * Renders what a backdrop is taken apart from.
 * @param orders see `backdropOrders`.
 * @param workers those that have the scene.
 * @throws as {@link runRender} does.
 */
export async function renderBackdrop(
  plan: Omit<RenderPlan, 'passes' | 'preview'>,
  orders: Readonly<Record<BackdropRender, PassOrder>>,
  workers: () => Promise<RenderPool>,
  signal: AbortSignal,
  tell: (share01: number) => void,
): Promise<Record<BackdropRender, PassResult>> {
  const found = new Map<string, PassResult>()
  await runRender(
    {
      plan: () =>
        Promise.resolve({
          ...plan,
          preview: false,
          passes: BACKDROP_RENDERS.map((id) => ({ id, order: orders[id] })),
        }),
      workers,
      note: () => Promise.resolve(),
    },
    {
      keep: ({ id }, { result }) => {
        found.set(id, result)
        return Promise.resolve(id)
      },
    },
    { onProgress: ({ done, total }) => tell(done / Math.max(1, total)) },
    signal,
  )
  const of = (name: BackdropRender): PassResult => {
    const result = found.get(name)
    if (!result) throw new Error(`${name} was not rendered`)
    return result
  }
  return { open: of('open'), shaded: of('shaded'), subject: of('subject'), whole: of('whole') }
}
