import { CancelledError } from '@/core/errors'
import { channelsProblem } from '@/core/passes/check-result'
import { emptyGuides, type DenoiseGuides } from '@/core/passes/denoise'
import { lineFacts } from '@/core/passes/line-pass'
import type { Surface } from '@/core/passes/pass-kind'
import type { PassFacts } from '@/core/passes/pass-facts'
import type { Tile } from '@/core/passes/tile'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import { memberRig, tilesFromMiddle, type PassOrder, type TileResult } from '@/core/passes/render-tile'
import { allocateChannel, type ChannelSpec } from '@/core/picture/channel'
import type { Frame } from '@/core/scene/camera'
import { renderedLights } from '@/core/scene/rendered-light'
import { allOf } from './all-of'
import { denoisePictures } from './denoise-pictures'
import type { FromWorker } from './messages'
import { enlarge, pasteEnlarged, pasteGuides, pasteTile } from './paste-tiles'
import { drawLinesOn } from './render-lines'
import type { RenderWorker } from './render-worker'
import type { PassTally, RenderedPass, RenderEvents, RenderRequest } from './render-request'
import { sharedNumbers } from './shared-numbers'
import { blockRect, planTiles, putFirst, type QueuedTile, type TilePlan } from './tile-queue'

type TileReply = Extract<FromWorker, { type: 'tile' }>
type Mutable<T> = { -readonly [K in keyof T]: T[K] }

/** Tiles a worker has been given at a time, so that it need not wait while this thread paints … */
const AT_HAND = 2
/** … or composites the frames of a turntable. */
const AT_HAND_TURNING = 12
/** Longer side of the finer of two previews, in pixels. */
const PREVIEW_SIDE = 320
/** Side of a preview's tiles once enlarged, in pixels: small enough to be pasted and painted between two frames. */
const PREVIEW_TILE_SIDE = 64
/** Smallest side of a preview, in pixels: less is not worth a look. */
const SMALLEST_PREVIEW = 16
/** Lines count as this share of a picture's tiles in the progress, and as so many tiles at least. */
const LINE_SHARE = 0.05
const LEAST_LINE_TILES = 20
/** Rows of a finished picture that are told of at a time. */
const TOLD_ROWS = 64

/** How many times smaller than the picture its two previews are, with one sample a pixel: powers of two. */
function previewShrinks({ width, height }: Frame): readonly [number, number] {
  const fine = Math.max(4, 2 ** Math.floor(Math.log2(Math.max(width, height) / PREVIEW_SIDE)))
  return [2 * fine, fine]
}

/** A pass on its way. */
interface PassUnderWay {
  readonly order: PassOrder
  readonly specs: readonly ChannelSpec[]
  result: PassResult
  /** What its tiles told so far. */
  told: PassFacts
  readonly tally: Mutable<PassTally>
}

/** One render: the previews, then the tiles with the lines beside them, then what smooths them. */
export class RenderRun {
  private readonly passes: readonly PassUnderWay[]
  private readonly plan: TilePlan
  private readonly guides: DenoiseGuides | null
  private readonly cancelFlag = sharedNumbers(1)
  /** What the tiles of blocks under way told, a pass each. */
  private readonly toldOfBlock = new Map<number, PassFacts[]>()
  /** Passes that have lines, and how much of each is found. */
  private readonly drawn: readonly number[]
  private readonly lineShares: Float64Array
  private readonly lineTiles: number
  private tilesDone = 0
  private started = 0

  constructor(
    private readonly workers: readonly RenderWorker[],
    private readonly nextJob: () => number,
    private readonly surfaces: readonly Surface[],
    private readonly request: RenderRequest,
    private readonly events: RenderEvents,
    private readonly signal: AbortSignal,
  ) {
    const { orders, frame, kept = [], windows } = request
    this.passes = orders.map((order, i) => this.underWay(order, i))
    const isDenoised = orders.some((order) => order.denoise)
    this.guides = isDenoised ? emptyGuides(frame.width * frame.height) : null
    const hasChannels = this.passes.map(({ specs }) => specs.length > 0)
    this.plan = planTiles(
      frame,
      hasChannels,
      orders.map((_, i) => kept[i] ?? null),
      isDenoised,
      (request.turning ?? null) !== null,
      windows,
    )
    this.drawn = orders.flatMap((order, i) => (passKind(order.kind).lines ? [i] : []))
    this.lineTiles = Math.max(LEAST_LINE_TILES, Math.round(LINE_SHARE * this.plan.all))
    this.lineShares = new Float64Array(orders.length)
  }

