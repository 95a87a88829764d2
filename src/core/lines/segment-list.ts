import { GrowingFloats, GrowingUints } from '../geometry/growing-array'
import { kindNumber, type LineKind } from './line-kinds'

/** Numbers of a segment in `places`: its two ends in the world. */
export const PLACE_NUMBERS = 6
/**
 * Numbers of a segment in `facts`: unit normal of the surface at its middle, how far the true surface may lie from the
 * flat triangles, strength, how far along the view its own triangles may stand before it.
 */
export const FACT_NUMBERS = 6
/**
 * Numbers of a segment in `ids`: nodes of its two ends, kind, part, other part (its own where there is none), smooth patch
 * of the surface (see `LineTopology`).
 */
export const ID_NUMBERS = 6

/**
 * Straight pieces of line on the geometry as they are found, before anything is known of what hides them. Ends that
 * carry the same node are the same point: along them pieces are joined.
 */
export class SegmentList {
  private readonly growingPlaces = new GrowingFloats()
  private readonly growingFacts = new GrowingFloats()
  private readonly growingIds = new GrowingUints()

  get count(): number {
    return this.growingIds.length / ID_NUMBERS
  }
  get places(): Float32Array {
    return this.growingPlaces.view()
  }
  get facts(): Float32Array {
    return this.growingFacts.view()
  }
  get ids(): Uint32Array {
    return this.growingIds.view()
  }

  /**
   * @param a, b the ends, three numbers each.
   * @param normal unit, of the surface.
   * @param lift world units by which the smooth surface may stand over its triangles here; 0 on flat ones.
   * @param reach world units towards the eye within which its own patch does not hide it: a line on a smooth form lies a
   *   little behind the facets that stand for it.
   * @param strength 0…1: how plainly the line is there; only suggestive lines fade.
   */
  add(
    kind: LineKind,
    a: ArrayLike<number>,
    b: ArrayLike<number>,
    nodeA: number,
    nodeB: number,
    part: number,
    otherPart: number,
    normal: ArrayLike<number>,
    lift = 0,
    strength = 1,
    reach = 0,
    patch = 0,
  ): void {
    this.growingPlaces.push3(a[0], a[1], a[2])
    this.growingPlaces.push3(b[0], b[1], b[2])
    this.growingFacts.push3(normal[0], normal[1], normal[2])
    this.growingFacts.push3(lift, strength, reach)
    this.growingIds.push3(nodeA, nodeB, kindNumber(kind))
    this.growingIds.push3(part, otherPart, patch)
  }

  /** The segments whose parts pass. */
  filtered(passes: (part: number, otherPart: number) => boolean): SegmentList {
    const out = new SegmentList()
    const { places, facts, ids } = this
    for (let s = 0; s < this.count; s++) {
      if (!passes(ids[ID_NUMBERS * s + 3], ids[ID_NUMBERS * s + 4])) continue
      out.growingPlaces
        .reserve(PLACE_NUMBERS)
        .set(places.subarray(PLACE_NUMBERS * s, PLACE_NUMBERS * (s + 1)), out.growingPlaces.length)
      out.growingPlaces.length += PLACE_NUMBERS
      out.growingFacts
        .reserve(FACT_NUMBERS)
        .set(facts.subarray(FACT_NUMBERS * s, FACT_NUMBERS * (s + 1)), out.growingFacts.length)
      out.growingFacts.length += FACT_NUMBERS
      out.growingIds
        .reserve(ID_NUMBERS)
        .set(ids.subarray(ID_NUMBERS * s, ID_NUMBERS * (s + 1)), out.growingIds.length)
      out.growingIds.length += ID_NUMBERS
    }
    return out
  }
}
