import { hasContent, type Sheet, type SheetEffect, type SheetNode } from '../sheet/sheet-schema'

/** Effects whose pattern is of the film that it is seen on, not of what is seen. */
const OF_FILM: readonly string[] = ['grain', 'dust']
/** Seeds lie below this; from one to the next pattern they take such steps, so that none shows twice before long. */
const SEEDS = 10_000
const STEP = 1237

/** Which pattern a frame has. @param every so many frames it changes; 0: never. */
export const patternOf = (frame: number, every: number): number =>
  every <= 0 ? 0 : Math.floor(frame / every)

/**
 * A sheet whose grain and dust are those of a frame: they change every few frames, as on film, instead of standing before what moves.
 * Layers without any are the same objects.
 */
export function withMovingGrain(sheet: Sheet, frame: number, every: number): Sheet {
  const by = (patternOf(frame, every) * STEP) % SEEDS
  if (by === 0) return sheet
  const moved = (effect: SheetEffect): SheetEffect => {
    const { seed } = effect.params
    if (!OF_FILM.includes(effect.kind) || typeof seed !== 'number') return effect
    return { ...effect, params: { ...effect.params, seed: (seed + by) % SEEDS } }
  }
  const changed = Object.values(sheet.nodes).flatMap((node): [string, SheetNode][] =>
    node.effects.some(({ kind }) => OF_FILM.includes(kind))
      ? [[node.id, { ...node, effects: node.effects.map(moved) }]]
      : [],
  )
  return changed.length === 0
    ? sheet
    : { ...sheet, nodes: { ...sheet.nodes, ...Object.fromEntries(changed) } }
}

/** Styles of lines that a hand leaves its trace in; so many hands there are. */
const HANDS = 1000

/**
 * A sheet whose lines are drawn anew every few frames, as by hand: where they wobble, or the brush runs dry, it does otherwise.
 * Layers without any are the same objects.
 * @param every so many frames; 0: one drawing for all.
 */
export function withBoilingLines(sheet: Sheet, frame: number, every: number): Sheet {
  const by = (patternOf(frame, every) * STEP) % HANDS
  if (by === 0) return sheet
  const changed = Object.values(sheet.nodes).flatMap((node): [string, SheetNode][] => {
    if (!hasContent(node, 'pass')) return []
    const { look } = node.content
    if (!(Number(look.wobble) > 0 || Number(look.dry) > 0)) return []
    const variation = (Number(look.variation ?? 0) + by) % HANDS
    return [[node.id, { ...node, content: { ...node.content, look: { ...look, variation } } }]]
  })
  return changed.length === 0
    ? sheet
    : { ...sheet, nodes: { ...sheet.nodes, ...Object.fromEntries(changed) } }
}
