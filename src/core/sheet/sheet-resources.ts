import type { PassResult } from '../passes/pass-result'
import type { PassKindName } from '../passes/registry'
import type { RgbaPicture } from '../picture/rgba-picture'
import type { FontFile } from '../type/shaper'

/** Where a sheet's layers find what they show. `null` means: not there (yet). */
export interface SheetResources {
  readonly pass: (passId: string) => PassResult | null
  readonly picture: (pictureId: string) => RgbaPicture | null
  /** The files of a font, in the order in which they are asked for a character. */
  readonly font: (fontId: string) => readonly FontFile[] | null
  /** A shot's pass of a kind: what masks and effects are made from that name none themselves. */
  readonly shotPass: (shotId: string | undefined, kind: PassKindName) => PassResult | null
  /** Numbers of a tile that was painted by hand, by its name; see core/paint/cut-paint.ts. */
  readonly paintTile: (name: string) => Uint16Array | null
  /** Tells what a pass or picture shows now from what it showed before: it changes whenever its pixels do. */
  readonly revision: (id: string) => string
  /** The same of a shot's pass of a kind. */
  readonly shotRevision: (shotId: string | undefined, kind: PassKindName) => string
}

/** Size of a picture to be made, in pixels. */
export interface RenderSize {
  readonly width: number
  readonly height: number
}