  /** @throws {CancelledError} soon after the signal is aborted. */
  async finish(): Promise<RenderedPass[]> {
    const stop = () => this.cancelFlag && Atomics.store(this.cancelFlag, 0, 1)
    this.signal.addEventListener('abort', stop)
    try {
      await this.preview()
      await this.renderTiles()
      await this.smooth()
      return this.passes.map(({ result, told, tally }) => {
        const facts = passKind(result.kind).facts?.finish(told, result.surfaces)
        return { result: facts ? { ...result, facts } : result, ...tally }
      })
    } finally {
      this.signal.removeEventListener('abort', stop)
    }
  }

  /** Moves the tiles of a rectangle to the front of what still waits. */
  putFirst(rect: Tile): void {
    putFirst(this.plan.tiles, rect)
  }

  private underWay(order: PassOrder, index: number): PassUnderWay {
    const { frame, rig, camera, kept, windows } = this.request
    const { width, height } = windows?.[index] ?? frame
    const own = memberRig(order.rig ?? rig, order.members)
    const lights = renderedLights(own)
    const kind = passKind(order.kind)
    const specs = kind.channels(lights, order.params)
    const old = kept?.[index]
    const result = {
      kind: order.kind,
      width,
      height,
      channels: old?.result.channels ?? specs.map((c) => allocateChannel(c.format, width * height)),
      surfaces: this.surfaces,
      lights: kind.usesLights(order.params) ? lights : [],
      params: order.params,
      facts: kind.lines ? lineFacts(own, camera, frame) : {},
    }
    return {
      order,
      specs,
      result,
      told: old?.told ?? {},
      tally: { rays: 0, seconds: 0, samples: 0, ...old?.tally },
    }
  }

  private tell(pass: number, rect: Tile): void {
    this.events.onPixels?.(pass, rect, this.passes[pass].result)
  }

  private tellProgress(): void {
    const { tiles, all } = this.plan
    const { onProgress } = this.events
    const queued = this.tilesDone + tiles.length + this.atWork
    const total = queued + this.drawn.length * this.lineTiles
    // What was there already counts as done.
    const before = this.passes.some(({ specs }) => specs.length > 0) ? all - queued : 0
    const found = this.lineShares.reduce((sum, share) => sum + share, 0)
    const done = Math.floor(this.tilesDone + this.lineTiles * found)
    const elapsed = (performance.now() - this.started) / 1000
    const secondsLeft = done < 8 ? null : (elapsed / done) * (total - done)
    onProgress?.({ done: before + done, total: before + total, secondsLeft })
  }

  // 1. Previews.

  private async preview(): Promise<void> {
    const { frame, preview } = this.request
    if (!preview || !this.plan.isFresh) return
    for (const shrink of previewShrinks(frame))
      if (Math.min(frame.width, frame.height) / shrink >= SMALLEST_PREVIEW) await this.previewAt(shrink)
  }

  private async previewAt(shrink: number): Promise<void> {
    const { frame } = this.request
    const small: Frame = {
      width: Math.ceil(frame.width / shrink),
      height: Math.ceil(frame.height / shrink),
    }
    const orders = this.request.orders.map((order) => ({
      ...order,
      effort: { samples: order.kind === 'id' ? 4 : 1, rays: Math.min(order.effort.rays, shrink > 4 ? 2 : 4) },
      denoise: false,
    }))
    const tiles = tilesFromMiddle(small, Math.max(8, PREVIEW_TILE_SIDE / shrink)).map((tile) => ({
      tile,
      block: 0,
      wanted: null,
    }))
    await this.eachTile(small, orders, tiles, ({ tile }, { results }) => {
      const rect = enlarge(tile, frame, shrink)
      results.forEach(({ channels }, p) => {
        if (channels.length === 0) return
        this.passes[p].result.channels.forEach((channel, c) =>
          pasteEnlarged(channel, frame.width, rect, tile.width, channels[c], shrink),
        )
        this.tell(p, rect)
      })
    })
  }

  // 2. Tiles, and the lines beside them.

  private async renderTiles(): Promise<void> {
    const { request, plan } = this
    if (request.first) putFirst(plan.tiles, request.first)
    this.started = performance.now()
    this.tellProgress()
    const lines = this.drawn.map((pass, k) => this.findLines(pass, k))
    const tiles = this.eachTile(request.frame, request.orders, plan.tiles, (queued, reply) =>
      this.take(queued, reply),
    )
    await allOf([tiles, ...lines])
  }

  private async findLines(pass: number, index: number): Promise<void> {
    const { camera, rig, frame } = this.request
    const { order, tally } = this.passes[pass]
    const count = this.workers.length
    const found = await drawLinesOn(
      this.workers,
      { camera, frame, rig, order },
      this.signal,
      (share) => {
        this.lineShares[pass] = share
        this.tellProgress()
      },
      count - 1 - (index % count),
    )
    tally.rays += found.rays
    tally.seconds += found.seconds
    const { result } = this.passes[pass]
    const facts = { ...result.facts, lines: found.drawing.count }
    this.passes[pass].result = { ...result, drawing: found.drawing, facts }
    this.tell(pass, { x: 0, y: 0, ...frame })
  }

