/**
 * Breaks a paragraph into lines as a whole: the breaks are those of which the sum of demerits over all lines is least (Knuth and
 * Plass 1981, "Breaking Paragraphs into Lines"). A line is the better the less its spaces are stretched or shrunk.
 */

/** What a paragraph is made of, in order: the paper's boxes, glue and penalties. Any unit of length. */
export type ParagraphItem =
  | { readonly kind: 'box'; readonly width: number }
  /** A space: it may grow by so much, and shrink by so much, at a ratio of 1. It vanishes at a break. */
  | { readonly kind: 'glue'; readonly width: number; readonly stretch: number; readonly shrink: number }
  /** A place to break: at the cost of a penalty, and with something put there (a hyphen). −∞ must be broken at. */
  | {
      readonly kind: 'penalty'
      readonly width: number
      readonly penalty: number
      readonly isFlagged: boolean
    }

export interface BrokenLine {
  /** Items from … to before …: without the space it was broken at. */
  readonly from: number
  readonly to: number
  /** By which part of their stretch (above zero) or shrink (below) its spaces change. */
  readonly ratio: number
}

export interface BreakOptions {
  /** Of a line by its number. */
  readonly widthOf: (line: number) => number
  /** Whether the last line is filled up with space rather than set at full measure. */
  readonly isLastLoose: boolean
}

/** Demerits of two lines in a row that end with a hyphen, and of lines beside each other that are much looser or tighter. */
const [HYPHENS_IN_A_ROW, UNEVEN] = [3000, 3000]
/** A line that cannot be shrunk into its measure is broken all the same when nothing else is left. */
const OVERFULL = 1e14

interface Node {
  readonly at: number
  readonly line: number
  readonly fitness: number
  readonly isFlagged: boolean
  readonly demerits: number
  readonly ratio: number
  readonly before: Node | null
}

/** How loose a line is: 0 tight, 1 decent, 2 loose, 3 very loose. */
const fitnessOf = (ratio: number): number => (ratio < -0.5 ? 0 : ratio <= 0.5 ? 1 : ratio <= 1 ? 2 : 3)

/**
 * @returns the lines, at least one. Where no set of breaks fits, lines stick out rather than being lost.
 */
