import { findEffect } from '../effects/registry'
import { paramControls } from '../params'
import type { Mask, Sheet } from './sheet-schema'

interface Size {
  readonly width: number
  readonly height: number
}

const MOST_FEATHER_PX = 500

/** Whether a sheet is of a size, to the pixel. */
export const hasSize = (sheet: Size, { width, height }: Size): boolean =>
  sheet.width === width && sheet.height === height

/** Whether two sizes are of one shape, as far as whole pixels can be. */
export const isSameShape = (a: Size, b: Size): boolean =>
  Math.abs(a.width * b.height - a.height * b.width) < Math.max(a.width, a.height, b.width, b.height)

/**
 * Gives a sheet another size, in place. Lengths on it follow its height, as what a lens sees and the weight of lines do, so
 * that the picture looks as it did.
 */
export function resizeSheet(
  sheet: { -readonly [K in keyof Sheet]: Sheet[K] },
  { width, height }: Size,
): void {
  const by = height / sheet.height
  sheet.width = width
  sheet.height = height
  const resize = (mask: Mask | null): void => {
    if (!mask) return
    mask.featherPx = Math.min(MOST_FEATHER_PX, mask.featherPx * by)
    for (const term of mask.terms)
      if (term.kind !== 'unreadable') term.featherPx = Math.min(MOST_FEATHER_PX, term.featherPx * by)
  }
  for (const node of Object.values(sheet.nodes)) {
    resize(node.mask)
    for (const effect of node.effects) {
      resize(effect.mask)
      resizeLengths(effect, by)
    }
  }
}

/** Parameters that are lengths in sheet pixels follow, within what they may be. */
function resizeLengths(
  effect: { kind: string; params: Sheet['nodes'][string]['effects'][number]['params'] },
  by: number,
): void {
  const kind = findEffect(effect.kind)
  if (!kind) return
  const params = { ...effect.params }
  for (const control of paramControls(kind.schema)) {
    const value = params[control.name]
    if (control.control !== 'number' || control.unit !== 'px' || typeof value !== 'number') continue
    params[control.name] = Math.min(control.max, Math.max(control.min, value * by))
  }
  effect.params = params
}