  private take({ tile, block }: QueuedTile, { results, guides }: TileReply): void {
    const { frame } = this.request
    results.forEach((result, pass) => {
      if (result.channels.length > 0) this.takePass(pass, tile, block, result)
    })
    if (this.guides && guides) pasteGuides(this.guides, frame.width, tile, guides)
    this.tilesDone++
    const { leftOfBlock } = this.plan
    const left = (leftOfBlock.get(block) ?? 1) - 1
    leftOfBlock.set(block, left)
    if (left === 0) {
      this.events.onBlock?.(
        block,
        blockRect(frame, block),
        this.passes.map(({ result }) => result),
        this.toldOfBlock.get(block) ?? this.passes.map(() => ({})),
        this.passes.map(({ tally }) => tally),
      )
      this.toldOfBlock.delete(block)
    }
    this.tellProgress()
  }

  private takePass(index: number, tile: Tile, block: number, found: TileResult): void {
    const pass = this.passes[index]
    const { kind } = pass.order
    const problem = channelsProblem(found.channels, pass.specs, tile.width * tile.height)
    if (problem) throw new Error(`a render worker gave a damaged tile of ${kind}: ${problem}`)
    pass.tally.rays += found.rays
    pass.tally.seconds += found.seconds
    pass.tally.samples += found.samples
    const rules = passKind(kind).facts
    if (found.facts && rules) {
      pass.told = rules.merge(pass.told, found.facts)
      const ofBlock = this.toldOfBlock.get(block) ?? this.passes.map(() => ({}))
      ofBlock[index] = rules.merge(ofBlock[index], found.facts)
      this.toldOfBlock.set(block, ofBlock)
    }
    if (rules?.live) Object.assign(pass.result.facts, rules.finish(pass.told, this.surfaces))
    const { x, y } = this.request.windows?.[index] ?? { x: 0, y: 0 }
    const place = { ...tile, x: tile.x - x, y: tile.y - y }
    pass.result.channels.forEach((channel, c) =>
      pasteTile(channel, pass.result.width, place, found.channels[c]),
    )
    this.tell(index, tile)
  }

  /** Tiles that workers have been given and not answered. */
  private atWork = 0

  /** @param tiles taken from the front; what still waits may be put in another order meanwhile. */
  private async eachTile(
    frame: Frame,
    orders: readonly PassOrder[],
    tiles: QueuedTile[],
    onTile: (queued: QueuedTile, reply: TileReply) => void,
  ): Promise<void> {
    if (tiles.length === 0) return
    const { camera, rig, focus, seed, turning } = this.request
    const { cancelFlag, signal } = this
    const jobId = this.nextJob()
    const isKept = turning !== undefined && turning !== null
    const job = { jobId, camera, frame, rig, focus, seed, orders: [...orders], isKept }
    // Where one fails, what the others would still do is of no use.
    let failed = false
    const runner = async (worker: RenderWorker): Promise<void> => {
      for (let queued = tiles.shift(); queued && !failed; queued = tiles.shift()) {
        if (signal.aborted) throw new CancelledError('The render')
        const { tile, wanted } = queued
        this.atWork++
        const reply = await worker
          .ask({ type: 'tile', jobId, tile, wanted: wanted && [...wanted], cancelFlag }, 'tile')
          .finally(() => this.atWork--)
        if (signal.aborted) throw new CancelledError('The render')
        onTile(queued, reply)
      }
    }
    const begun = this.workers.map((worker) => worker.ask({ type: 'job', job }, 'kept'))
    await allOf(
      Array.from({ length: (isKept ? AT_HAND_TURNING : AT_HAND) * this.workers.length }, async (_, i) => {
        const own = i % this.workers.length
        try {
          await begun[own]
          await runner(this.workers[own])
        } catch (error) {
          failed = true
          throw error
        }
      }),
    )
  }

  // 3. What smooths them.

  private async smooth(): Promise<void> {
    if (!this.guides) return
    const { frame, orders } = this.request
    const results = this.passes.map(({ result }) => result)
    await denoisePictures(this.workers, orders, frame, results, this.guides, this.signal)
    // A few rows at a time: whoever paints them must not hold up the page for a whole picture.
    for (let y = 0; y < frame.height; y += TOLD_ROWS) {
      const rect = { x: 0, y, width: frame.width, height: Math.min(TOLD_ROWS, frame.height - y) }
      orders.forEach((order, pass) => {
        if (order.denoise) this.tell(pass, rect)
      })
      await new Promise((resolve) => setTimeout(resolve))
    }
  }
}
