import type { PassResult } from '../passes/pass-result'
import type { RgbaPicture } from '../picture/rgba-picture'

/** Where a sheet's layers find what they show. `null` means: not there (yet). */
export interface SheetResources {
  readonly pass: (passId: string) => PassResult | null
  readonly picture: (pictureId: string) => RgbaPicture | null
  /** The ID pass of a shot, that masks of parts and materials are made from. */
  readonly idPass: (shotId: string | undefined) => PassResult | null
  /** Tells what a pass or picture shows now from what it showed before: it changes whenever its pixels do. */
  readonly revision: (id: string) => string
  /** The same of a shot's ID pass. */
  readonly idRevision: (shotId: string | undefined) => string
}

/** Size of a picture to be made, in pixels. */
export interface RenderSize {
  readonly width: number
  readonly height: number
}
