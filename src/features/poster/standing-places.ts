import type { PartDepth } from '@/core/passes/part-depths'

/** Where a layer can stand among the parts of a shot: gap 0 is behind them all, the last before them all. */

/** Parts that cover less of the picture are not shown; nor more than so many. */
const [LEAST_COVERED, MOST_SHOWN] = [0.0008, 28]

/** The parts that the rail shows, from the farthest to the nearest. */
export function shownParts<P extends PartDepth>(parts: readonly P[]): P[] {
  const large = new Set(
    [...parts]
      .filter(({ covers }) => covers >= LEAST_COVERED)
      .sort((a, b) => b.covers - a.covers)
      .slice(0, MOST_SHOWN),
  )
  return parts.filter((part) => large.has(part))
}

/** In which gap something of a depth stands. @param depth null: before everything. */
export const gapOf = (parts: readonly PartDepth[], depth: number | null): number =>
  depth === null ? parts.length : parts.filter((part) => part.depth >= depth).length

/** A depth in the middle of a gap; null before everything. */
export function depthAtGap(parts: readonly PartDepth[], gap: number): number | null {
  if (gap >= parts.length) return null
  if (gap <= 0) return (parts[0]?.depth ?? 1) + 0.5
  return betweenParts(parts[gap - 1], parts[gap])
}

export const betweenParts = (far: PartDepth, near: PartDepth): number => (far.depth + near.depth) / 2

/** Where it stands, in words: "behind Kiosk wall, before Headland". */
export function standsInWords(parts: readonly PartDepth[], gap: number): string {
  const [far, near] = [parts[gap - 1] as PartDepth | undefined, parts[gap] as PartDepth | undefined]
  if (!near) return 'before everything'
  return far ? `behind ${near.name}, before ${far.name}` : `behind everything`
}
