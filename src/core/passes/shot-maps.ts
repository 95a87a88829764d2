import type { PartRole } from '../scene/part-role'
import type { PassKindName } from './registry'

/**
 * Numbers that the shot has for a pixel, for effects and mask terms that ask for them: how far away, which way it faces, how
 * much light gets there. Of a pixel that is partly covered they are those of what covers it.
 */
export interface ShotMap {
  readonly pass: PassKindName
  readonly channel: string
  /** Where nothing is. */
  readonly beyond: number
  /** Fitted to the subject: 0 is its nearest, 1 its farthest point. */
  readonly isFitted?: boolean
  /** How high it lies: worked out from its depth. */
  readonly isHeight?: boolean
}

export const SHOT_MAPS = {
  /** 0 at the subject's nearest point, 1 at its farthest; less before it, more behind it. */
  depth: { pass: 'depth', channel: 'Z', beyond: 2, isFitted: true },
  /** 0 at the subject's foot, 1 at its top; where nothing is, above it. */
  height: { pass: 'depth', channel: 'Z', beyond: 2, isHeight: true },
  /** Directions in camera space: right, up, towards the viewer. */
  normalX: { pass: 'normal', channel: 'X', beyond: 0 },
  normalY: { pass: 'normal', channel: 'Y', beyond: 0 },
  normalZ: { pass: 'normal', channel: 'Z', beyond: 0 },
  /** 1 head on, 0 at the rim. */
  facing: { pass: 'facing', channel: 'F', beyond: 1 },
  /** 1 in the open, 0 where no light gets. */
  occlusion: { pass: 'occlusion', channel: 'V', beyond: 1 },
  /** Negative on ridges, positive in valleys; ±0.25 on a right-angled edge. */
  cavity: { pass: 'cavity', channel: 'H', beyond: 0 },
} as const satisfies Readonly<Record<string, ShotMap>>
export type ShotMapName = keyof typeof SHOT_MAPS

/** What is asked for, a number a pixel. */
export type MapRequest =
  | {
      readonly from: 'shot'
      readonly map: ShotMapName
      /** A pass, or a picture whose brightness is taken; empty: the shot's own pass of that kind. */
      readonly id: string
    }
  | {
      readonly from: 'layer'
      /** What it shows alone, through its mask. */
      readonly id: string
      readonly measure: MapMeasure
    }
  /** What lies beneath the layer that asks. */
  | { readonly from: 'beneath'; readonly measure: MapMeasure }
  /** What a layer's mask shows. */
  | { readonly from: 'mask'; readonly id: string }
  /** Which part of a pixel parts of these roles cover. */
  | { readonly from: 'roles'; readonly roles: readonly PartRole[] }
  /** Which part of a pixel parts cover that are nearer than a depth: see part-depths.ts. */
  | { readonly from: 'nearer'; readonly depth: number }
  /** One channel of the colours that parts, or materials, have in a palette, as far as they cover a pixel; 3: how far that is. */
  | {
      readonly from: 'palette'
      readonly by: 'part' | 'material'
      readonly colours: readonly string[]
      readonly channel: 0 | 1 | 2 | 3
    }
  | NoiseRequest
/** Seeded noise over the sheet, 0…1, its mean over each pixel. */
export interface NoiseRequest {
  readonly from: 'noise'
  readonly seed: number
  /** Each half as large and half as strong as the one before. */
  readonly octaves: number
  /** The noise's own places, of sheet pixels: (across · (x, y), down · (x, y)). */
  readonly across: readonly [number, number]
  readonly down: readonly [number, number]
}
/** Noise of grains of one size. Sheet pixels. */
export const evenNoise = (size: number, seed: number, octaves = 1): NoiseRequest => ({
  from: 'noise',
  seed: Math.round(seed),
  octaves,
  across: [1 / size, 0],
  down: [0, 1 / size],
})

export type ShotMapRequest = Extract<MapRequest, { from: 'shot' }>

/** W3C luminosity and alpha, 0…1; chroma of OKLCh; its hue in degrees, 0…360; the three axes of OKLab. */
export type MapMeasure =
  'brightness' | 'alpha' | 'chroma' | 'hue' | 'lightness' | 'green to red' | 'blue to yellow'
