import type { PassResult } from '../passes/pass-result'
import type { RgbaPicture } from '../picture/rgba-picture'
import type { Sheet } from './sheet-schema'

/** Where a sheet's layers find what they show. `null` means: not there (yet). */
export interface SheetResources {
  readonly pass: (passId: string) => PassResult | null
  readonly picture: (pictureId: string) => RgbaPicture | null
  /** The ID pass that a sheet's masks of parts and materials are made from. */
  readonly idPass: (sheet: Sheet) => PassResult | null
}

/** Size of a picture to be made, in pixels. */
export interface RenderSize {
  readonly width: number
  readonly height: number
}
