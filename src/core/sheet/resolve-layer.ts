import { effectKind } from '../effects/registry'
import { assertNever } from '../errors'
import { parseHex } from '../math/colour'
import { passPicture } from '../passes/pass-picture'
import { resizePicture } from '../picture/resample'
import type { RgbaPicture } from '../picture/rgba-picture'
import type { MaskKeeper } from './mask-plane'
import { maskPlane } from './mask-plane'
import { placePicture } from './pass-placement'
import type { Layer, LayerSource, Sheet } from './sheet-schema'
import type { RenderSize, SheetResources } from './sheet-resources'

function fillPicture(
  source: Extract<LayerSource, { type: 'fill' }>,
  { width, height }: RenderSize,
): RgbaPicture {
  const pixels = new Float32Array(4 * width * height)
  const from = parseHex(source.colour)
  const to = parseHex(source.to ?? source.colour)
  const angle = (source.angleDeg * Math.PI) / 180
  const dx = Math.cos(angle)
  const dy = Math.sin(angle)
  // The gradient line reaches the corners (CSS Images 3, §3.1.1), so both colours are reached exactly there.
  const lengthPx = Math.abs(width * dx) + Math.abs(height * dy)
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i += 4) {
      const along = ((x + 0.5 - width / 2) * dx + (y + 0.5 - height / 2) * dy) / lengthPx + 0.5
      for (let c = 0; c < 4; c++) pixels[i + c] = from[c] + (to[c] - from[c]) * along
    }
  }
  return { width, height, pixels }
}

function sourcePicture(
  layer: Layer,
  sheet: Sheet,
  resources: SheetResources,
  size: RenderSize,
): RgbaPicture | null {
  const { source } = layer
  switch (source.type) {
    case 'fill':
      return fillPicture(source, size)
    case 'picture': {
      const found = resources.picture(source.pictureId)
      return found ? resizePicture(found, size.width, size.height) : null
    }
    case 'pass': {
      const found = resources.pass(source.passId)
      if (!found) return null
      return placePicture(found, size, sheet.fit, (placed) =>
        passPicture(found, source.look, placed, source.byHand),
      )
    }
    default:
      return assertNever(source)
  }
}

/**
 * What a layer alone shows: its source, effects and mask, before mode and opacity.
 * @param keeper keeps masks from one call to the next, where given.
 * @returns straight-alpha display RGBA of the asked size; null where the source is missing.
 */
export function resolveLayer(
  layer: Layer,
  sheet: Sheet,
  resources: SheetResources,
  size: RenderSize,
  keeper?: MaskKeeper,
): RgbaPicture | null {
  const source = sourcePicture(layer, sheet, resources, size)
  if (!source) return null
  const changes = layer.mask !== null || layer.effects.some((e) => e.enabled)
  if (!changes) return source
  // A picture comes from a cache that others read: change a copy. Fills and passes are made for this.
  const pixels = layer.source.type === 'picture' ? new Float32Array(source.pixels) : source.pixels
  const context = { ...size, scale: size.width / sheet.width }
  for (const effect of layer.effects) {
    if (effect.enabled) effectKind(effect.kind).apply(pixels, effect.params, context)
  }
  const mask =
    layer.mask &&
    (keeper
      ? keeper.plane(layer.id, layer.mask, resources, sheet, size)
      : maskPlane(layer.mask, resources, sheet, size))
  if (mask) for (let i = 0; i < mask.length; i++) pixels[4 * i + 3] *= mask[i]
  return { ...size, pixels }
}
