import type { z } from 'zod'
import type { ParamSchema } from '../params'
import type { MapRequest } from '../passes/shot-maps'
import type { Tile } from '../passes/tile'
import type { PictureExports } from '../picture/picture-kernel'
import type { RgbaPicture } from '../picture/rgba-picture'

/** Where effects stand in menus. */
export const EFFECT_GROUPS = [
  'Tone',
  'Colour',
  'Blur and focus',
  'Detail',
  'Light',
  'Surface',
  'Print and pen',
  'Play',
] as const
export type EffectGroup = (typeof EFFECT_GROUPS)[number]

/** Where a pixel is, and what is known of it besides its colour. One object for a whole tile: read it, keep nothing of it. */
export interface Place {
  /** Its middle, in sheet pixels. */
  x: number
  y: number
  /** Of the sheet. */
  readonly width: number
  readonly height: number
  /** Pixels of the picture per sheet pixel: how much of a pattern a pixel covers. */
  readonly scale: number
  /** So many places on each axis stand for a pixel: patterns are their mean. */
  readonly points: number
  /** What the maps that were asked for say of it, in their order. */
  readonly maps: Float64Array
  /** The same pixel of the pictures that were asked for beside this one, straight RGBA, in their order. */
  readonly beside: readonly Float64Array[]
}

/** What a fast form of a colour change may use. */
export interface FastTools {
  readonly kernel: PictureExports
  /** Numbers kept from one tile to the next. @param fill writes them. @returns their address. */
  readonly table: (name: string, length: number, fill: (numbers: Float32Array) => void) => number
  /** The pictures that were asked for, in their order; null for one that is not there. */
  readonly pictures: readonly (RgbaPicture | null)[]
  /** Address of room for an f32 a pixel. */
  readonly weights: number
}

/** A tile that a fast form of a work of pixels changes; see {@link Place}. Addresses in the kernel's memory. */
export interface PointTile {
  /** Straight blocks of f32, changed in place: display values, or OKLab. */
  readonly blocks: number
  readonly count: number
  /** Pixels to a row. */
  readonly side: number
  /** The middle of the first pixel, and from one pixel to the next, in sheet pixels. */
  readonly x: number
  readonly y: number
  readonly step: number
  /** Of the sheet. */
  readonly width: number
  readonly height: number
  /** Of the maps that were asked for: an f32 a pixel; 0 where there is nothing to make one from. */
  readonly maps: readonly number[]
  /** Of the pictures beside this one: straight blocks of f32. */
  readonly beside: readonly number[]
  /** Room for an f32 a pixel. */
  readonly weights: number
}

/** A picture about a window, and room for what is made of it. */
export interface EffectArea {
  /** What is to be made, in pixels of the view; it may go beyond the picture's border. */
  readonly window: Tile
  readonly view: { readonly width: number; readonly height: number }
  /** Pixels of the view per sheet pixel: multiplies lengths. */
  readonly scale: number
  /** How far the input goes beyond the window, on each side; the picture's border repeats. Pixels of the view. */
  readonly reach: number
  /** Address of the input: premultiplied display RGBA, 4·(width + 2·reach)·(height + 2·reach) f32 of the window. */
  readonly input: number
  /** Address of what is to be written: premultiplied display RGBA, 4·width·height f32 of the window. */
  readonly out: number
  readonly kernel: PictureExports
  /** Room in the kernel's memory, given back afterwards. @returns its address: numbers there are seen through `numbers`. */
  readonly room: (bytes: number) => number
  /** The kernel's memory as numbers. Seen anew after each `room`: memory may have grown. */
  readonly numbers: (address: number, length: number) => Float32Array
  /** A map that was asked for, as large as the input; of no numbers where there is nothing to make it from. */
  readonly map: (index: number) => Float32Array
}

/**
 * What an effect does to a picture, in one of a few forms; the evaluator brings tiles, scales, borders and workers.
 * Colours are straight display values, 0…1.
 */
export type EffectWork =
  /** Each colour channel by itself, by a curve. Curves that follow each other become one table of 65,536 steps. */
  | {
      readonly by: 'tone'
      /** @param channel 0 red, 1 green, 2 blue. */
      readonly curve: (value: number, channel: number) => number
      /** Whether channels have curves of their own. */
      readonly isEach?: boolean
    }
  /** Each colour by itself: changes `rgb` in place. */
  | {
      readonly by: 'colour'
      /** What it is told and changes: display values where left out, or OKLab. */
      readonly space?: 'oklab'
      /** Ids of pictures that it is worked out from. */
      readonly pictures?: readonly string[]
      readonly change: (rgb: Float64Array, pictures: readonly (RgbaPicture | null)[]) => void
      /** The same by the kernel, over straight blocks of f32 in place. */
      readonly fast?: (tools: FastTools, blocks: number, count: number) => void
    }
  /** Each pixel by itself, alpha with it, knowing where it is: changes straight `rgba` in place. */
  | {
      readonly by: 'point'
      /** Whether it takes long: while a hand moves something, fewer places stand for a pixel. */
      readonly isHeavy?: true
      /** What it is told and changes of its own pixel: display values where left out, or OKLab. */
      readonly space?: 'oklab'
      /** Pictures made of what the effect is given, by works one after the other, to be looked at beside it. */
      readonly beside?: readonly (readonly EffectWork[])[]
      readonly maps?: readonly MapRequest[]
      readonly change: (rgba: Float64Array, place: Place) => void
      /** The same by the kernel. */
      readonly fast?: (kernel: PictureExports, tile: PointTile) => void
    }
  /** A gaussian blur of so many sheet pixels; alpha with it, the sheet's border repeats. */
  | { readonly by: 'blur'; readonly sigmaPx: number }
  /** Each pixel from what lies about it. */
  | {
      readonly by: 'area'
      /** Whether it takes long: while a hand moves something, it is worked out from a picture of half the size. */
      readonly isHeavy?: true
      /** How far it looks, in pixels of the view. @param scale, view see {@link EffectArea}. */
      readonly reach: (scale: number, view: EffectArea['view']) => number
      readonly maps?: readonly MapRequest[]
      readonly apply: (area: EffectArea) => void
    }

/** The farthest that an effect looks as it is; beyond, it is worked out from a smaller picture. Pixels of the view. */
export const MOST_REACH = 448

/** One re-editable step. Adding one is one file with one of these and one line in the registry. */
export interface EffectKind<K extends string, P extends ParamSchema> {
  readonly kind: K
  /** Counts up when its parameters change their meaning. */
  readonly version: number
  readonly label: string
  readonly group: EffectGroup
  readonly summary: string
  readonly schema: P
  /** Parameters at which it changes nothing; left out where it always does something. */
  readonly neutral?: Partial<z.infer<P>>
  /** Makes of the parameters that the version before stored what this one stores. */
  readonly upgrade?: (old: Readonly<Record<string, unknown>>) => Record<string, unknown>
  readonly work: (params: z.infer<P>) => EffectWork
}

export const defineEffect = <K extends string, P extends ParamSchema>(
  effect: EffectKind<K, P>,
): EffectKind<K, P> => effect
