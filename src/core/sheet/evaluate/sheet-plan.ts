import type { EffectWork } from '../../effects/effect-kind'
import type { PaintUses } from '../../paint/paint-use'
import type { Tile } from '../../passes/tile'
import type { MapRequest } from '../../passes/shot-maps'
import type { BlendMode } from '../blend-modes'
import type { Content } from '../contents/registry'
import type { CastShadow } from '../contents/cast-shadow'
import type { SheetFrame } from '../contents/sheet'
import type { RenderSize } from '../sheet-resources'
import type { Printed } from './plan-print'
import type { Gate, Mask, Sheet } from '../sheet-schema'
import type { MaskTerm } from '../terms/registry'

/**
 * What is to be done to make a picture of a sheet, without pixels. Every step has a key, made of its own values, the keys of
 * what goes into it and the revisions of its resources: equal keys, equal pixels.
 */

/** How a sheet is to be seen. */
export interface SheetView {
  /** What the whole sheet measures, in pixels. */
  readonly size: RenderSize
  /** Only so many of the layers that lie in no group, from the back (the peel). */
  readonly upTo?: number
  /** Layers that are left out, as if hidden; those of a sheet in a frame are told by {@link within}. */
  readonly without?: ReadonlySet<string>
  /** Leaves the sheet's background out. */
  readonly transparent?: boolean
  /** While a hand moves something: what takes long is worked out more coarsely. */
  readonly isDraft?: boolean
  /** So many pixels of each axis become one: what a hand that moves is shown when the whole would come too late. */
  readonly coarse?: Coarseness
}
export type Coarseness = 1 | 2 | 4

/** How a layer of a sheet that lies in a frame is told to be left out; null for the sheet's ground. */
export const within = (frameId: string, layerId: string | null): string => `${frameId}/${layerId ?? ''}`

/** A picture of which so many pixels of each axis become one. What is left over at the right and below is left out. */
export const coarser = ({ width, height }: RenderSize, coarse: Coarseness): RenderSize => ({
  width: Math.max(1, Math.floor(width / coarse)),
  height: Math.max(1, Math.floor(height / coarse)),
})

/**
 * Something of the picture, tile by tile: what its tiles show is told by its key, and where it is made from what was painted by
 * hand, by the names of what is painted about each.
 */
export interface Keyed {
  readonly key: string
  readonly paints: PaintUses
}

export interface MaskStep extends Keyed {
  readonly mask: Mask
  /** Of its terms that ask for some. */
  readonly maps: ReadonlyMap<MaskTerm, readonly MapStep[]>
  /** What effects make of it: a grey picture, opaque. Null where it has none. */
  readonly worked: Source | null
}

/** Numbers that an effect or a mask term asks for, a number a pixel. */
export interface MapStep extends Keyed {
  readonly request: MapRequest
  /** Where they are those of a layer: what it shows alone; of what lies beneath: that. Null: there is no such thing. */
  readonly source: Source | null
  /** The mask that is meant, or that a layer is seen through. */
  readonly mask: MaskStep | null
  /** Names what of single parts it is made from: the same whichever they are. */
  readonly base?: string
}

/** A step of a list of effects. */
export interface ReadyEffect {
  /** Of kind and parameters alone. */
  readonly key: string
  readonly work: EffectWork
  /** How much of what it makes replaces what it was given. */
  readonly opacity: number
  readonly mask: MaskStep | null
  /** What it looks at beside what it is given. */
  readonly beside: readonly Source[]
  readonly maps: readonly MapStep[]
  /** Ids of pictures that it is worked out from, and what they show now. */
  readonly pictures: readonly string[]
  readonly pictureKey: string
}