export function breakLines(
  items: readonly ParagraphItem[],
  { widthOf, isLastLoose }: BreakOptions,
): BrokenLine[] {
  // 1. Sums of what stands before each item.
  const count = items.length
  const [widths, stretches, shrinks] = [0, 1, 2].map(() => new Float64Array(count + 1))
  items.forEach((item, i) => {
    widths[i + 1] = widths[i] + (item.kind === 'penalty' ? 0 : item.width)
    stretches[i + 1] = stretches[i] + (item.kind === 'glue' ? item.stretch : 0)
    shrinks[i + 1] = shrinks[i] + (item.kind === 'glue' ? item.shrink : 0)
  })
  /** The first item of a line that was broken at one: spaces there vanish. */
  const startAfter = (at: number): number => {
    let i = at
    while (i < count && (items[i].kind === 'glue' || (items[i].kind === 'penalty' && !isForced(items[i]))))
      i++
    return i < count && isForced(items[i]) && i === at ? i + 1 : i
  }
  const starts = new Map<number, number>()
  const startOf = (node: Node): number => {
    if (node.before === null) return 0
    let start = starts.get(node.at)
    if (start === undefined) starts.set(node.at, (start = startAfter(node.at)))
    return start
  }

  // 2. Every way to end a line at each place where it may end, from the best ways to begin it.
  let active: Node[] = [{ at: 0, line: 0, fitness: 1, isFlagged: false, demerits: 0, ratio: 0, before: null }]
  for (let at = 0; at <= count; at++) {
    const item = items[at] as ParagraphItem | undefined
    const isEnd = at === count
    const mayBreak =
      isEnd ||
      (item?.kind === 'glue' && at > 0 && items[at - 1].kind === 'box') ||
      (item?.kind === 'penalty' && item.penalty < Infinity)
    if (!mayBreak) continue
    const penalty = item?.kind === 'penalty' ? item.penalty : 0
    const isFlagged = item?.kind === 'penalty' && item.isFlagged
    const isMust = isEnd || penalty === -Infinity
    const found = new Map<string, Node>()
    const kept: Node[] = []
    let leastBad: Node | null = null
    for (const node of active) {
      const from = startOf(node)
      const width = widths[at] - widths[from] + (item?.kind === 'penalty' ? item.width : 0)
      const room = widthOf(node.line) - width
      const stretch = stretches[at] - stretches[from]
      const shrink = shrinks[at] - shrinks[from]
      const isLoose = isMust && isLastLoose && room >= 0
      const ratio = isLoose
        ? 0
        : room === 0
          ? 0
          : room > 0
            ? stretch > 0
              ? room / stretch
              : Infinity
            : shrink > 0
              ? room / shrink
              : -Infinity
      const isTooFull = ratio < -1 - 1e-9
      if (!isTooFull && !isMust) kept.push(node)
      const bad = isTooFull ? OVERFULL : 100 * Math.min(1e3, Math.abs(ratio)) ** 3
      const fitness = fitnessOf(ratio)
      const cost = penalty >= 0 ? (1 + bad + penalty) ** 2 : (1 + bad) ** 2 - (isMust ? 0 : penalty ** 2)
      const demerits =
        node.demerits +
        cost +
        (isFlagged && node.isFlagged ? HYPHENS_IN_A_ROW : 0) +
        (Math.abs(fitness - node.fitness) > 1 ? UNEVEN : 0)
      const held = isTooFull || ratio === Infinity ? Math.max(-1, Math.min(0, ratio)) : ratio
      const next: Node = { at, line: node.line + 1, fitness, isFlagged, demerits, ratio: held, before: node }
      if (isTooFull && !isMust) {
        if (!leastBad || demerits < leastBad.demerits) leastBad = next
        continue
      }
      const key = `${next.line} ${fitness}`
      const best = found.get(key)
      if (!best || demerits < best.demerits) found.set(key, next)
    }
    active = [...kept, ...found.values()]
    // Nothing else is left: a line sticks out.
    if (active.length === 0 && leastBad) active = [leastBad]
  }

  // 3. Back from the best end.
  const best = active.reduce<Node | null>(
    (least, node) => (node.at === count && (!least || node.demerits < least.demerits) ? node : least),
    null,
  )
  const lines: BrokenLine[] = []
  for (let node = best; node?.before; node = node.before)
    lines.unshift({ from: startOf(node.before), to: node.at, ratio: node.ratio })
  return lines.length > 0 ? lines : [{ from: 0, to: count, ratio: 0 }]
}

const isForced = (item: ParagraphItem): boolean => item.kind === 'penalty' && item.penalty === -Infinity

/** Lines filled one after the other, each as full as it gets: for text that is not justified. */
export function fillLines(items: readonly ParagraphItem[], widthOf: (line: number) => number): BrokenLine[] {
  const lines: BrokenLine[] = []
  let from = 0
  let width = 0
  /** Where the line may end at the latest, so far. */
  let mayEnd = -1
  const end = (to: number): void => {
    lines.push({ from, to, ratio: 0 })
    from = to
    while (from < items.length && items[from].kind !== 'box') from++
    width = 0
    mayEnd = -1
  }
  for (let i = 0; i < items.length; i++) {
    const item = items[i]
    if (item.kind === 'box') {
      if (mayEnd > from && width + item.width > widthOf(lines.length) + 1e-9) {
        end(mayEnd)
        i = from - 1
        continue
      }
      width += item.width
    } else if (item.kind === 'glue') {
      mayEnd = i
      width += item.width
    } else if (isForced(item)) {
      end(i)
      i = from - 1
    } else if (item.penalty < Infinity && width + item.width <= widthOf(lines.length) + 1e-9) mayEnd = i
  }
  lines.push({ from, to: items.length, ratio: 0 })
  return lines
}
