import type { z } from 'zod'
import type { ChannelSpec } from '../picture/channel'
import type { ParamSchema } from '../params'
import type { CameraBasis, Frame } from '../scene/camera'
import type { Rig } from '../scene/light-rig'
import type { RenderedLight } from '../scene/rendered-light'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { RayKernel } from '../trace/ray-kernel'
import type { DomePicture } from './dome-picture'
import type { PrimaryHits } from './primary-hits'

/** How much work goes into a pixel. */
export interface Effort {
  /** Samples per pixel. */
  readonly samples: number
  /** Secondary rays per sample. */
  readonly rays: number
}

/** What a renderer may use; one per worker and job. */
export interface PassContext {
  readonly scene: SceneGeometry
  readonly kernel: RayKernel
  readonly camera: CameraBasis
  readonly frame: Frame
  readonly effort: Effort
  readonly seed: number
  readonly rig: Rig
  /** The picture of a dome by its file's id; null where it is not there. */
  readonly picture: (id: string) => DomePicture | null
}

/** A rectangle of the picture in pixels. */
export interface Tile {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export interface TileContext {
  readonly tile: Tile
  /** Primary hits of this tile, traced once and shared by every pass that asks for the same number of samples. */
  readonly hits: (samples: number) => PrimaryHits
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
  /** Its channels: always the same, or some for each light. Coverage, where it has any, is the last. */
  readonly channels: readonly ChannelSpec[] | ((lights: readonly RenderedLight[]) => ChannelSpec[])
  /** Whether it is rendered under the lights of a rig. */
  readonly usesLights?: boolean
  readonly efforts: Readonly<Record<'draft' | 'final', Effort>>
  /** How a layer made from this pass starts out. */
  readonly layer: { readonly mode: 'normal' | 'multiply' | 'overlay'; readonly opacity: number }
  readonly createRenderer: (context: PassContext, params: z.infer<R>) => TileRenderer
  /** Turns channels into straight-alpha display RGBA, 4·count numbers, written to `out`. */
  readonly look: (input: LookInput, params: z.infer<L>, out: Float32Array) => void
}

/** Keeps the literal types of a descriptor. */
export const definePass = <K extends string, R extends ParamSchema, L extends ParamSchema>(
  kind: PassKind<K, R, L>,
): PassKind<K, R, L> => kind
