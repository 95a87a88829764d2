import { gridNoise } from '../math/noise'
import type { EffectArea, EffectWork } from './effect-kind'

/** How a plate that was not laid on its marks lies: sheet pixels, and radians about the middle of the picture. */
export interface PlateSlip {
  readonly dx: number
  readonly dy: number
  readonly turn: number
}

/**
 * How each of some plates slipped: each another way.
 * @param amount at most, sheet pixels. @param turnDeg at most.
 */
export function plateSlips(count: number, amount: number, turnDeg: number, seed: number): PlateSlip[] {
  return Array.from({ length: count }, (_, c) => {
    const angle = 2 * Math.PI * (gridNoise(c, 0, seed) + c / count)
    const far = amount * (0.6 + 0.4 * gridNoise(c, 1, seed))
    const turn = ((turnDeg * Math.PI) / 180) * (2 * gridNoise(c, 2, seed) - 1)
    return { dx: far * Math.cos(angle), dy: far * Math.sin(angle), turn }
  })
}

/** How far plates slip at most. Pixels of the view. */
export const slipReach = (
  amount: number,
  turnDeg: number,
  scale: number,
  { width, height }: EffectArea['view'],
): number => Math.ceil(amount * scale + ((turnDeg * Math.PI) / 180) * 0.5 * Math.hypot(width, height)) + 2

/** Writes the picture where a plate lies. @param places room for 8 bytes a pixel; @param to for 16. */
export function laySlipped(area: EffectArea, { dx, dy, turn }: PlateSlip, places: number, to: number): void {
  const { window, view, scale, reach, numbers } = area
  const list = numbers(places, 2 * window.width * window.height)
  for (let y = 0, i = 0; y < window.height; y++)
    for (let x = 0; x < window.width; x++, i += 2) {
      list[i] = dx * scale - turn * (window.y + y - view.height / 2)
      list[i + 1] = dy * scale + turn * (window.x + x - view.width / 2)
    }
  area.kernel.gatherOffset(area.input, to, window.width, window.height, reach, places, 1, 0)
}

/** The whole picture where one plate lies. */
export const slipped = (slip: PlateSlip, amount: number, turnDeg: number): EffectWork => ({
  by: 'area',
  reach: (scale, view) => slipReach(amount, turnDeg, scale, view),
  apply(area) {
    const { width, height } = area.window
    laySlipped(area, slip, area.room(8 * width * height), area.out)
  },
})
