import { assertNever } from '../errors'
import { writeOpenRaster } from '../formats/openraster'
import { writePng } from '../formats/png'
import { resizePicture } from '../picture/resample'
import { fromRgba8, premultiplied, toStraight16, toStraight8 } from '../picture/rgba-picture'
import type { SheetCompositor } from './sheet-compositor'
import type { Layer, Sheet } from './sheet-schema'

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

/** The sheet at a size, as the bytes of a file. */
export function exportSheet(
  sheet: Sheet,
  compositor: SheetCompositor,
  format: SheetFormat,
  options: { width: number; height: number; transparent: boolean },
): Uint8Array {
  const size = { width: options.width, height: options.height }
  const merged = compositor.compose(sheet, { size, transparent: options.transparent })
  switch (format) {
    case 'png8':
      return writePng(size.width, size.height, toStraight8(merged))
    case 'png16':
      return writePng(size.width, size.height, toStraight16(merged))
    case 'ora': {
      const merged8 = toStraight8(merged)
      const background: Layer[] =
        sheet.background && !options.transparent
          ? [
              {
                id: 'background',
                name: 'Background',
                visible: true,
                mode: 'normal',
                opacity: 1,
                confine: false,
                mask: null,
                effects: [],
                source: { type: 'fill', colour: sheet.background, to: null, angleDeg: 0 },
              },
            ]
          : []
      const layers = [...background, ...sheet.layers].flatMap((layer) => {
        const picture = compositor.layerPicture(layer, sheet, size)
        if (!picture) return []
        const { name, mode, opacity, visible } = layer
        return [{ name, mode, opacity, visible, rgba: toStraight8(premultiplied(picture)) }]
      })
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
