// One file: what a tile of a job shares between its passes cannot be told apart from rendering it.
import { z } from 'zod'
import type { ChannelData, ChannelSpec } from '../picture/channel'
import { PackedChannels } from '../picture/packed-channels'
import type { ParamValues } from '../params'
import type { Camera, CameraBasis, Frame, LensFocus } from '../scene/camera'
import { cameraBasis } from '../scene/camera'
import type { Rig } from '../scene/light-rig'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import { partsWindow } from '../scene/parts-window'
import { renderedLights } from '../scene/rendered-light'
import type { SceneGeometry } from '../scene/scene-geometry'
import { partFlags } from '../scene/scene-geometry'
import { TraceKernel } from '../trace/trace-kernel'
import { type RayFilter } from '../trace/ray-filter'
import type { DenoiseGuides } from './denoise'
import { tileGuides } from './denoise'
import { sceneSurfaces } from './id'
import type { LineDrawing } from '../lines/line-drawing'
import { lineGroups, type LineWatch } from '../lines/find-lines'
import { drawLines } from './line-pass'
import type { PassContext, TileRenderer } from './pass-kind'
import type { Effort } from './effort'
import type { PassFacts } from './pass-facts'
import { touches, type Tile } from './tile'
import { TileMemory } from './tile-memory'
import type { PrimaryHits } from './primary-hits'
import { takesAll, tracePrimaryHits } from './primary-hits'
import type { PassKindName } from './registry'
import { passKind } from './registry'
import { bothOf, eitherOf } from './placed-light'
import type { KeptAnswer, SurfaceCache } from './surface-cache'
import { TilePoints } from './tile-points'

/** Which parts and lights a pass holds. */
export const passMembersSchema = z.object({
  /** Keys of the parts in the picture; null is all. */
  parts: z.array(z.string()).nullable(),
  /** Whether the other parts still stand in the way of the view (their place stays empty), or are not there. */
  others: z.enum(['hold out', 'look past']),
  /** Keys of other parts that still stand in the way where the rest is looked past. */
  holdOut: z.array(z.string()).optional(),
  /** Keys of the only parts that a reflection shows; all where left out. Where others are held out, they still hide these there. */
  mirrored: z.array(z.string()).optional(),
  /** Keys of parts that throw no shadow, occlude nothing and are not reflected in this pass. */
  letThrough: z.array(z.string()),
  /** Ids of the lights; null is all that are on. */
  lights: z.array(z.string()).nullable(),
})
/** @see passMembersSchema */
export type PassMembers = z.infer<typeof passMembersSchema>
export const ALL_MEMBERS: PassMembers = { parts: null, others: 'hold out', letThrough: [], lights: null }

export interface PassOrder {
  readonly kind: PassKindName
  readonly params: ParamValues
  readonly effort: Effort
  /** All parts and lights where left out. */
  readonly members?: PassMembers
  /** The rig it is lit by, where it is not the job's. */
  readonly rig?: Rig
  /** Smooth noise away once the picture is whole. */
  readonly denoise?: boolean
  /** The only look it will ever have: what another would need is not rendered. */
  readonly shownAs?: ParamValues
}

/** The lights of a rig that a pass holds and that are on. */
export const memberRig = (rig: Rig, members: PassMembers = ALL_MEMBERS): Rig => ({
  ...rig,
  lights: rig.lights.filter((light) => light.on && (members.lights?.includes(light.id) ?? true)),
})

/** How many groups of lines a pass has; each can be found by itself, and they are joined in order. */
export const lineGroupsOf = ({ kind, params }: PassOrder): number =>
  lineGroups(passKind(kind).lines?.setting(params).kinds ?? []).length

/**
 * Finds the lines of a pass that has some, over the whole picture.
 * @param group one of {@link lineGroupsOf}; null: all of them.
 * @param watch told how much is done, 0…1; may throw to end it.
 */
