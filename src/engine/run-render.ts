import { CancelledError } from '@/core/errors'
import { orderBytes } from '@/core/passes/pass-bytes'
import type { PassOrder } from '@/core/passes/render-tile'
import type { PassFacts } from '@/core/passes/pass-facts'
import type { PassResult } from '@/core/passes/pass-result'
import type { Tile } from '@/core/passes/tile'
import type { RenderPool } from './render-pool'
import type { KeptPass, PassTally, RenderedPass, RenderProgress, RenderRequest } from './render-request'

/** A pass of a render: what it is called where it is kept, and how it is rendered. */
export interface PlannedPass {
  readonly id: string
  readonly order: PassOrder
  /** See `RenderRequest.windows`. */
  readonly window?: Tile | null
}

/** What is to be rendered: passes over one shot. */
export interface RenderPlan extends Omit<RenderRequest, 'orders' | 'windows' | 'kept' | 'focus'> {
  readonly passes: readonly PlannedPass[]
  /** The most bytes that the channels of passes rendered together may take; a larger pass is rendered alone. */
  readonly bytesTogether?: number
}

/** Where it is decided what is rendered, and where what was rendered is told. */
export interface RenderDocument {
  /** @throws {Error} in words for the artist, where nothing can be rendered. */
  readonly plan: () => Promise<RenderPlan>
  /** The workers with the scene of the plan in them. */
  readonly workers: () => Promise<RenderPool>
  /** Notes a pass that is rendered and kept under that name. Its channels may be gone. */
  readonly note: (pass: PlannedPass, name: string, rendered: RenderedPass) => Promise<void>
  /** After the last pass was noted, or a failure ended the render. */
  readonly settle?: () => Promise<void>
}

/** Where pixels are kept: finished blocks under way, and whole passes in the end. */
export interface RenderTiles {
  /** For each of these passes what of it is there already. They are the ones rendered next. */
  readonly found?: (passes: readonly PlannedPass[], plan: RenderPlan) => Promise<(KeptPass | null)[]>
  /** Keeps a finished block; must not wait, and must not fail. */
  readonly keepBlock?: (
    passes: readonly PlannedPass[],
    block: number,
    rect: Tile,
    results: readonly PassResult[],
    told: readonly PassFacts[],
    tallies: readonly PassTally[],
  ) => void
  /** All blocks so far are kept. */
  readonly settled?: () => Promise<void>
  /** Keeps a finished pass; takes its channels. @returns the name it is kept under. @throws {Error} in words. */
  readonly keep: (pass: PlannedPass, rendered: RenderedPass) => Promise<string>
  /** These are kept and noted: their blocks may go. */
  readonly done?: (passes: readonly PlannedPass[]) => Promise<void>
}

/** What is told of a render under way. */
export interface RenderWatch {
  readonly onState?: (state: 'preparing' | 'rendering') => void
  readonly onPixels?: (passId: string, rect: Tile, result: PassResult) => void
  readonly onProgress?: (progress: RenderProgress) => void
}

/**
 * Renders what a document plans, keeps it and tells the document. Passes whose pixels do not fit into memory together are
 * rendered in groups, each kept and let go of before the next.
 * @throws {CancelledError} soon after the signal is aborted; {Error} in words for the artist. What was kept stays.
 */
export async function runRender(
  document: RenderDocument,
  tiles: RenderTiles,
  watch: RenderWatch,
  signal: AbortSignal,
): Promise<void> {
  const stopIfAborted = () => {
    if (signal.aborted) throw new CancelledError('The render')
  }
  watch.onState?.('preparing')
  const plan = await document.plan()
  if (plan.passes.length === 0) return
  const workers = await document.workers()
  stopIfAborted()
  const groups = groupsThatFit(plan)
  try {
    for (const [i, passes] of groups.entries()) {
      // 1. What is there already.
      const kept = await tiles.found?.(passes, plan)
      stopIfAborted()

      // 2. Render.
      watch.onState?.('rendering')
      const rendered = await workers.render(
        {
          ...plan,
          orders: passes.map(({ order }) => order),
          windows: passes.map(({ window = null }) => window),
          kept,
        },
        {
          onPixels: (order, rect, result) => watch.onPixels?.(passes[order].id, rect, result),
          onProgress: (progress) => watch.onProgress?.(progressOfAll(progress, i, groups.length)),
          onBlock: (...block) => tiles.keepBlock?.(passes, ...block),
        },
        signal,
      )
      await tiles.settled?.()

      // 3. Keep, then tell.
      for (const [k, pass] of passes.entries()) {
        stopIfAborted()
        await document.note(pass, await tiles.keep(pass, rendered[k]), rendered[k])
      }
      await tiles.done?.(passes)
    }
  } finally {
    await document.settle?.()
  }
}

const BYTES_TOGETHER = 256 * 2 ** 20

/** The passes of a plan in their order, in as few groups as fit into memory. */
function groupsThatFit({ passes, frame, rig, bytesTogether = BYTES_TOGETHER }: RenderPlan): PlannedPass[][] {
  const groups: PlannedPass[][] = []
  let room = 0
  for (const pass of passes) {
    const { width, height } = pass.window ?? frame
    const bytes = orderBytes(pass.order, rig, width * height)
    const last = groups.at(-1)
    if (last && bytes <= room) last.push(pass)
    else {
      groups.push([pass])
      room = bytesTogether
    }
    room -= bytes
  }
  return groups
}

/** Groups take about as many tiles each. */
const progressOfAll = (
  { done, total, secondsLeft }: RenderProgress,
  group: number,
  groups: number,
): RenderProgress => ({
  done: group * total + done,
  total: groups * total,
  secondsLeft:
    secondsLeft === null || done === 0
      ? null
      : secondsLeft + (groups - 1 - group) * (secondsLeft / Math.max(1, total - done)) * total,
})
