import { kindNumber, type LineKind } from '../lines/line-kinds'
import type { LineDrawing } from '../lines/line-drawing'

/**
 * A drawing of given polylines, in a picture one and a half times as wide as high.
 * @param keys of the parts its lines name by number; they are called the same.
 */
export function drawingOf(
  lines: readonly {
    points: readonly (readonly [number, number])[]
    kind?: LineKind
    hidden?: number
    depth?: number
    normal?: readonly [number, number, number]
    part?: number
  }[],
  keys: readonly string[] = ['a', 'b'],
): LineDrawing {
  const starts = [0]
  for (const { points } of lines) starts.push(starts[starts.length - 1] + points.length)
  const each = <T>(pick: (line: (typeof lines)[number]) => readonly T[]) =>
    lines.flatMap((line) => line.points.flatMap(() => pick(line)))
  return {
    aspect: 1.5,
    scene: keys.map((key) => ({ key, name: key })),
    count: lines.length,
    starts: Uint32Array.from(starts),
    points: Float32Array.from(lines.flatMap((l) => l.points.flat())),
    depths: Float32Array.from(each(({ depth = 5 }) => [depth])),
    normals: Float32Array.from(each(({ normal = [0, 0, 1] }) => normal)),
    strengths: Float32Array.from(each(() => [1])),
    kinds: Uint8Array.from(lines, ({ kind = 'crease' }) => kindNumber(kind)),
    parts: Uint32Array.from(lines, ({ part = 0 }) => part),
    otherParts: Uint32Array.from(lines, ({ part = 0 }) => part),
    hidden: Uint8Array.from(lines, ({ hidden = 0 }) => hidden),
    closed: Uint8Array.from(lines, ({ points }) =>
      points[0].join() === points[points.length - 1].join() ? 1 : 0,
    ),
  }
}
