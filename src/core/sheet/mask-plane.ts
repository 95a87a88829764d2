import type { Surface } from '../passes/pass-kind'
import { surfaceCoverage } from '../passes/pass-result'
import { gaussianBlur } from '../picture/gaussian-blur'
import { resizePicture } from '../picture/resample'
import { placePlane } from './pass-placement'
import type { RenderSize, SheetResources } from './sheet-resources'
import type { Mask, MaskTerm, Sheet } from './sheet-schema'

/** What the terms of a mask choose together: surfaces by number, and whether the empty background belongs to it. */
export interface ChosenSurfaces {
  /** Uint8Array, one per surface: 1 is chosen. */
  readonly surfaces: Uint8Array
  readonly background: boolean
}

/**
 * Works terms out on the surfaces themselves (pairs of part and material), from the first to the last, so that an edge
 * shared by two terms stays exact: within a pixel it is known which surface belongs to which term.
 * A list that begins by taking away, or by intersecting, begins with everything.
 */
export function chooseSurfaces(terms: readonly MaskTerm[], surfaces: readonly Surface[]): ChosenSurfaces {
  const everything = terms.length > 0 && terms[0].join !== 'add'
  const chosen = new Uint8Array(surfaces.length).fill(everything ? 1 : 0)
  let background = everything
  for (const term of terms) {
    const keys = new Set(term.keys)
    if (term.join === 'intersect') background = false
    surfaces.forEach((surface, i) => {
      const named = keys.has(term.by === 'part' ? surface.part : surface.material)
      if (named && term.join === 'add') chosen[i] = 1
      if (named && term.join === 'subtract') chosen[i] = 0
      if (!named && term.join === 'intersect') chosen[i] = 0
    })
  }
  return { surfaces: chosen, background }
}

/** The terms' exact coverage at the size asked for; null without terms or without an ID pass to take them from. */
function termsPlane(
  mask: Mask,
  resources: SheetResources,
  sheet: Sheet,
  size: RenderSize,
): Float32Array | null {
  const idPass = mask.terms.length > 0 ? resources.idPass(sheet) : null
  if (!idPass) return null
  const { surfaces, background } = chooseSurfaces(mask.terms, idPass.surfaces)
  const wanted = background ? surfaces.map((chosen) => 1 - chosen) : surfaces
  // Beside the picture there is nothing but background.
  const plane = placePlane(surfaceCoverage(idPass, wanted), idPass, size, sheet.fit)
  if (background) for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i]
  return plane
}

/** The brightness of a mask picture, times its alpha. */
function picturePlane(mask: Mask, resources: SheetResources, size: RenderSize): Float32Array | null {
  const found = mask.picture ? resources.picture(mask.picture) : null
  if (!found) return null
  const { pixels } = resizePicture(found, size.width, size.height)
  const plane = new Float32Array(size.width * size.height)
  for (let i = 0, at = 0; i < plane.length; i++, at += 4)
    plane[i] = (0.2126 * pixels[at] + 0.7152 * pixels[at + 1] + 0.0722 * pixels[at + 2]) * pixels[at + 3]
  return plane
}

/**
 * A mask's value for each pixel.
 * @returns Float32Array, width·height, 0…1; null where the mask has nothing to say.
 */
export function maskPlane(
  mask: Mask,
  resources: SheetResources,
  sheet: Sheet,
  size: RenderSize,
): Float32Array | null {
  const chosen = termsPlane(mask, resources, sheet, size)
  const painted = picturePlane(mask, resources, size)
  const plane = chosen ?? painted
  if (!plane) return null
  if (chosen && painted) for (let i = 0; i < plane.length; i++) plane[i] *= painted[i]
  gaussianBlur(plane, size.width, size.height, (mask.featherPx * size.width) / sheet.width)
  if (mask.invert) for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i]
  return plane
}

/** Keeps the planes of masks: what a layer shows changes more often than where. */
export class MaskKeeper {
  private readonly kept = new Map<
    string,
    { readonly key: string; readonly from: readonly unknown[]; readonly plane: Float32Array | null }
  >()

  /** {@link maskPlane} of a layer's mask, made anew only when it, what it is made from or the size changed. */
  plane(
    layerId: string,
    mask: Mask,
    resources: SheetResources,
    sheet: Sheet,
    size: RenderSize,
  ): Float32Array | null {
    const idPass = resources.idPass(sheet)
    const from = [idPass?.channels, idPass?.surfaces, mask.picture && resources.picture(mask.picture)]
    const key = JSON.stringify([mask, size.width, size.height, sheet.width, sheet.fit])
    const known = this.kept.get(layerId)
    if (known?.key === key && known.from.every((part, i) => part === from[i])) return known.plane
    const plane = maskPlane(mask, resources, sheet, size)
    this.kept.set(layerId, { key, from, plane })
    return plane
  }

  /** Forgets layers that are not in the sheet any more. */
  keepOnly(sheet: Sheet): void {
    const ids = new Set(sheet.layers.map((l) => l.id))
    for (const id of this.kept.keys()) if (!ids.has(id)) this.kept.delete(id)
  }
}