export function drawPass(
  scene: SceneGeometry,
  { camera, frame, rig }: { readonly camera: Camera; readonly frame: Frame; readonly rig: Rig },
  { kind, params, members = ALL_MEMBERS, rig: ownRig }: PassOrder,
  group: number | null,
  watch?: LineWatch,
): { readonly drawing: LineDrawing; readonly rays: number } {
  const { lines } = passKind(kind)
  if (!lines) throw new Error(`pass ${kind} has no lines`)
  const shown = partFlags(scene, members.parts)
  const parts = {
    shown,
    blockers:
      members.others === 'hold out' ? null : eitherOf(shown, partFlags(scene, members.holdOut ?? null)),
    letThrough: members.letThrough.length > 0 ? partFlags(scene, members.letThrough) : null,
  }
  const asked = lines.setting(params)
  const kinds = group === null ? asked.kinds : (lineGroups(asked.kinds)[group] ?? [])
  return drawLines(scene, camera, frame, memberRig(ownRig ?? rig, members), { ...asked, kinds }, parts, watch)
}

/** One pass's result for one tile. */
export interface TileResult {
  /** In the order of the pass's channels, width × height values each. */
  readonly channels: ChannelData[]
  readonly rays: number
  /** Samples taken, of all pixels. */
  readonly samples: number
  /** What the tile told; null where nothing. */
  readonly facts: PassFacts | null
  /** Time in this pass, shared work counted where it was done first. */
  readonly seconds: number
}

const NO_RESULT: TileResult = { channels: [], rays: 0, samples: 0, facts: null, seconds: 0 }

interface Work {
  readonly renderer: TileRenderer
  readonly channels: readonly ChannelSpec[]
  readonly samples: number
  readonly adaptive: boolean
  readonly seen: RayFilter
  /** Which of what is seen is in the pass; null: all. */
  readonly shown: Uint8Array | null
  readonly isDenoised: boolean
  /** Passes that see the same share their hits. */
  readonly key: string
  /** Where in the frame that is which it looks past; null: nowhere, or it may be anywhere. */
  readonly past: Tile | null
}

/** Pixels around a tile that are looked at with it. */
const BESIDE = 4

const hitsKey = (samples: number, adaptive: boolean, camera: CameraBasis, parts: Uint8Array | null): string =>
  `${samples} ${takesAll({ samples, adaptive, camera })} ${parts?.join('') ?? ''}`

interface Setting {
  readonly camera: Camera
  readonly frame: Frame
  readonly rig: Rig
}

/** What a pass of a job is rendered with. */
function contextOf(
  scene: SceneGeometry,
  setting: Setting,
  camera: CameraBasis,
  picture: PassContext['picture'],
  order: PassOrder,
  seed: number,
  surface: SurfaceCache | null,
): PassContext {
  const members = order.members ?? ALL_MEMBERS
  const shown = partFlags(scene, members.parts)
  const isPast = members.others === 'look past'
  const heldOut = partFlags(scene, members.holdOut ?? null)
  const view = passKind(order.kind).view(scene, order.params)
  const blockers = members.letThrough.length > 0 ? partFlags(scene, members.letThrough) : null
  return {
    scene,
    kernel: TraceKernel.over(scene.tree),
    camera,
    frame: setting.frame,
    rig: memberRig(order.rig ?? setting.rig, members),
    picture,
    seed,
    effort: order.effort,
    seen: { mask: SEEN_BY_CAMERA, parts: bothOf(view, isPast ? eitherOf(shown, heldOut) : null) },
    shown: isPast && !heldOut ? null : shown,
    blockers: blockers && blockers.map((flag) => 1 - flag),
    mirrored: partFlags(scene, members.mirrored ?? null),
    looksPast: isPast,
    shownAs: order.shownAs ?? null,
    surface,
  }
}

/**
 * What of passes may be kept on the surfaces of a scene, each once.
 * @param lightsStay whether the lights stand still about the scene.
 */