/** What a composition has made before some of its steps: what a wash works on. */
export interface BeneathSource extends Keyed {
  readonly kind: 'beneath'
  readonly composition: Composition
  readonly before: number
}
/** Pixels with an alpha of their own: straight display values. */
export type Source =
  | {
      readonly kind: 'content'
      readonly key: string
      readonly paints: PaintUses
      readonly content: Content
      /** The same twice as large: where that is at hand, this is its means. */
      readonly finer: Finer | null
    }
  | {
      readonly kind: 'group'
      readonly key: string
      readonly paints: PaintUses
      readonly composition: Composition
    }
  | {
      readonly kind: 'effect'
      readonly key: string
      readonly paints: PaintUses
      readonly input: Source
      readonly effect: ReadyEffect
    }
  /** Another sheet in its frame. */
  | {
      readonly kind: 'sheet'
      readonly key: string
      readonly paints: PaintUses
      readonly shown: ShownSheet
      /** Tells it apart from others of the sheet. */
      readonly name: string
      readonly finer: Finer | null
    }
  /** Another sheet printed on something: on paper that is rendered, or fitted into what lies beneath. */
  | {
      readonly kind: 'print'
      readonly key: string
      readonly paints: PaintUses
      readonly content: Printed
      /** Of the sheet that is printed, at least as large as it is seen. */
      readonly plan: SheetPlan
      /** Tells all that the sheet shows. */
      readonly printed: string
      /** Names what of it takes rays; empty where none. */
      readonly base: string
      /** Light that falls on it, where that is of what lies beneath: red, green and blue, or brightness alone. */
      readonly beneath: BeneathSource | null
      readonly name: string
      readonly finer: Finer | null
    }
  /** What a layer that stands at a depth throws on the surfaces of the shot. */
  | {
      readonly kind: 'cast'
      readonly key: string
      readonly paints: PaintUses
      readonly content: CastShadow
      /** Where it stands: as its mask says. */
      readonly standing: number
      /** The layer, blurred by one after the other of {@link CAST_BLURS}. */
      readonly levels: readonly Source[]
    }
  /** A mask as a grey picture. */
  | {
      readonly kind: 'mask'
      readonly key: string
      readonly paints: PaintUses
      readonly mask: MaskStep
    }
  | BeneathSource

/** A content of a view twice as large. */
export interface Finer {
  readonly key: string
  readonly size: RenderSize
  readonly finer: Finer | null
  /** How what is missing of it is made, where that is cheaper than making all of it more coarsely. */
  readonly shown?: ShownSheet
}

/** A sheet in its frame, on a view of some size. */
export interface ShownSheet {
  readonly frame: SheetFrame
  /** Of the sheet, as large as it lies there. */
  readonly plan: SheetPlan
  /** Where it lies, in pixels of the view. */
  readonly lies: Tile
  /** Pixels of the view per pixel of the page. */
  readonly scale: number
}

/** What a layer's pixels are weighed by besides its opacity. */
export interface Weighing {
  readonly mask: MaskStep | null
  /** The layer whose pixels it is confined to. */
  readonly confine: {
    readonly source: Source
    readonly opacity: number
    readonly mask: MaskStep | null
  } | null
  readonly gate: Gate | null
}

export type Step =
  | {
      readonly kind: 'layer'
      readonly key: string
      readonly paints: PaintUses
      readonly nodeId: string
      readonly source: Source
      readonly mode: BlendMode
      readonly opacity: number
      readonly weighing: Weighing
    }
  | {
      readonly kind: 'wash'
      readonly key: string
      readonly paints: PaintUses
      readonly nodeId: string
      /** Effects over {@link BeneathSource}. */
      readonly source: Source
      readonly mode: BlendMode
      readonly opacity: number
      readonly weighing: Weighing
    }
  /** What lies there is remembered, … */
  | { readonly kind: 'begin'; readonly key: string; readonly paints: PaintUses; readonly nodeId: string }
  /** … and taken back to: what a pass-through group's opacity, mask and gate do. */
  | {
      readonly kind: 'end'
      readonly key: string
      readonly paints: PaintUses
      readonly nodeId: string
      readonly opacity: number
      readonly weighing: Weighing
    }

/** Steps one over the other, on their own ground. */
export interface Composition extends Keyed {
  /** Tells compositions of one sheet apart: the group's id, or empty for the sheet itself. */
  readonly name: string
  readonly steps: readonly Step[]
  /** prefixes[i]: what the first i steps make; one more than there are steps. */
  readonly prefixes: readonly Keyed[]
  /** Premultiplied, in the blend space. */
  readonly ground: readonly [number, number, number, number]
  readonly isLinear: boolean
}

export interface SheetPlan {
  readonly size: RenderSize
  /** Pixels of the view per pixel of the sheet: multiplies lengths. */
  readonly scale: number
  readonly sheet: Sheet
  readonly root: Composition
  readonly isDraft: boolean
  /** See {@link SheetView.coarse}; `size` and `scale` are those of the coarser picture. */
  readonly coarse: Coarseness
}
