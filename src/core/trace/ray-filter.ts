/** What rays may meet. */
export interface RayFilter {
  /** Triangles must share a bit with it. */
  readonly mask: number
  /** One byte per scene part, 0 leaves it out; null: all are in. */
  readonly parts: Uint8Array | null
}
