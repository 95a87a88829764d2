import type { IdleParams, LookGround, SceneTraits } from './idle-params'
import type { z } from 'zod'
import type { ChannelSpec } from '../picture/channel'
import type { PartRole } from '../scene/part-role'
import type { ParamSchema, ParamValues } from '../params'
import type { CameraBasis, Frame } from '../scene/camera'
import type { Rig } from '../scene/light-rig'
import type { RenderedLight } from '../scene/rendered-light'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { TraceKernel } from '../trace/trace-kernel'
import type { RayFilter } from '../trace/ray-filter'
import type { DomePicture } from './dome-picture'
import type { LinePart } from './line-pass'
import type { PrimaryHits } from './primary-hits'
import type { KeptAnswer, SurfaceCache } from './surface-cache'
import type { TilePoints } from './tile-points'
import type { Effort, EffortName } from './effort'
import type { PassFacts } from './pass-facts'
import type { Tile } from './tile'
import type { TileMemory } from './tile-memory'

/** What of a material a pass shows. */
export type MaterialAspect = 'colour' | 'finish' | 'transparency' | 'texture'

/** What a renderer may use; one per worker and job. */
export interface PassContext {
  readonly scene: SceneGeometry
  readonly kernel: TraceKernel
  readonly camera: CameraBasis
  readonly frame: Frame
  readonly effort: Effort
  readonly seed: number
  /** The lights the pass holds, of the rig. */
  readonly rig: Rig
  /** What camera rays meet, and which of it is in the pass: one byte a part, null: all. The rest is held out. */
  readonly seen: RayFilter
  readonly shown: Uint8Array | null
  /** Which parts are in the way of light, reflections and neighbourhoods. */
  readonly blockers: Uint8Array | null
  /** The only parts that a reflection shows; null: all. */
  readonly mirrored: Uint8Array | null
  /** Whether parts that are not in the pass are not there; else they are held out. */
  readonly looksPast: boolean
  /** The only look the pass will ever have; null or left out: its look is live. */
  readonly shownAs?: ParamValues | null
  /** The picture of a dome by its file's id; null where it is not there. */
  readonly picture: (id: string) => DomePicture | null
  /** What is kept on the surfaces, where passes of a turntable are rendered. */
  readonly surface?: SurfaceCache | null
}

export interface TileContext {
  readonly tile: Tile
  /** What the tile's pixels see, traced once and shared by every pass of the job that asks for the same. */
  readonly hits: PrimaryHits
  /** Hits of so many samples of every pixel, where another pass of the job has asked for them; else null. */
  readonly traced: (samples: number) => PrimaryHits | null
  /** The surface points of the pass among them, likewise. */
  readonly points: TilePoints
  /** Tells something about the tile, for the pass's {@link FactRules}. */
  readonly tell: (facts: PassFacts) => void
  /** Room for planes and what is needed on the way, good while the tile is at work. */
  readonly memory: TileMemory
  /** True when the job was cancelled: stop at once; the result is thrown away. */
  readonly cancelled: () => boolean
}

/** Renders one tile; gives one plane (width × height numbers) per channel of the pass, in order. */
export type TileRenderer = (tile: TileContext) => Float32Array[]

/** One pair of part and material that a pixel can see. */
export interface Surface {
  readonly part: string
  readonly material: string
  readonly partName: string
  readonly materialName: string
  readonly opacity: number
  /** Names of the groups the part lies in, outermost first. */
  readonly groups: readonly string[]
  /** What the part does in the picture; subjects may leave it out. */
  readonly role?: PartRole
  /** Display values, 0…1. */
  readonly baseColour: readonly [number, number, number]
}

/** A run of pixels of a rendered pass, decoded. */
export interface LookInput {
  readonly count: number
  /** One plane per channel, in the order of the pass's channel list. */
  readonly planes: readonly Float32Array[]
  /** The scene's surfaces, for passes that name them. */
  readonly surfaces: readonly Surface[]
  /** The lights that were rendered, in the colours and strengths they are to be seen in. */
  readonly lights: readonly RenderedLight[]
  /** What the pass was rendered with. */
  readonly rendered: ParamValues
  /** Numbers about the whole picture, by name: see {@link PassKind.facts}. */
  readonly facts: PassFacts
}