export function keptAnswers(
  scene: SceneGeometry,
  setting: Setting,
  picture: PassContext['picture'],
  orders: readonly PassOrder[],
  lightsStay: boolean,
): KeptAnswer[] {
  const camera = cameraBasis(setting.camera, setting.frame)
  const found = new Map<string, KeptAnswer>()
  for (const order of orders) {
    const context = contextOf(scene, setting, camera, picture, order, 0, null)
    for (const answer of passKind(order.kind).keeps(context, order.params, lightsStay)) {
      const before = found.get(answer.key)
      if (!before || before.rays < answer.rays) found.set(answer.key, answer)
    }
  }
  return [...found.values()]
}

/**
 * Renders tiles of one job. All passes of the job share the primary hits of a tile where they ask for the same number
 * of samples. The same scene, camera, orders and seed give the same bits, whichever worker renders which tile.
 */
export class TileJob {
  private readonly kernel: TraceKernel
  private readonly works: readonly Work[]
  private readonly camera: CameraBasis
  private readonly frame: Frame
  private surfaceOfSlot: Uint16Array | null = null
  private readonly memory = new TileMemory()
  private readonly shared = new Map<string, PrimaryHits>()
  private readonly sharedPoints = new Map<string, TilePoints>()
  private sharedTile: Tile | null = null

  constructor(
    private readonly scene: SceneGeometry,
    setting: {
      readonly camera: Camera
      readonly frame: Frame
      readonly rig: Rig
      /** Blurs what is out of focus; for looking only, never for passes that are kept. */
      readonly focus?: LensFocus
    },
    picture: PassContext['picture'],
    orders: readonly PassOrder[],
    private readonly seed: number,
    /** A clock in milliseconds. */
    private readonly now: () => number,
    /** What is kept on the surfaces; null: everything is traced. */
    surface: SurfaceCache | null = null,
  ) {
    this.kernel = TraceKernel.over(scene.tree)
    this.camera = { ...cameraBasis(setting.camera, setting.frame), focus: setting.focus }
    this.frame = setting.frame
    this.works = orders.map((order): Work => {
      const pass = passKind(order.kind)
      const context = contextOf(scene, setting, this.camera, picture, order, seed, surface)
      const { seen, shown } = context
      return {
        past: this.pastOf(seen.parts, setting),
        renderer: pass.createRenderer(context, order.params),
        channels: pass.channels(renderedLights(context.rig), order.params),
        samples: order.effort.samples,
        adaptive: pass.adaptive,
        seen,
        shown,
        isDenoised: order.denoise ?? false,
        key: hitsKey(order.effort.samples, pass.adaptive, this.camera, seen.parts),
      }
    })
  }

  /** Where parts are that a view looks past; nowhere is a window without pixels. */
  private pastOf(parts: Uint8Array | null, { camera, frame }: Setting): Tile | null {
    if (!parts || this.camera.focus) return null
    const { partBoxes } = this.scene.tree
    const past = Array.from(parts.keys()).filter((part) => parts[part] === 0)
    const window = partsWindow(partBoxes, past, camera, frame, 1) ?? { x: 0, y: 0, width: 0, height: 0 }
    const { x, y, width, height } = window
    if (width === 0) return window
    // What is seen beside a tile tells which of its pixels are busy.
    return { x: x - BESIDE, y: y - BESIDE, width: width + 2 * BESIDE, height: height + 2 * BESIDE }
  }

  /** What a tile is seen by: where nothing is looked past, by all. So passes that look past different parts share their hits. */
  private viewOf<W extends Pick<Work, 'key' | 'samples' | 'adaptive' | 'seen' | 'past'>>(
    tile: Tile,
    work: W,
  ): W {
    const { past, seen, samples, adaptive } = work
    if (!past || touches(tile, past)) return work
    const key = hitsKey(samples, adaptive, this.camera, null)
    return { ...work, seen: { ...seen, parts: null }, key }
  }

