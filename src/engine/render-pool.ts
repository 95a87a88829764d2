import { CancelledError } from '@/core/errors'
import type { DomeRaster } from '@/core/passes/dome-picture'
import type { PassFacts, Surface, Tile } from '@/core/passes/pass-kind'
import type { PassOrder } from '@/core/passes/render-tile'
import { lineGroupsOf, memberRig, tilesByBlock, tilesFromMiddle } from '@/core/passes/render-tile'
import { emptyGuides } from '@/core/passes/denoise'
import type { PassResult } from '@/core/passes/pass-result'
import { channelsProblem } from '@/core/passes/check-result'
import { passKind } from '@/core/passes/registry'
import { joinDrawings, type LineDrawing } from '@/core/lines/line-drawing'
import { lineFacts } from '@/core/passes/line-pass'
import { allocateChannel } from '@/core/picture/channel'
import type { Camera, Frame, LensFocus } from '@/core/scene/camera'
import type { Rig } from '@/core/scene/light-rig'
import { renderedLights } from '@/core/scene/rendered-light'
import type { SceneModel } from '@/core/scene/scene-geometry'
import { denoisePictures } from './denoise-pictures'
import { enlarge, pasteEnlarged, pasteGuides, pasteTile } from './paste-tiles'
import type { BuildReport, FromWorker, Job, ToWorker } from './messages'

/** A worker as the pool sees it; made by an adapter for browsers or for Node. */
export interface WorkerPort {
  readonly post: (message: ToWorker) => void
  readonly close: () => void
}
export type SpawnWorker = (
  onMessage: (message: FromWorker) => void,
  onError: (reason: string) => void,
) => WorkerPort

export interface RenderRequest {
  readonly camera: Camera
  readonly frame: Frame
  readonly rig: Rig
  /** For looking only. */
  readonly focus?: LensFocus
  readonly orders: readonly PassOrder[]
  readonly seed: number
  /** Render a coarse preview of the whole picture first. */
  readonly preview: boolean
  /** A rectangle to be rendered before the rest. */
  readonly first?: Tile | null
  /** For each order what of it is there already, as after a pause, a reload or a change of one material; null: nothing. */
  readonly kept?: readonly (KeptPass | null)[]
}

/** Counts of one pass. */
export interface PassTally {
  readonly rays: number
  readonly seconds: number
  readonly samples: number
}

/** The lines of one pass. */
export interface DrawRequest {
  readonly camera: Camera
  readonly frame: Frame
  readonly rig: Rig
  readonly order: PassOrder
}

/** A drawing, and what it took to find it. */
export interface FoundLines {
  readonly drawing: LineDrawing
  readonly rays: number
  /** Of its worker. */
  readonly seconds: number
}

/** A part of a pass that is kept. */
export interface KeptPass {
  /** Its channels; they go on being written to. */
  readonly result: PassResult
  /** Blocks that are finished, by number. */
  readonly blocks: ReadonlySet<number>
  /** Which tiles of the others are to be rendered; all where left out. */
  readonly tiles?: (tile: Tile) => boolean
  /** What its tiles told, and what they cost. */
  readonly told: PassFacts
  readonly tally: PassTally
}

export interface RenderProgress {
  readonly done: number
  readonly total: number
  readonly secondsLeft: number | null
}

export interface RenderEvents {
  /** New pixels of pass `order` in `rect` are in its result. */
  readonly onPixels?: (order: number, rect: Tile, result: PassResult) => void
  readonly onProgress?: (progress: RenderProgress) => void
  /** All tiles of a block are in the results; `told` is what those of each pass told, `tallies` count all so far. */
  readonly onBlock?: (
    block: number,
    rect: Tile,
    results: readonly PassResult[],
    told: readonly PassFacts[],
    tallies: readonly PassTally[],
  ) => void
}

/** Seconds are of workers; work that passes share counts where it was done first. Samples are those of all pixels. */
export interface RenderedPass extends PassTally {
  readonly result: PassResult
}

