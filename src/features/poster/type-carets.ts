import type { FrameMap } from '@/core/type/type-outlines'
import type { TypeLine } from '@/core/type/lay-type'
import type { SeenType } from '@/engine/sheet-requests'

/** Where carets stand in a block that is set, and how they move by line. Places are those of the block's frame. */

type Lines = Pick<SeenType, 'lines' | 'isDown'>
type Place = readonly [number, number]

/** The line in which the caret before a character stands; at a break, the one that the character is in. */
export function lineOf({ lines }: Pick<Lines, 'lines'>, index: number): TypeLine | null {
  for (let i = lines.length - 1; i >= 0; i--) if (index >= lines[i].start) return lines[i]
  return lines[0] ?? null
}

/** The last place of a line that is still seen on it. */
export function lineEnd(set: Pick<Lines, 'lines'>, index: number): number | null {
  const line = lineOf(set, index)
  if (!line) return null
  const next = set.lines[set.lines.indexOf(line) + 1] as TypeLine | undefined
  // A line that was broken ends before the space that the next begins after.
  return next?.start === line.end ? Math.max(line.start, line.end - 1) : line.end
}

const caretOn = (line: TypeLine, index: number): number => {
  let at = line.carets[0]?.at ?? line.from
  for (const caret of line.carets) if (caret.index <= index) at = caret.at
  return at
}

/** A caret as a line across the line it stands in: its upper and lower end. */
export function caretAt(set: Lines, index: number): readonly [Place, Place] | null {
  const line = lineOf(set, index)
  return line && acrossLine(line, caretOn(line, index), set.isDown)
}

function acrossLine(line: TypeLine, at: number, isDown: boolean): readonly [Place, Place] {
  return isDown
    ? [
        [line.across + line.ascent, at],
        [line.across - line.descent, at],
      ]
    : [
        [at, line.across - line.ascent],
        [at, line.across + line.descent],
      ]
}

/** What is chosen between two places of the text, a bar for each line: its four corners. */
export function selectionBars(set: Lines, start: number, end: number): (readonly Place[])[] {
  return set.lines.flatMap((line) => {
    const from = Math.max(start, line.start)
    const to = Math.min(end, line.end)
    if (from > to || (from === to && !(start <= line.start && end > line.end))) return []
    const [a, b] = acrossLine(line, caretOn(line, from), set.isDown)
    const [c, d] = acrossLine(line, caretOn(line, to), set.isDown)
    return [[a, c, d, b]]
  })
}

/** The place of the text nearest to a place of the sheet. */
export function nearestCaret(set: Lines, map: FrameMap, x: number, y: number): number | null {
  let best: { readonly far: number; readonly index: number } | null = null
  for (const line of set.lines)
    for (const caret of line.carets) {
      const [from, to] = acrossLine(line, caret.at, set.isDown).map(([u, v]) => map(u, v))
      const far = toSegment(x, y, from, to)
      if (best === null || far < best.far) best = { far, index: caret.index }
    }
  return best?.index ?? null
}

function toSegment(x: number, y: number, [x0, y0]: Place, [x1, y1]: Place): number {
  const [dx, dy] = [x1 - x0, y1 - y0]
  const length2 = dx * dx + dy * dy
  const t = length2 > 0 ? Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length2)) : 0
  return Math.hypot(x - x0 - t * dx, y - y0 - t * dy)
}

/** The place a line above or below that lies most nearly over it; null where there is no such line. */
export function verticalStep(set: Lines, index: number, by: 1 | -1): number | null {
  const line = lineOf(set, index)
  if (!line) return null
  const next = set.lines[set.lines.indexOf(line) + by] as TypeLine | undefined
  if (!next) return by < 0 ? line.start : line.end
  const at = caretOn(line, index)
  return next.carets.reduce((best, caret) =>
    Math.abs(caret.at - at) < Math.abs(best.at - at) ? caret : best,
  ).index
}
