import { assertNever } from '../errors'
import { writeOpenRaster } from '../formats/openraster'
import { writePng } from '../formats/png'
import { resizePicture } from '../picture/resample'
import { fromRgba8, premultiplied, toStraight16, toStraight8 } from '../picture/rgba-picture'
import type { SheetCompositor } from './sheet-compositor'
import type { Sheet } from './sheet-schema'

/** Every way a sheet can leave as one file. */
export const SHEET_FORMATS = ['png8', 'png16', 'ora'] as const
export type SheetFormat = (typeof SHEET_FORMATS)[number]

export const sheetFormatLabels: Readonly<Record<SheetFormat, string>> = {
  png8: 'PNG, 8 bit',
  png16: 'PNG, 16 bit',
  ora: 'OpenRaster, layered',
}
export const sheetFormatExtensions: Readonly<Record<SheetFormat, string>> = {
  png8: 'png',
  png16: 'png',
  ora: 'ora',
}

/**
 * The sheet at a size, as the bytes of a file.
 * @param onProgress told the share that is done, 0…1.
 */
export function exportSheet(
  sheet: Sheet,
  compositor: SheetCompositor,
  format: SheetFormat,
  options: { width: number; height: number; transparent: boolean },
  onProgress: (share01: number) => void = () => undefined,
): Uint8Array {
  const size = { width: options.width, height: options.height }
  // Compositing is about as long as writing one picture; a layered file writes one for each layer besides.
  const pictures = format === 'ora' ? sheet.layers.length + 1 : 1
  const steps = 1 + pictures
  const merged = compositor.compose(sheet, {
    size,
    transparent: options.transparent,
    onLayer: (done, total) => onProgress(done / total / steps),
  })
  onProgress(1 / steps)
  switch (format) {
    case 'png8':
      return writePng(size.width, size.height, toStraight8(merged))
    case 'png16':
      return writePng(size.width, size.height, toStraight16(merged))
    case 'ora': {
      const merged8 = toStraight8(merged)
      const layers = sheet.layers.flatMap((layer, index) => {
        const picture = compositor.confinedPicture(sheet, index, size)
        if (!picture) return []
        onProgress((1 + index / 2) / steps)
        const { name, mode, opacity, visible } = layer
        return [{ name, mode, opacity, visible, rgba: toStraight8(premultiplied(picture)) }]
      })
      if (sheet.background && !options.transparent) {
        const ground = compositor.compose({ ...sheet, layers: [] }, { size })
        const rgba = toStraight8(ground)
        layers.unshift({ name: 'Background', mode: 'normal', opacity: 1, visible: true, rgba })
      }
      const shrink = Math.min(1, 256 / Math.max(size.width, size.height))
      const small = resizePicture(
        fromRgba8(merged8, size.width, size.height),
        Math.max(1, Math.round(size.width * shrink)),
        Math.max(1, Math.round(size.height * shrink)),
      )
      const thumbnail = { width: small.width, height: small.height, rgba: toStraight8(premultiplied(small)) }
      return writeOpenRaster(size.width, size.height, layers, merged8, thumbnail)
    }
    default:
      return assertNever(format)
  }
}