interface QueuedTile {
  readonly tile: Tile
  readonly block: number
  readonly wanted: readonly boolean[] | null
}

const touches = (a: Tile, b: Tile): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

function putFirst(tiles: QueuedTile[], rect: Tile): void {
  const inside = tiles.filter(({ tile }) => touches(tile, rect))
  const outside = tiles.filter(({ tile }) => !touches(tile, rect))
  tiles.splice(0, tiles.length, ...inside, ...outside)
}

/** The rectangle of a block. */
export const blockRect = (frame: Frame, block: number): Tile => tilesFromMiddle(frame, BLOCK_SIDE)[block]

const TILE_SIDE = 32
/** Tiles a worker has been given at a time, so that it need not wait while this thread paints. */
const AT_HAND = 2
/** Side of the blocks that are kept as they are finished. */
export const BLOCK_SIDE = 128
/** Longer side of the finer of two previews, in pixels. */
const PREVIEW_SIDE = 320
/** Side of a preview's tiles once enlarged, in pixels: small enough to be pasted and painted between two frames. */
const PREVIEW_TILE_SIDE = 64
/** How many times smaller than the picture its two previews are, with one sample a pixel: powers of two. */
function previewShrinks({ width, height }: Frame): readonly [number, number] {
  const fine = Math.max(4, 2 ** Math.floor(Math.log2(Math.max(width, height) / PREVIEW_SIDE)))
  return [2 * fine, fine]
}
/** Smallest side of a preview, in pixels: less is not worth a look. */
const SMALLEST_PREVIEW = 16

/** Lines count as this share of a picture's tiles in the progress. */
const LINE_SHARE = 0.05
/** How often the progress of lines is asked for. */
const SHARE_EVERY_MS = 120

/** Waits for all to end, then fails with what failed first in the list. */
async function allOf(tasks: readonly Promise<void>[]): Promise<void> {
  const outcomes = await Promise.allSettled(tasks)
  const failed = outcomes.find((o) => o.status === 'rejected')
  if (failed) throw failed.reason
}

/** Whole numbers that threads share; null where they cannot. */
const sharedNumbers = (count: number): Int32Array | null =>
  typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4 * count))

const isSame = (wanted: readonly boolean[] | null, all: readonly boolean[]): boolean =>
  all.every((flag, i) => (wanted?.[i] ?? true) === flag)

/** Runs scenes and tiles on a set of workers. One job at a time; the order of jobs is the caller's queue. */
export class RenderPool {
  private readonly ports: WorkerPort[] = []
  private readonly waiting = new Map<
    number,
    { resolve: (m: FromWorker) => void; reject: (e: Error) => void }
  >()
  private nextRequest = 1
  private nextJob = 1
  private surfaces: Surface[] = []
  private broken: string | null = null
  private waitingTiles: QueuedTile[] | null = null

  constructor(spawn: SpawnWorker, workers: number) {
    for (let i = 0; i < Math.max(1, workers); i++) {
      this.ports.push(
        spawn(
          (message) => this.receive(message),
          (reason) => this.fail(reason),
        ),
      )
    }
  }

  get size(): number {
    return this.ports.length
  }

  /** Builds a scene in one worker and hands it to all. Replaces the scene before. */
  async setScene(models: readonly SceneModel[]): Promise<BuildReport> {
    const built = await this.ask(0, (request) => ({ type: 'build', request, models: [...models] }))
    if (built.type !== 'built') throw new Error(`expected a built scene, got ${built.type}`)
    this.surfaces = built.surfaces
    await Promise.all(
      this.ports.map((_, i) => this.ask(i, (request) => ({ type: 'attach', request, scene: built.scene }))),
    )
    return built.report
  }

  /** Gives all workers the picture of a dome; rigs name it by id. */
  async setDome(id: string, raster: DomeRaster): Promise<void> {
    await Promise.all(
      this.ports.map((_, i) => this.ask(i, (request) => ({ type: 'dome', request, id, raster }))),
    )
  }

