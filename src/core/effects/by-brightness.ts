import type { EffectWork } from './effect-kind'

type Colour3 = readonly [number, number, number]
/** Weights of red, green and blue. */
export type BrightnessWeights = Colour3

/** W3C luminosity, of display values. */
export const LUMINOSITY: BrightnessWeights = [0.3, 0.59, 0.11]

/** Entries of the list that the kernel looks colours up in. */
const ENTRIES = 4096

/**
 * A work that gives each brightness a colour, mixed with what was there.
 * @param colourAt display values for a brightness from 0 to 1.
 */
export function byBrightness(
  colourAt: (tone: number) => Colour3,
  strength: number,
  [wr, wg, wb]: BrightnessWeights = LUMINOSITY,
): EffectWork {
  return {
    by: 'colour',
    change(rgb) {
      const tone = Math.min(1, Math.max(0, wr * rgb[0] + wg * rgb[1] + wb * rgb[2]))
      const made = colourAt(tone)
      for (let c = 0; c < 3; c++) rgb[c] += strength * (made[c] - rgb[c])
    },
    fast({ kernel, table }, blocks, count) {
      const list = table('brightness', 4 * ENTRIES, (numbers) => {
        for (let i = 0; i < ENTRIES; i++) numbers.set(colourAt(i / (ENTRIES - 1)), 4 * i)
      })
      kernel.byBrightness(blocks, count, list, ENTRIES, wr, wg, wb, strength)
    },
  }
}
