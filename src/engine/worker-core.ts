import { denoise } from '@/core/passes/denoise'
import { decodeChannel, encodeChannel } from '@/core/picture/channel'
import { assertNever, CancelledError } from '@/core/errors'
import { DomePicture } from '@/core/passes/dome-picture'
import { drawPass, keptAnswers, TileJob } from '@/core/passes/render-tile'
import { SurfaceCache } from '@/core/passes/surface-cache'
import { layTexels } from '@/core/passes/surface-layout'
import { sharedFloat32, sharedUint8 } from '@/core/trace/shared-arrays'
import { sceneSurfaces } from '@/core/passes/id'
import type { SceneGeometry } from '@/core/scene/scene-geometry'
import { buildSceneGeometry } from '@/core/scene/scene-geometry'
import { movable, type Answer } from '@/core/workers/answer-requests'
import type { FromWorker, Job, ToWorker } from './messages'
import { fromTransfer, sceneBytes, toTransfer } from './scene-transfer'

type Message<K extends ToWorker['type']> = Extract<ToWorker, { type: K }>

/** The part of a render worker that is the same in a browser and in Node. */
export class WorkerCore {
  private scene: SceneGeometry | null = null
  private job: { readonly id: number; readonly work: TileJob; readonly isDenoised: boolean } | null = null
  private surface: SurfaceCache | null = null
  private readonly domes = new Map<string, DomePicture>()

  /** @param now a clock in milliseconds. */
  constructor(private readonly now: () => number) {}

  /** @throws where a message asks for what is not there, or what it asks for fails. */
  answer(message: ToWorker): Answer<FromWorker> {
    switch (message.type) {
      case 'build':
        return this.build(message)
      case 'attach':
        this.scene = fromTransfer(message.scene)
        this.job = null
        this.surface = null
        return this.kept(message)
      case 'dome':
        this.domes.set(message.id, new DomePicture(message.raster))
        return this.kept(message)
      case 'lay':
        return this.lay(message)
      case 'surface':
        this.surface = message.surface && new SurfaceCache(this.attached(), message.surface)
        return this.kept(message)
      case 'job':
        this.job = this.begin(message.job)
        return this.kept(message)
      case 'tile':
        return this.tile(message)
      case 'draw':
        return this.draw(message)
      case 'denoise':
        return this.smooth(message)
      default:
        return assertNever(message)
    }
  }

  private kept = ({ request }: ToWorker): Answer<FromWorker> => ({ reply: { type: 'kept', request } })

  private attached(): SceneGeometry {
    if (!this.scene) throw new Error('no scene is attached')
    return this.scene
  }

  private build({ request, models }: Message<'build'>): Answer<FromWorker> {
    const start = this.now()
    const scene = buildSceneGeometry(models)
    const seconds = (this.now() - start) / 1000
    const report = { triangles: scene.triangleCount, seconds, bytes: sceneBytes(scene) }
    const { surfaces } = sceneSurfaces(scene)
    const { partBoxes } = scene.tree
    return { reply: { type: 'built', request, scene: toTransfer(scene), surfaces, partBoxes, report } }
  }

  private lay(message: Message<'lay'>): Answer<FromWorker> {
    const { request, cameras, spacingPx, lightsStay, frame, rig, orders } = message
    const scene = this.attached()
    const layout = layTexels(scene, cameras, frame, spacingPx)
    const picture = (id: string) => this.domes.get(id) ?? null
    const answers = keptAnswers(scene, { camera: cameras[0], frame, rig }, picture, orders, lightsStay)
    const planes = answers.map((answer) => ({
      ...answer,
      data: sharedFloat32(answer.values * layout.count),
      isThere: sharedUint8(layout.count),
    }))
    const surface = { layout, buried: sharedUint8(layout.count), planes }
    return { reply: { type: 'laid', request, surface } }
  }

  private begin(job: Job): WorkerCore['job'] {
    const work = new TileJob(
      this.attached(),
      job,
      (id) => this.domes.get(id) ?? null,
      job.orders,
      job.seed,
      this.now,
      job.isKept ? this.surface : null,
    )
    return { id: job.jobId, work, isDenoised: job.orders.some((order) => order.denoise) }
  }

  private tile({ request, jobId, tile, wanted, cancelFlag }: Message<'tile'>): Answer<FromWorker> {
    if (this.job?.id !== jobId) throw new Error(`job ${jobId} is not the one at work`)
    const { work, isDenoised } = this.job
    const results = work.render(
      tile,
      () => cancelFlag !== null && Atomics.load(cancelFlag, 0) !== 0,
      wanted ?? undefined,
    )
    const guides = isDenoised ? work.guides(tile) : null
    const transfer = movable(results.flatMap((r) => r.channels))
    return { reply: { type: 'tile', request, results, guides }, transfer }
  }

  private draw(message: Message<'draw'>): Answer<FromWorker> {
    const { request, order, group, control } = message
    const start = this.now()
    const { drawing, rays } = drawPass(this.attached(), message, order, group, (share01) => {
      if (!control) return
      if (Atomics.load(control, 0) !== 0) throw new CancelledError('Finding the lines')
      Atomics.store(control, 1, Math.round(1000 * share01))
    })
    const seconds = (this.now() - start) / 1000
    return {
      reply: { type: 'drawn', request, drawing, rays, seconds },
      transfer: movable(Object.values(drawing)),
    }
  }

  private smooth({ request, planes: given, guides, width, height }: Message<'denoise'>): Answer<FromWorker> {
    const noisy = given.map(({ format, data, raysPerPixel }) => {
      const values = new Float32Array(data.length)
      decodeChannel({ name: '', format, data }, 0, values.length, values)
      return { values, raysPerPixel }
    })
    denoise(noisy, guides, width, height)
    const planes = noisy.map(({ values }, i) => encodeChannel(given[i].format, values))
    return { reply: { type: 'denoised', request, planes }, transfer: movable(planes) }
  }
}
