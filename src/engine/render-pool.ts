import { CancelledError } from '@/core/errors'
import type { DomeRaster } from '@/core/passes/dome-picture'
import type { PassFacts, Surface, Tile } from '@/core/passes/pass-kind'
import type { PassOrder } from '@/core/passes/render-tile'
import { memberRig, tilesFromMiddle } from '@/core/passes/render-tile'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import type { ChannelData } from '@/core/picture/channel'
import { allocateChannel } from '@/core/picture/channel'
import type { Camera, Frame, LensFocus } from '@/core/scene/camera'
import type { Rig } from '@/core/scene/light-rig'
import { renderedLights } from '@/core/scene/rendered-light'
import type { SceneModel } from '@/core/scene/scene-geometry'
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
}

export interface RenderedPass {
  readonly result: PassResult
  readonly rays: number
  /** Worker seconds spent on it; work that passes share counts where it was done first. */
  readonly seconds: number
  /** Camera samples of all pixels. */
  readonly samples: number
}

const TILE_SIDE = 32
/** Previews before the real render, each this many times smaller, with one sample a pixel. */
const PREVIEW_SHRINKS = [8, 4] as const
/** Side of a preview's tiles once enlarged, in pixels: small enough to be pasted and painted between two frames. */
const PREVIEW_TILE_SIDE = 64
/** Smallest side of a preview, in pixels: less is not worth a look. */
const SMALLEST_PREVIEW = 16

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
    const { frame, orders } = request
    const lightsOf = (order: PassOrder) => renderedLights(memberRig(request.rig, order.members))
    const told: PassFacts[] = orders.map(() => ({}))
    const results = orders.map((order): PassResult => ({
      kind: order.kind,
      width: frame.width,
      height: frame.height,
      channels: passKind(order.kind)
        .channels(lightsOf(order), order.params)
        .map((c) => allocateChannel(c.format, frame.width * frame.height)),
      surfaces: this.surfaces,
      lights: passKind(order.kind).usesLights ? lightsOf(order) : [],
      params: order.params,
      facts: {},
    }))
    const rays = orders.map(() => 0)
    const seconds = orders.map(() => 0)
    const samples = orders.map(() => 0)
    const cancelFlag =
      typeof SharedArrayBuffer === 'undefined' ? null : new Int32Array(new SharedArrayBuffer(4))
    const stop = () => cancelFlag && Atomics.store(cancelFlag, 0, 1)
    signal.addEventListener('abort', stop)
    try {
      for (const shrink of request.preview ? PREVIEW_SHRINKS : []) {
        if (Math.min(frame.width, frame.height) / shrink >= SMALLEST_PREVIEW)
          await this.renderPreview(shrink, request, results, events, cancelFlag, signal)
      }
      const job: Job = {
        jobId: this.nextJob++,
        camera: request.camera,
        frame,
        rig: request.rig,
        focus: request.focus,
        seed: request.seed,
        orders: [...orders],
      }
      const tiles = tilesFromMiddle(frame, TILE_SIDE)
      const started = performance.now()
      let done = 0
      await this.eachTile(job, tiles, cancelFlag, signal, (tile, message) => {
        message.results.forEach((tileResult, order) => {
          rays[order] += tileResult.rays
          seconds[order] += tileResult.seconds
          samples[order] += tileResult.samples
          if (tileResult.facts)
            told[order] = passKind(orders[order].kind).facts?.merge(told[order], tileResult.facts) ?? {}
          results[order].channels.forEach((channel, c) =>
            pasteTile(channel, frame.width, tile, tileResult.channels[c]),
          )
          events.onPixels?.(order, tile, results[order])
        })
        done++
        const elapsed = (performance.now() - started) / 1000
        const secondsLeft = done < 8 ? null : (elapsed / done) * (tiles.length - done)
        events.onProgress?.({ done, total: tiles.length, secondsLeft })
      })
      return results.map((result, i) => {
        const facts = passKind(result.kind).facts?.finish(told[i], result.surfaces) ?? {}
        return { result: { ...result, facts }, rays: rays[i], seconds: seconds[i], samples: samples[i] }
      })
    } finally {
      signal.removeEventListener('abort', stop)
    }
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
    }))
    const job: Job = {
      jobId: this.nextJob++,
      camera: request.camera,
      frame: small,
      rig: request.rig,
      focus: request.focus,
      seed: request.seed,
      orders,
    }
    await this.eachTile(
      job,
      tilesFromMiddle(small, PREVIEW_TILE_SIDE / shrink),
      cancelFlag,
      signal,
      (tile, message) => {
        const rect = enlarge(tile, frame, shrink)
        message.results.forEach((tileResult, order) => {
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
    tiles: readonly Tile[],
    cancelFlag: Int32Array | null,
    signal: AbortSignal,
    onTile: (tile: Tile, message: Extract<FromWorker, { type: 'tile' }>) => void,
  ): Promise<void> {
    let next = 0
    const cancelled = () => new CancelledError('The render')
    const runner = async (port: number): Promise<void> => {
      while (next < tiles.length) {
        if (signal.aborted) throw cancelled()
        const tile = tiles[next++]
        const message = await this.ask(port, (request) => ({ type: 'tile', request, job, tile, cancelFlag }))
        if (signal.aborted) throw cancelled()
        if (message.type === 'tile') onTile(tile, message)
      }
    }
    const outcomes = await Promise.allSettled(this.ports.map((_, port) => runner(port)))
    const failed = outcomes.find((o) => o.status === 'rejected')
    if (failed) throw failed.reason
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

function pasteTile(channel: ChannelData, pictureWidth: number, tile: Tile, source: ChannelData): void {
  for (let row = 0; row < tile.height; row++) {
    channel.set(
      source.subarray(row * tile.width, (row + 1) * tile.width),
      (tile.y + row) * pictureWidth + tile.x,
    )
  }
}

const enlarge = (tile: Tile, frame: Frame, shrink: number): Tile => {
  const x = tile.x * shrink
  const y = tile.y * shrink
  return {
    x,
    y,
    width: Math.min(tile.width * shrink, frame.width - x),
    height: Math.min(tile.height * shrink, frame.height - y),
  }
}

function pasteEnlarged(
  channel: ChannelData,
  pictureWidth: number,
  rect: Tile,
  fromWidth: number,
  source: ChannelData,
  shrink: number,
): void {
  for (let row = 0; row < rect.height; row++) {
    const from = Math.floor(row / shrink) * fromWidth
    const to = (rect.y + row) * pictureWidth + rect.x
    for (let column = 0; column < rect.width; column++) {
      channel[to + column] = source[from + Math.floor(column / shrink)]
    }
  }
}
