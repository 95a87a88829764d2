import type { DomeRaster } from '@/core/passes/dome-picture'
import type { Surface } from '@/core/passes/pass-kind'
import type { Tile } from '@/core/passes/tile'
import { hashJson } from '@/core/math/stable-hash'
import type { Light, Rig } from '@/core/scene/light-rig'
import type { SceneModel } from '@/core/scene/scene-geometry'
import { WorkerChannel, type SpawnWorker } from '@/core/workers/worker-channel'
import type { BuildReport, FromWorker, ToWorker } from './messages'
import { drawLinesOn } from './render-lines'
import type {
  DrawRequest,
  FoundLines,
  RenderedPass,
  RenderEvents,
  RenderRequest,
  Turning,
} from './render-request'
import { RenderRun } from './render-run'
import type { RenderWorker } from './render-worker'

/** Runs scenes and tiles on a set of workers. One job at a time; the order of jobs is the caller's queue. */
export class RenderPool {
  private readonly workers: readonly RenderWorker[]
  private nextJob = 1
  private surfaces: readonly Surface[] = []
  /** Boxes of the parts of its scene, see `RayTree.partBoxes`. */
  partBoxes: Float32Array = new Float32Array(0)
  private running: RenderRun | null = null
  /** What the texels on the surfaces were laid for; empty: none are. */
  private laidFor = ''

  constructor(spawn: SpawnWorker, workers: number) {
    // Where one worker breaks, what the others do is of no use any more.
    const breakAll = (error: Error) => {
      for (const worker of this.workers) worker.fail(error)
    }
    this.workers = Array.from(
      { length: Math.max(1, workers) },
      () => new WorkerChannel<ToWorker, FromWorker>(spawn, breakAll),
    )
  }

  get size(): number {
    return this.workers.length
  }

  /** Builds a scene in one worker and hands it to all. Replaces the scene before. */
  async setScene(models: readonly SceneModel[]): Promise<BuildReport> {
    const { scene, surfaces, partBoxes, report } = await this.workers[0].ask(
      { type: 'build', models: [...models] },
      'built',
    )
    this.surfaces = surfaces
    this.partBoxes = partBoxes
    this.laidFor = ''
    await Promise.all(this.workers.map((worker) => worker.ask({ type: 'attach', scene }, 'kept')))
    return report
  }

  /** Gives all workers the picture of a dome; rigs name it by id. */
  async setDome(id: string, raster: DomeRaster): Promise<void> {
    await Promise.all(this.workers.map((worker) => worker.ask({ type: 'dome', id, raster }, 'kept')))
  }

  /**
   * Renders passes together over the attached scene.
   * @throws {CancelledError} soon after the signal is aborted.
   */
  async render(request: RenderRequest, events: RenderEvents, signal: AbortSignal): Promise<RenderedPass[]> {
    if (request.turning) await this.lay(request, request.turning)
    const run = new RenderRun(this.workers, () => this.nextJob++, this.surfaces, request, events, signal)
    this.running = run
    try {
      return await run.finish()
    } finally {
      if (this.running === run) this.running = null
    }
  }

  /** Lays out what is kept on the surfaces, unless it lies there already. */
  private async lay({ frame, rig }: RenderRequest, turning: Turning): Promise<void> {
    // Without shared memory each worker would keep its own, and fill it alone.
    if (typeof SharedArrayBuffer === 'undefined') return
    const { cameras, lightsStay, spacingPx, orders } = turning
    const shapes = (own: Rig) => own.lights.map((light) => shapeOf(light, lightsStay))
    const asked = orders.map((order) => ({ ...order, rig: order.rig && shapes(order.rig) }))
    const key = hashJson([cameras, lightsStay, spacingPx, asked, frame, shapes(rig)])
    if (key === this.laidFor) return
    this.laidFor = ''
    const { surface } = await this.workers[0].ask(
      {
        type: 'lay',
        cameras: [...cameras],
        spacingPx,
        lightsStay,
        frame,
        rig,
        orders: orders.map((order) => ({ ...order })),
      },
      'laid',
    )
    await Promise.all(this.workers.map((worker) => worker.ask({ type: 'surface', surface }, 'kept')))
    this.laidFor = key
  }

  /** Finds the lines of a pass; see {@link drawLinesOn}. */
  draw(
    request: DrawRequest,
    signal: AbortSignal,
    onShare: (share01: number) => void = () => undefined,
  ): Promise<FoundLines> {
    return drawLinesOn(this.workers, request, signal, onShare, this.workers.length - 1)
  }

  /** Moves the tiles of a rectangle to the front of what still waits in the render that runs. */
  renderFirst(rect: Tile): void {
    this.running?.putFirst(rect)
  }

  close(): void {
    for (const worker of this.workers) worker.close(new Error('the render workers were closed'))
  }
}

/** What of a light decides whether, and as what, its light is kept: not where it comes from, nor how strong it is. */
const shapeOf = (light: Light, lightsStay: boolean): unknown => ({
  id: light.id,
  kind: light.kind,
  on: light.on,
  shadow: light.shadow,
  throws: light.throws,
  lights: light.lights,
  ...(light.kind === 'dome' && {
    look: light.look,
    pictureId: light.pictureId,
    rotationDeg: lightsStay ? light.rotationDeg : null,
  }),
})