  /** What the denoiser needs to know of a tile. */
  guides(tile: Tile): DenoiseGuides {
    const { scene, camera } = this
    this.surfaceOfSlot ??= sceneSurfaces(scene).ofSlot
    const samples = Math.max(...this.works.map((work) => (work.isDenoised ? work.samples : 1)))
    const points = this.pointsOf(tile, {
      samples,
      adaptive: true,
      seen: { mask: SEEN_BY_CAMERA, parts: null },
      shown: null,
      past: null,
      key: hitsKey(samples, true, camera, null),
    })
    return tileGuides(camera, points, this.surfaceOfSlot)
  }

  /** What is known of the tile before is given up. */
  private takeUp(tile: Tile): void {
    if (this.sharedTile === tile) return
    this.sharedTile = tile
    this.shared.clear()
    this.sharedPoints.clear()
    this.memory.begin()
  }

  /** Hits of the tile at work, kept until the next tile. */
  private hitsOf(
    tile: Tile,
    work: Pick<Work, 'key' | 'samples' | 'adaptive' | 'seen' | 'past'>,
  ): PrimaryHits {
    this.takeUp(tile)
    const { key, samples, adaptive, seen } = this.viewOf(tile, work)
    let hits = this.shared.get(key)
    if (!hits) {
      const { scene, camera, frame } = this
      hits = tracePrimaryHits({ scene, camera, frame, samples, adaptive, filter: seen }, tile, this.memory)
      this.shared.set(key, hits)
    }
    return hits
  }

  /** Points of the tile at work, kept likewise. */
  private pointsOf(
    tile: Tile,
    work: Pick<Work, 'key' | 'samples' | 'adaptive' | 'seen' | 'shown' | 'past'>,
  ): TilePoints {
    const hits = this.hitsOf(tile, work)
    const key = `${this.viewOf(tile, work).key} ${work.shown?.join('') ?? ''}`
    let points = this.sharedPoints.get(key)
    if (!points) {
      const { scene, camera, frame, seed } = this
      points = new TilePoints(scene, camera, frame, tile, hits, work.shown, seed, this.memory)
      this.sharedPoints.set(key, points)
    }
    return points
  }

  /**
   * Renders the passes of the job over one tile.
   * @param wanted which of them; all where left out. The others give no channels.
   */
  render(tile: Tile, cancelled: () => boolean, wanted?: readonly boolean[]): TileResult[] {
    this.takeUp(tile)
    const asked = this.works.filter((_, index) => wanted?.[index] ?? true)
    const packed = new PackedChannels(
      asked.flatMap(({ channels }) => channels),
      tile.width * tile.height,
    )
    const hitsOf = (work: Work) => this.hitsOf(tile, work)
    const pointsOf = (work: Work) => this.pointsOf(tile, work)
    return this.works.map((work, index) => {
      if (wanted && !wanted[index]) return NO_RESULT
      const before = this.kernel.rayCount
      const started = this.now()
      let samples = 0
      let facts: PassFacts | null = null
      const planes = work.renderer({
        tile,
        cancelled,
        memory: this.memory,
        tell: (told) => void (facts = told),
        get hits() {
          const hits = hitsOf(work)
          samples = hits.slots.length
          return hits
        },
        traced: (count) => this.shared.get(hitsKey(count, false, this.camera, work.seen.parts)) ?? null,
        get points() {
          const points = pointsOf(work)
          samples = points.hits.slots.length
          return points
        },
      })
      return {
        channels: planes.map((plane, c) => packed.encode(work.channels[c].format, plane)),
        rays: this.kernel.rayCount - before,
        samples,
        facts,
        seconds: (this.now() - started) / 1000,
      }
    })
  }
}

/**
 * The picture cut into square blocks from the middle outwards, and each block into tiles likewise, so that whole blocks
 * are finished early.
 */
export const tilesByBlock = (
  frame: Frame,
  sidePx: number,
  blockPx: number,
): { tile: Tile; block: number }[] =>
  tilesFromMiddle(frame, blockPx).flatMap((block, index) =>
    tilesFromMiddle(block, sidePx).map((tile) => ({
      tile: { ...tile, x: block.x + tile.x, y: block.y + tile.y },
      block: index,
    })),
  )

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
