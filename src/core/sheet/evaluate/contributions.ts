import { inBlocks, TILE } from '../../picture/tile-form'
import type { SheetPlan } from './sheet-plan'
import type { SheetEvaluator } from './sheet-evaluator'

/** A straight display colour with its alpha, 0…1. */
export type Shade = readonly [number, number, number, number]

/** What the layers made of one pixel, from the back to the front. */
export interface Contributions {
  /** What is seen. */
  readonly colour: Shade
  /** Each layer that was put over it: what was there before, and after. */
  readonly layers: readonly { readonly nodeId: string; readonly before: Shade; readonly after: Shade }[]
}

/**
 * What each layer brings to a pixel, in its place in the stack. Layers of a group that is composed alone count as the group.
 * @param evaluator of which the plan was begun. @param x, y a pixel of the planned picture.
 */
export function contributionsAt(
  evaluator: SheetEvaluator,
  { root }: Pick<SheetPlan, 'root'>,
  x: number,
  y: number,
): Contributions {
  const [tx, ty] = [Math.floor(x / TILE), Math.floor(y / TILE)]
  const pixel = (y % TILE) * TILE + (x % TILE)
  const after = (count: number): Shade =>
    evaluator.beneathTile(root, count, tx, ty, (address) => {
      const blocks = evaluator.tiles.floats(address, 4 * TILE * TILE)
      const at = (c: number) => blocks[inBlocks(pixel, c)]
      const alpha = at(3)
      return alpha > 0 ? [at(0) / alpha, at(1) / alpha, at(2) / alpha, alpha] : [0, 0, 0, 0]
    })
  let before = after(0)
  const layers = root.steps.flatMap((step, i) => {
    if (step.kind === 'begin') return []
    const own = { nodeId: step.nodeId, before, after: after(i + 1) }
    before = own.after
    return [own]
  })
  return { colour: before, layers }
}
