import { assertNever } from '../errors'
import type { BlendMode } from './blend-modes'
import { blendDefinitions } from './blend-modes'

/**
 * Puts one layer over a backdrop, in place. For every pixel (Compositing and Blending Level 1, section 5.1):
 * `co = αs·(1 − αb)·Cs + αs·αb·B(Cb, Cs) + (1 − αs)·αb·Cb`, `αo = αs + αb·(1 − αs)`.
 *
 * @param backdrop Float32Array, 4·n, premultiplied, in the blend space; changed.
 * @param source Float32Array, 4·n, straight alpha, in the blend space.
 * @param opacity 0…1.
 * @param confineTo Float32Array, n, an extra alpha for each pixel, or null.
 */
export function compositeLayer(
  backdrop: Float32Array,
  source: Float32Array,
  mode: BlendMode,
  opacity: number,
  confineTo: Float32Array | null,
): void {
  const end = backdrop.length
  const definition = blendDefinitions[mode]
  switch (definition.form) {
    case 'separable':
      definition.over(backdrop, source, opacity, confineTo)
      return
    case 'non-separable': {
      const { blend } = definition
      const mixed = new Float64Array(3)
      for (let i = 0, p = 0; i < end; i += 4, p++) {
        const as = source[i + 3] * opacity * (confineTo ? confineTo[p] : 1)
        if (as === 0) continue
        const ab = backdrop[i + 3]
        const alone = as * (1 - ab)
        const both = as * ab
        const keep = 1 - as
        const unmultiply = ab > 0 ? 1 / ab : 0
        blend(
          backdrop[i] * unmultiply,
          backdrop[i + 1] * unmultiply,
          backdrop[i + 2] * unmultiply,
          source[i],
          source[i + 1],
          source[i + 2],
          mixed,
        )
        for (let c = 0; c < 3; c++) {
          backdrop[i + c] = alone * source[i + c] + both * mixed[c] + keep * backdrop[i + c]
        }
        backdrop[i + 3] = as + ab * keep
      }
      return
    }
    case 'plus-lighter':
      for (let i = 0, p = 0; i < end; i += 4, p++) {
        const as = source[i + 3] * opacity * (confineTo ? confineTo[p] : 1)
        if (as === 0) continue
        for (let c = i; c < i + 3; c++) backdrop[c] = Math.min(1, backdrop[c] + source[c] * as)
        backdrop[i + 3] = Math.min(1, backdrop[i + 3] + as)
      }
      return
    default:
      assertNever(definition)
  }
}
