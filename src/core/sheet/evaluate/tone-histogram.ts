import { TILE } from '../../picture/tile-form'
import type { Composition, SheetPlan, Source } from './sheet-plan'
import type { SheetEvaluator } from './sheet-evaluator'

/** Tones that are told apart. */
export const TONES = 64

export interface FoundStep {
  readonly composition: Composition
  /** The first of the steps that a layer brings. */
  readonly index: number
}

/** Where in a plan a layer's step stands; null for one that brings none. */
export function findStep({ root }: Pick<SheetPlan, 'root'>, nodeId: string): FoundStep | null {
  const index = root.steps.findIndex((step) => step.nodeId === nodeId)
  if (index >= 0) return { composition: root, index }
  for (const step of root.steps) {
    const inner = 'source' in step ? groupOf(step.source) : null
    const found = inner && findStep({ root: inner }, nodeId)
    if (found) return found
  }
  return null
}

/** The composition a source is made from, through its effects. */
function groupOf(source: Source): Composition | null {
  if (source.kind === 'effect') return groupOf(source.input)
  return source.kind === 'group' ? source.composition : null
}

/**
 * How much there is of each tone in what a layer shows, or in what lies beneath it: what a tone gate is set by.
 * @param evaluator of which the plan was begun.
 * @returns TONES sums of alpha, from black to white; null for a layer that is not shown.
 */
export function toneHistogram(
  evaluator: SheetEvaluator,
  plan: SheetPlan,
  nodeId: string,
  side: 'own' | 'beneath',
): number[] | null {
  const found = findStep(plan, nodeId)
  if (!found) return null
  const { composition, index } = found
  const step = composition.steps[index]
  const tones = new Array<number>(TONES).fill(0)
  const { across, down } = evaluator.grid
  for (let ty = 0; ty < down; ty++)
    for (let tx = 0; tx < across; tx++) {
      const { width, height } = evaluator.sizeOf(tx, ty)
      const count = (address: number) =>
        addTones(evaluator.tiles.floats(address, 4 * TILE * TILE), width, height, tones)
      if (side === 'own' && 'source' in step) evaluator.layerTile(step.source, null, tx, ty, count)
      else evaluator.beneathTile(composition, side === 'own' ? index + 1 : index, tx, ty, count)
    }
  return tones
}

/** Adds what a tile has of each tone: premultiplied display values, blocks of f32. */
function addTones(blocks: Float32Array, width: number, height: number, tones: number[]): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = 4 * (y * TILE + (x & ~3)) + (x & 3)
      const alpha = blocks[at + 12]
      if (alpha <= 0) continue
      const tone = (0.3 * blocks[at] + 0.59 * blocks[at + 4] + 0.11 * blocks[at + 8]) / alpha
      tones[Math.min(TONES - 1, Math.max(0, Math.floor(tone * TONES)))] += alpha
    }
}