  /**
   * Renders passes together over the attached scene.
   * @throws {CancelledError} soon after the signal is aborted.
   */
  async render(request: RenderRequest, events: RenderEvents, signal: AbortSignal): Promise<RenderedPass[]> {
    const { frame, orders, kept } = request
    const lightsOf = (order: PassOrder) => renderedLights(memberRig(request.rig, order.members))
    const factsOf = (order: PassOrder) =>
      passKind(order.kind).lines
        ? lineFacts(memberRig(request.rig, order.members), request.camera, frame)
        : {}
    const specs = orders.map((order) => passKind(order.kind).channels(lightsOf(order), order.params))
    const told: PassFacts[] = orders.map((_, i) => kept?.[i]?.told ?? {})
    const results = orders.map((order, i): PassResult => {
      const old = kept?.[i]?.result
      return {
        kind: order.kind,
        width: frame.width,
        height: frame.height,
        channels:
          old?.channels ??
          passKind(order.kind)
            .channels(lightsOf(order), order.params)
            .map((c) => allocateChannel(c.format, frame.width * frame.height)),
        surfaces: this.surfaces,
        lights: passKind(order.kind).usesLights(order.params) ? lightsOf(order) : [],
        params: order.params,
        facts: factsOf(order),
      }
    })
    const hasChannels = results.map(({ channels }) => channels.length > 0)
    const tallies = orders.map((_, i) => ({ rays: 0, seconds: 0, samples: 0, ...kept?.[i]?.tally }))
    const isDenoised = orders.some((order) => order.denoise)
    const guides = isDenoised ? emptyGuides(frame.width * frame.height) : null
    const cancelFlag = sharedNumbers(1)
    const stop = () => cancelFlag && Atomics.store(cancelFlag, 0, 1)
    signal.addEventListener('abort', stop)
    const blocks = new Map<number, number>()
    /** What the tiles of blocks under way told. */
    const toldByBlock = new Map<number, PassFacts[]>()
    try {
      const job = this.newJob(request, frame, orders)
      const all = tilesByBlock(frame, TILE_SIDE, BLOCK_SIDE)
      const wantedOf = (block: number, tile: Tile) =>
        orders.map(
          (_, i) =>
            hasChannels[i] && !(kept?.[i]?.blocks.has(block) ?? false) && (kept?.[i]?.tiles?.(tile) ?? true),
        )
      const tiles = all.flatMap(({ tile, block }): QueuedTile[] => {
        const wanted = wantedOf(block, tile)
        if (!isDenoised && !wanted.some(Boolean)) return []
        blocks.set(block, (blocks.get(block) ?? 0) + 1)
        return [{ tile, block, wanted: wanted.every(Boolean) ? null : wanted }]
      })
      const isFresh = tiles.length === all.length && tiles.every((t) => isSame(t.wanted, hasChannels))
      for (const shrink of request.preview && isFresh ? previewShrinks(frame) : []) {
        if (Math.min(frame.width, frame.height) / shrink >= SMALLEST_PREVIEW)
          await this.renderPreview(shrink, request, results, events, cancelFlag, signal)
      }
      if (request.first) putFirst(tiles, request.first)
      this.waitingTiles = tiles
      // Lines count as so many tiles.
      const drawn = orders.flatMap((order, i) => (passKind(order.kind).lines ? [i] : []))
      const lineTiles = Math.max(20, Math.round(LINE_SHARE * all.length))
      const lineShares = new Float64Array(orders.length)
      const total = tiles.length + drawn.length * lineTiles
      // What was there already counts as done.
      const before = hasChannels.some(Boolean) ? all.length - tiles.length : 0
      const started = performance.now()
      let tilesDone = 0
      const progress = () => {
        const done = Math.floor(tilesDone + lineTiles * lineShares.reduce((sum, share) => sum + share, 0))
        const elapsed = (performance.now() - started) / 1000
        const secondsLeft = done < 8 ? null : (elapsed / done) * (total - done)
        events.onProgress?.({ done: before + done, total: before + total, secondsLeft })
      }
      progress()
      const drawings = drawn.map(async (i, k) => {
        const { camera, rig } = request
        const found = await this.draw(
          { camera, frame, rig, order: orders[i] },
          signal,
          (share) => {
            lineShares[i] = share
            progress()
          },
          this.ports.length - 1 - (k % this.ports.length),
        )
        tallies[i].rays += found.rays
        tallies[i].seconds += found.seconds
        const facts = { ...results[i].facts, lines: found.drawing.count }
        results[i] = { ...results[i], drawing: found.drawing, facts }
        events.onPixels?.(i, { x: 0, y: 0, ...frame }, results[i])
      })
      const tilesRun = this.eachTile(job, tiles, cancelFlag, signal, ({ tile, block }, message) => {
        message.results.forEach((tileResult, order) => {
          if (tileResult.channels.length === 0) return
          const problem = channelsProblem(tileResult.channels, specs[order], tile.width * tile.height)
          if (problem)
            throw new Error(`a render worker gave a damaged tile of ${orders[order].kind}: ${problem}`)
          tallies[order].rays += tileResult.rays
          tallies[order].seconds += tileResult.seconds
          tallies[order].samples += tileResult.samples
          const rules = passKind(orders[order].kind).facts
          if (tileResult.facts && rules) {
            told[order] = rules.merge(told[order], tileResult.facts)
            const ofBlock = toldByBlock.get(block) ?? orders.map(() => ({}))
            ofBlock[order] = rules.merge(ofBlock[order], tileResult.facts)
            toldByBlock.set(block, ofBlock)
          }
          if (rules?.live) Object.assign(results[order].facts, rules.finish(told[order], this.surfaces))
          results[order].channels.forEach((channel, c) =>
            pasteTile(channel, frame.width, tile, tileResult.channels[c]),
          )
          events.onPixels?.(order, tile, results[order])
        })
        if (guides && message.guides) pasteGuides(guides, frame.width, tile, message.guides)
        tilesDone++
        const left = (blocks.get(block) ?? 1) - 1
        blocks.set(block, left)
        if (left === 0) {
          const ofBlock = toldByBlock.get(block) ?? orders.map(() => ({}))
          events.onBlock?.(block, blockRect(frame, block), results, ofBlock, tallies)
          toldByBlock.delete(block)
        }
        progress()
      })
      await allOf([tilesRun, ...drawings])
      if (guides) {
        const ask = (port: number, make: (request: number) => ToWorker) => this.ask(port, make)
        await denoisePictures(ask, this.ports.length, request, results, guides, signal)
        orders.forEach((order, o) => {
          if (order.denoise) events.onPixels?.(o, { x: 0, y: 0, ...frame }, results[o])
        })
      }
      return results.map((result, i) => {
        const facts = passKind(result.kind).facts?.finish(told[i], result.surfaces)
        return { result: facts ? { ...result, facts } : result, ...tallies[i] }
      })
    } finally {
      this.waitingTiles = null
      signal.removeEventListener('abort', stop)
    }
  }

