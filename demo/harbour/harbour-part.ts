import type { Shape } from '../modelling-kit'
import { join, turn } from '../modelling-kit'

export interface HarbourPart {
  readonly name: string
  readonly material: string
  readonly shape: Shape
}

/** A copy for each of the eight sides. */
export const aroundEight = (shape: Shape, which: readonly number[] = [0, 1, 2, 3, 4, 5, 6, 7]): Shape =>
  join(...which.map((k) => turn(shape, 'y', 45 * k)))

/** Apothem of the kiosk's wall, metres. */
export const WALL = 1.0
/** Height of its eaves. */
export const EAVES = 2.62
/** Roof outline: apothem and height, bell-cast. */
export const ROOF: [number, number][] = [
  [1.38, 2.66],
  [1.3, 2.715],
  [1.16, 2.83],
  [1.0, 2.99],
  [0.84, 3.18],
  [0.69, 3.39],
  [0.56, 3.58],
  [0.47, 3.72],
]
