import type { ChannelData } from '../picture/channel'
import { encodeChannel } from '../picture/channel'
import type { ParamValues } from '../params'
import type { Camera, Frame, LensFocus } from '../scene/camera'
import { cameraBasis } from '../scene/camera'
import type { Rig } from '../scene/light-rig'
import type { RenderedLight } from '../scene/rendered-light'
import { renderedLights } from '../scene/rendered-light'
import type { SceneGeometry } from '../scene/scene-geometry'
import { RayKernel } from '../trace/ray-kernel'
import type { Effort, PassContext, Tile, TileContext } from './pass-kind'
import type { PrimaryHits } from './primary-hits'
import { tracePrimaryHits } from './primary-hits'
import type { PassKindName } from './registry'
import { passKind } from './registry'

export interface PassOrder {
  readonly kind: PassKindName
  readonly params: ParamValues
  readonly effort: Effort
}

/** One pass's result for one tile. */
export interface TileResult {
  /** In the order of the pass's channels, width × height values each. */
  readonly channels: ChannelData[]
  readonly rays: number
  /** Time in this pass, shared work counted where it was done first. */
  readonly seconds: number
}

/**
 * Renders tiles of one job. All passes of the job share the primary hits of a tile where they ask for the same number
 * of samples. The same scene, camera, orders and seed give the same bits, whichever worker renders which tile.
 */
export class TileJob {
  private readonly kernel: RayKernel
  private readonly base: Omit<PassContext, 'effort'>
  private readonly renderers: ((tile: TileContext) => Float32Array[])[]
  private readonly lights: readonly RenderedLight[]

  constructor(
    scene: SceneGeometry,
    setting: {
      readonly camera: Camera
      readonly frame: Frame
      readonly rig: Rig
      /** Blurs what is out of focus; for looking only, never for passes that are kept. */
      readonly focus?: LensFocus
    },
    picture: PassContext['picture'],
    private readonly orders: readonly PassOrder[],
    seed: number,
    /** A clock in milliseconds. */
    private readonly now: () => number,
  ) {
    this.kernel = new RayKernel(scene.bvh)
    this.lights = renderedLights(setting.rig)
    this.base = {
      scene,
      kernel: this.kernel,
      camera: { ...cameraBasis(setting.camera, setting.frame), focus: setting.focus },
      frame: setting.frame,
      rig: setting.rig,
      picture,
      seed,
    }
    this.renderers = orders.map((order) =>
      passKind(order.kind).createRenderer({ ...this.base, effort: order.effort }, order.params),
    )
  }

  /** Renders every pass of the job over one tile. */
  render(tile: Tile, cancelled: () => boolean): TileResult[] {
    const shared = new Map<number, PrimaryHits>()
    const context: TileContext = {
      tile,
      cancelled,
      hits: (samples) => {
        let hits = shared.get(samples)
        if (!hits) {
          hits = tracePrimaryHits(this.kernel, this.base.camera, this.base.frame, tile, samples)
          shared.set(samples, hits)
        }
        return hits
      },
    }
    return this.renderers.map((renderer, index) => {
      const before = this.kernel.rays
      const started = this.now()
      const planes = renderer(context)
      const specs = passKind(this.orders[index].kind).channels(this.lights)
      return {
        channels: planes.map((plane, c) => encodeChannel(specs[c].format, plane)),
        rays: this.kernel.rays - before,
        seconds: (this.now() - started) / 1000,
      }
    })
  }
}

/** The picture cut into square tiles, from the middle outwards. */
export function tilesFromMiddle(frame: Frame, sidePx: number): Tile[] {
  const tiles: Tile[] = []
  for (let y = 0; y < frame.height; y += sidePx) {
    for (let x = 0; x < frame.width; x += sidePx) {
      tiles.push({
        x,
        y,
        width: Math.min(sidePx, frame.width - x),
        height: Math.min(sidePx, frame.height - y),
      })
    }
  }
  const away = (t: Tile) =>
    Math.hypot(t.x + t.width / 2 - frame.width / 2, t.y + t.height / 2 - frame.height / 2)
  return tiles
    .map((tile, index) => ({ tile, index, away: away(tile) }))
    .sort((a, b) => a.away - b.away || a.index - b.index)
    .map((entry) => entry.tile)
}
