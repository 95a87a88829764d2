/** A box along the axes, world units. */
export interface Bounds {
  readonly min: readonly [number, number, number]
  readonly max: readonly [number, number, number]
}
