import type { BrushParams } from '../brush'

/** What of a tip touches, worked out from where it is looked at. */
export interface TipKind {
  readonly kind: string
  readonly label: string
  readonly summary: string
  /** How a brush of this tip begins, where it is not as brushes are. */
  readonly brush: Partial<BrushParams>
  /**
   * How much of the tip touches at a place, 0…1.
   * @param x, y from its middle, −1…1 each. @param seed another tip of the kind. @param fine half the width of what is asked about:
   * edges are as soft.
   */
  readonly touches: (x: number, y: number, seed: number, fine: number) => number
}

/** 1 inside a circle, 0 outside, its edge as soft as a place is wide. */
export const disc = (x: number, y: number, radius: number, fine: number): number =>
  Math.min(1, Math.max(0, 0.5 + (radius - Math.hypot(x, y)) / Math.max(1e-6, 2 * fine)))
