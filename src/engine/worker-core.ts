import { denoise } from '@/core/passes/denoise'
import { decodeChannel, encodeChannel } from '@/core/picture/channel'
import { CancelledError } from '@/core/errors'
import { DomePicture } from '@/core/passes/dome-picture'
import { drawPass, TileJob } from '@/core/passes/render-tile'
import { sceneSurfaces } from '@/core/passes/id'
import type { SceneGeometry } from '@/core/scene/scene-geometry'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import type { FromWorker, Job } from './messages'
import { parseToWorker } from './messages'
import { fromTransfer, sceneBytes, toTransfer } from './scene-transfer'

/** The part of a render worker that is the same in a browser and in Node. */
export class WorkerCore {
  private scene: SceneGeometry | null = null
  private tileJob: TileJob | null = null
  private jobId = -1
  private readonly domes = new Map<string, DomePicture>()

  constructor(private readonly now: () => number) {}

  /** Answers one message; never throws. `transfer` lists what may be moved instead of copied. */
  handle(message: unknown): { reply: FromWorker; transfer: ArrayBuffer[] } {
    // Known before the message is: one that means nothing must still be answered, or its asker waits for ever.
    let request = requestOf(message)
    try {
      const parsed = parseToWorker(message)
      request = parsed.request
      if (parsed.type === 'build') {
        const start = this.now()
        const scene = buildSceneGeometry(parsed.models)
        const seconds = (this.now() - start) / 1000
        const transfer = toTransfer(scene)
        const report = { triangles: scene.triangleCount, seconds, bytes: sceneBytes(scene) }
        const { surfaces } = sceneSurfaces(scene)
        return { reply: { type: 'built', request, scene: transfer, surfaces, report }, transfer: [] }
      }
      if (parsed.type === 'attach') {
        this.scene = fromTransfer(parsed.scene)
        this.tileJob = null
        this.jobId = -1
        return { reply: { type: 'attached', request }, transfer: [] }
      }
      if (parsed.type === 'dome') {
        this.domes.set(parsed.id, new DomePicture(parsed.raster))
        return { reply: { type: 'dome-kept', request }, transfer: [] }
      }
      if (parsed.type === 'draw') {
        if (!this.scene) throw new Error('no scene is attached')
        const { order, group, control } = parsed
        const start = this.now()
        const { drawing, rays } = drawPass(this.scene, parsed, order, group, (share01) => {
          if (!control) return
          if (Atomics.load(control, 0) !== 0) throw new CancelledError('Finding the lines')
          Atomics.store(control, 1, Math.round(1000 * share01))
        })
        const seconds = (this.now() - start) / 1000
        const arrays = Object.values(drawing).filter((value) => ArrayBuffer.isView(value))
        const transfer = arrays.map((array) => array.buffer as ArrayBuffer)
        return { reply: { type: 'drawn', request, drawing, rays, seconds }, transfer }
      }
      if (parsed.type === 'denoise') {
        const { guides, width, height } = parsed
        const noisy = parsed.planes.map(({ format, data, raysPerPixel }) => {
          const values = new Float32Array(data.length)
          decodeChannel({ name: '', format, data }, 0, values.length, values)
          return { values, raysPerPixel }
        })
        denoise(noisy, guides, width, height)
        const planes = noisy.map(({ values }, i) => encodeChannel(parsed.planes[i].format, values))
        const transfer = planes.map((plane) => plane.buffer as ArrayBuffer)
        return { reply: { type: 'denoised', request, planes }, transfer }
      }
      const { cancelFlag, tile, job } = parsed
      const work = this.jobFor(job)
      const results = work.render(
        tile,
        () => cancelFlag !== null && Atomics.load(cancelFlag, 0) !== 0,
        parsed.wanted ?? undefined,
      )
      const guides = job.orders.some((order) => order.denoise) ? work.guides(tile) : null
      const transfer = results.flatMap((r) => r.channels.map((c) => c.buffer as ArrayBuffer))
      return { reply: { type: 'tile', request, results, guides }, transfer }
    } catch (error) {
      return {
        reply: { type: 'failed', request, message: error instanceof Error ? error.message : String(error) },
        transfer: [],
      }
    }
  }

  private jobFor(job: Job): TileJob {
    if (!this.scene) throw new Error('no scene is attached')
    if (!this.tileJob || this.jobId !== job.jobId) {
      this.tileJob = new TileJob(
        this.scene,
        job,
        (id) => this.domes.get(id) ?? null,
        job.orders,
        job.seed,
        this.now,
      )
      this.jobId = job.jobId
    }
    return this.tileJob
  }
}

const requestOf = (message: unknown): number =>
  typeof message === 'object' &&
  message !== null &&
  'request' in message &&
  typeof message.request === 'number'
    ? message.request
    : -1