/** How what tiles tell becomes what is known of the picture. */
export interface FactRules {
  /** Whether a picture under way is to be seen by what its tiles told so far. */
  readonly live?: boolean
  /** Joins what two sets of tiles told; the first is given up. */
  readonly merge: (a: PassFacts, b: PassFacts) => PassFacts
  /** Makes of what all tiles told what `look` reads. */
  readonly finish: (told: PassFacts, surfaces: readonly Surface[]) => PassFacts
}

export interface ReadyLook {
  readonly label: string
  readonly look: ParamValues
}

/**
 * A complete description of a pass. Adding a pass is one file with one of these and one line in the registry.
 */
export interface PassKind<K extends string, R extends ParamSchema, L extends ParamSchema> {
  readonly kind: K
  readonly label: string
  /** One sentence: what it shows and what it is for. */
  readonly summary: string
  /** Parameters that need rays. */
  readonly renderSchema: R
  /** Parameters that are live. */
  readonly lookSchema: L
  /** Looks to begin with, by a name of their own; what they leave out is at its default. */
  readonly readyLooks?: Readonly<Record<string, ReadyLook>>
  /**
   * Its channels: always the same, or by the lights and what it is rendered with. Coverage, where it has any, is last.
   * None where lines are all there is.
   */
  readonly channels:
    readonly ChannelSpec[] | ((lights: readonly RenderedLight[], params: z.infer<R>) => ChannelSpec[])
  /** Vector lines, found on the whole picture and stroked by the look, over what the channels show. */
  readonly lines?: LinePart<z.infer<R>, z.infer<L>>
  /** Whether it is rendered under the lights of a rig. */
  readonly usesLights?: boolean | ((params: z.infer<R>) => boolean)
  /** False takes all samples of every pixel: for passes whose numbers may change anywhere on a surface. */
  readonly adaptive?: boolean
  /** Whether its numbers are data, which no tone mapping may touch and no lossy file should hold. */
  readonly isData?: boolean
  /** What a change of materials alone makes it be rendered again for. */
  readonly reads?: readonly MaterialAspect[]
  readonly efforts: Readonly<Record<EffortName, Effort>>
  /** Names of the channels that the denoiser may smooth, between 0 and 1 or a little more; none where left out. */
  readonly denoised?: readonly string[] | ((lights: readonly RenderedLight[]) => string[])
  /** How a layer made from this pass starts out. */
  readonly layer: { readonly mode: 'normal' | 'multiply' | 'overlay'; readonly opacity: number }
  /** Which parts the camera sees, where the pass looks past some: one byte a part; null: all. */
  readonly view?: (scene: SceneGeometry, params: z.infer<R>) => Uint8Array | null
  /** Left out where there are no channels. */
  readonly createRenderer?: (context: PassContext, params: z.infer<R>) => TileRenderer
  /**
   * What of it is the same from wherever it is seen, and may be kept on the surfaces.
   * @param lightsStay whether the lights stand still about the scene.
   */
  readonly keeps?: (context: PassContext, params: z.infer<R>, lightsStay: boolean) => KeptAnswer[]
  /** What look needs to know of the whole picture. */
  readonly facts?: FactRules
  /** Render parameters that change nothing as things are. */
  readonly idleRender?: (params: z.infer<R>, scene: SceneTraits) => IdleParams
  /** Look parameters that change nothing as things are. */
  readonly idleLook?: (look: z.infer<L>, ground: LookGround) => IdleParams
  /** Turns channels into straight-alpha display RGBA, 4·count numbers, written to `out`, which begins empty. */
  readonly look?: (input: LookInput, params: z.infer<L>, out: Float32Array) => void
}

/** Keeps the literal types of a descriptor. */
export const definePass = <K extends string, R extends ParamSchema, L extends ParamSchema>(
  kind: PassKind<K, R, L>,
): PassKind<K, R, L> => kind
