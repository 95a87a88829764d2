import { OPAQUE } from '../scene/scene-geometry'
import { NOTHING, ownIndex, POINT, POINT_NUMBERS, type PointBlock } from '../trace/point-block'
import { HIT_NUMBERS } from '../trace/trace-kernel'
import { CLEARANCE, leastClearance } from './clearance'
import type { PassContext } from './pass-kind'
import { FAR } from './primary-hits'

/** Panes one looks through before the rest counts as solid. */
const MOST_PANES = 8
/** Less of a pixel than this is not followed. */
const LEAST_LEFT = 1e-4

/** Views through what lets light through. */
export interface GlassPanes {
  /** Whether any material lets light through. */
  readonly isClear: boolean
  /** Share of a view that the surface of a material keeps: its opacity, or 1 where no material is clear. */
  readonly keeps: (material: number) => number
  /**
   * Follows the views of a block on through clear surfaces: calls `each` with the kernel's secondary block, pane after
   * pane, its shares being what each surface holds of its pixel. Shares of what a view meets add up to the first point's,
   * or to less where it ends in nothing. Panes are thin: the view goes straight on.
   */
  readonly behind: (block: PointBlock, each: (block: PointBlock) => void) => void
}

/** @see GlassPanes */
export function glassPanes({ scene, kernel, seen }: PassContext): GlassPanes {
  const opacities = scene.materials.map((m) => m.opacity ?? 1)
  const keeps = (material: number) => (opacities[material] < OPAQUE ? opacities[material] : 1)
  if (!opacities.some((o) => o < OPAQUE)) return { isClear: false, keeps: () => 1, behind: () => undefined }
  const { secondary } = kernel.points
  const least = leastClearance(scene)
  /** Of each view still going: where it goes on from and its direction, what is left of it; pixel, seed and number. */
  const begins: Float32Array = new Float32Array(7 * (secondary.floats.length / POINT_NUMBERS))
  const names = new Uint32Array(3 * (secondary.floats.length / POINT_NUMBERS))

  const behind = (block: PointBlock, each: (block: PointBlock) => void) => {
    let going = 0
    /** Notes that a view goes on behind a point. */
    const goOn = ({ floats, ints }: PointBlock, i: number, left: number, order: number) => {
      if (left <= LEAST_LEFT) return
      const at = POINT_NUMBERS * i
      for (let axis = 0; axis < 3; axis++) {
        begins[7 * going + axis] = floats[at + POINT.on + axis]
        begins[7 * going + 3 + axis] = floats[at + POINT.view + axis]
      }
      begins[7 * going + 6] = left
      names[3 * going] = ints[at + POINT.pixel]
      names[3 * going + 1] = ints[at + POINT.seed]
      names[3 * going + 2] = order
      going++
    }
    for (let i = 0; i < block.count; i++) {
      const share = block.floats[POINT_NUMBERS * i + POINT.share]
      const own = keeps(scene.triangleMaterials[block.ints[POINT_NUMBERS * i + POINT.triangle]])
      if (own < 1) goOn(block, i, share * (1 - own), ownIndex(block.ints, i))
    }
    for (let pane = 0; pane < MOST_PANES && going > 0; pane++) {
      for (let k = 0; k < going; k++) {
        const at = 7 * k
        const [x, y, z] = [begins[at], begins[at + 1], begins[at + 2]]
        const near = least + CLEARANCE * Math.max(Math.abs(x), Math.abs(y), Math.abs(z))
        kernel.put(k, x, y, z, begins[at + 3], begins[at + 4], begins[at + 5], near, FAR)
      }
      kernel.traceClosest(going, seen.mask, seen.parts)
      const { hits, hitSlots } = kernel
      let met = 0
      const lefts: number[] = []
      for (let k = 0; k < going; k++) {
        const slot = hitSlots[HIT_NUMBERS * k]
        if (slot >>> 0 === NOTHING) continue
        const kept = keeps(scene.triangleMaterials[scene.tree.ids[slot]])
        const own = pane + 1 < MOST_PANES ? kept : 1
        const left = begins[7 * k + 6]
        lefts.push(left * (1 - own))
        secondary.put(
          met++,
          slot,
          hits[HIT_NUMBERS * k + 2],
          hits[HIT_NUMBERS * k + 3],
          begins[7 * k + 3],
          begins[7 * k + 4],
          begins[7 * k + 5],
          names[3 * k],
          left * own,
          names[3 * k + 1],
          names[3 * k + 2],
          0,
        )
      }
      kernel.points.load(secondary, met, least)
      if (met > 0) each(secondary)
      going = 0
      for (let i = 0; i < met; i++)
        if (lefts[i] > 0) goOn(secondary, i, lefts[i], secondary.ints[POINT_NUMBERS * i + POINT.order])
    }
  }
  return { isClear: true, keeps, behind }
}