  /**
   * Finds the lines of a pass, each group of them on a worker of its own where there are enough.
   * @param onShare told how much is done, 0…1, several times a second.
   * @param port the worker of the first group.
   * @throws {CancelledError} when aborted; where threads share no memory, the workers finish and are not heard.
   */
  async draw(
    request: DrawRequest,
    signal: AbortSignal,
    onShare: (share01: number) => void = () => undefined,
    port = this.ports.length - 1,
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
          this.ask((port + group) % this.ports.length, (id) => ({
            type: 'draw',
            request: id,
            ...request,
            group,
            control,
          })),
        ),
      )
      // One that is not waited for any more may fail: its cancel is known.
      asked.catch(() => undefined)
      const found = (await Promise.race([asked, ended])).map((message) => {
        if (message.type !== 'drawn') throw new Error(`expected lines, got ${message.type}`)
        return message
      })
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

  /** Moves the tiles of a rectangle to the front of what still waits in the render that runs. */
  renderFirst(rect: Tile): void {
    if (this.waitingTiles) putFirst(this.waitingTiles, rect)
  }

  private newJob(request: RenderRequest, frame: Frame, orders: readonly PassOrder[]): Job {
    const { camera, rig, focus, seed } = request
    return { jobId: this.nextJob++, camera, frame, rig, focus, seed, orders: [...orders] }
  }

  close(): void {
    for (const port of this.ports) port.close()
    this.fail('the render workers were closed')
  }

  private async renderPreview(
    shrink: number,
    request: RenderRequest,
    results: readonly PassResult[],
    events: RenderEvents,
    cancelFlag: Int32Array | null,
    signal: AbortSignal,
  ): Promise<void> {
    const { frame } = request
    const small: Frame = {
      width: Math.ceil(frame.width / shrink),
      height: Math.ceil(frame.height / shrink),
    }
    const orders = request.orders.map((order) => ({
      ...order,
      effort: { samples: order.kind === 'id' ? 4 : 1, rays: Math.min(order.effort.rays, shrink > 4 ? 2 : 4) },
      denoise: false,
    }))
    await this.eachTile(
      this.newJob(request, small, orders),
      tilesFromMiddle(small, Math.max(8, PREVIEW_TILE_SIDE / shrink)).map((tile) => ({
        tile,
        block: 0,
        wanted: null,
      })),
      cancelFlag,
      signal,
      ({ tile }, message) => {
        const rect = enlarge(tile, frame, shrink)
        message.results.forEach((tileResult, order) => {
          if (tileResult.channels.length === 0) return
          results[order].channels.forEach((channel, c) =>
            pasteEnlarged(channel, frame.width, rect, tile.width, tileResult.channels[c], shrink),
          )
          events.onPixels?.(order, rect, results[order])
        })
      },
    )
  }

  private async eachTile(
    job: Job,
    /** Taken from the front; what still waits may be put in another order meanwhile. */
    tiles: QueuedTile[],
    cancelFlag: Int32Array | null,
    signal: AbortSignal,
    onTile: (tile: QueuedTile, message: Extract<FromWorker, { type: 'tile' }>) => void,
  ): Promise<void> {
    const cancelled = () => new CancelledError('The render')
    const runner = async (port: number): Promise<void> => {
      for (let queued = tiles.shift(); queued; queued = tiles.shift()) {
        if (signal.aborted) throw cancelled()
        const { tile, wanted } = queued
        const message = await this.ask(port, (request) => ({
          type: 'tile',
          request,
          job,
          tile,
          wanted: wanted && [...wanted],
          cancelFlag,
        }))
        if (signal.aborted) throw cancelled()
        if (message.type === 'tile') onTile(queued, message)
      }
    }
    const runners = Array.from({ length: AT_HAND * this.ports.length }, (_, i) =>
      runner(i % this.ports.length),
    )
    await allOf(runners)
  }

  private ask(port: number, make: (request: number) => ToWorker): Promise<FromWorker> {
    if (this.broken) return Promise.reject(new Error(this.broken))
    const request = this.nextRequest++
    return new Promise((resolve, reject) => {
      this.waiting.set(request, { resolve, reject })
      this.ports[port].post(make(request))
    })
  }

  private receive(message: FromWorker): void {
    const waiter = this.waiting.get(message.request)
    this.waiting.delete(message.request)
    if (message.type === 'failed') waiter?.reject(new Error(message.message))
    else waiter?.resolve(message)
  }

  private fail(reason: string): void {
    this.broken = reason
    for (const waiter of this.waiting.values()) waiter.reject(new Error(reason))
    this.waiting.clear()
  }
}
