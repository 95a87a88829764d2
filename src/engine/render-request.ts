import type { PassFacts } from '@/core/passes/pass-facts'
import type { Tile } from '@/core/passes/tile'
import type { PassResult } from '@/core/passes/pass-result'
import type { PassOrder } from '@/core/passes/render-tile'
import type { LineDrawing } from '@/core/lines/line-drawing'
import type { Camera, Frame, LensFocus } from '@/core/scene/camera'
import type { Rig } from '@/core/scene/light-rig'

/** What is asked of the pool, and what it tells. */
export interface RenderRequest {
  readonly camera: Camera
  readonly frame: Frame
  readonly rig: Rig
  /** For looking only. */
  readonly focus?: LensFocus
  readonly orders: readonly PassOrder[]
  readonly seed: number
  /** Poses of a turntable that this is one of: what does not depend on where it is seen from is kept on the surfaces. */
  readonly turning?: Turning | null
  /** Render a coarse preview of the whole picture first. */
  readonly preview: boolean
  /** A rectangle to be rendered before the rest. */
  readonly first?: Tile | null
  /**
   * For each order the only rectangle that it is rendered in, of whole tiles; its result is as large as that. Null: the whole frame. Not
   * for passes with lines, nor for such as are smoothed.
   */
  readonly windows?: readonly (Tile | null)[]
  /** For each order what of it is there already, as after a pause, a reload or a change of one material; null: nothing. */
  readonly kept?: readonly (KeptPass | null)[]
}

/** A turntable as the surfaces see it. The same for all of its poses, whichever of them are rendered. */
export interface Turning {
  readonly cameras: readonly Camera[]
  /** Whether the lights stand still about the scene. */
  readonly lightsStay: boolean
  /** Between what is kept, where it is seen nearest. Pixels. */
  readonly spacingPx: number
  /** Of all passes that some of its poses shows. */
  readonly orders: readonly PassOrder[]
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
