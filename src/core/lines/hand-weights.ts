import { z } from 'zod'
import type { LineDrawing } from './line-drawing'

const place = z.number().min(-4).max(8)

/**
 * What an artist did to lines by hand. Places are shares of the picture's height, so they fit every size; a brushed
 * weight keeps to the parts it was brushed on, so that it is still there, and only there, when the lines are found anew.
 */
export const handEditSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('weight'),
    /** Where the brush went: x, y, x, y … */
    path: z.array(place).min(2),
    /** How far it reaches. */
    radius: z.number().positive().max(1),
    /** −1 takes lines away, 0 leaves them, 1 doubles them, with a soft border. */
    amount: z.number().min(-1).max(4),
    /** Keys of the parts whose lines it changes; null: all. */
    parts: z.array(z.string()).nullable(),
  }),
  z.object({
    kind: z.literal('line'),
    path: z.array(place).min(4),
    /** In thousandths of the picture's height. */
    weight: z.number().positive().max(40),
  }),
])
export type HandEdit = z.infer<typeof handEditSchema>
export type WeightEdit = Extract<HandEdit, { kind: 'weight' }>

/** Share of a brush's radius within which it works in full. */
const CORE = 0.4

interface Brush extends WeightEdit {
  readonly box: ReturnType<typeof boxOf>
}
const brushesOf = (edits: readonly HandEdit[]): Brush[] =>
  edits
    .filter((edit): edit is WeightEdit => edit.kind === 'weight')
    .map((edit) => ({ ...edit, box: boxOf(edit) }))

/** What brushes make of a weight at a place. */
function factorAt(brushes: readonly Brush[], x: number, y: number): number {
  let all = 1
  for (const { path, radius, amount, box } of brushes) {
    if (x < box.left || x > box.right || y < box.top || y > box.bottom) continue
    const away = distanceTo(path, x, y) / radius
    if (away >= 1) continue
    const t = away <= CORE ? 1 : 1 - (away - CORE) / (1 - CORE)
    all *= 1 + amount * t * t * (3 - 2 * t)
  }
  return Math.max(0, all)
}

/**
 * How a line that was drawn by hand was changed by what was brushed after it, whatever parts that keeps to.
 * @param index of the drawn line among the edits.
 * @returns the factor at a place; null where nothing was brushed later.
 */
export function drawnWeight(
  edits: readonly HandEdit[],
  index: number,
): ((x: number, y: number) => number) | null {
  const later = brushesOf(edits.slice(index + 1))
  return later.length === 0 ? null : (x, y) => factorAt(later, x, y)
}

/** Whether a brush meets a line that was drawn by hand. */
export const meetsDrawn = (edits: readonly HandEdit[], path: readonly number[], radius: number): boolean =>
  edits.some(
    (edit) =>
      edit.kind === 'line' &&
      Array.from({ length: edit.path.length / 2 }, (_, i) => [edit.path[2 * i], edit.path[2 * i + 1]]).some(
        ([x, y], i, all) => {
          const [px, py] = all[Math.max(0, i - 1)]
          const pieces = Math.max(1, Math.ceil(Math.hypot(x - px, y - py) / (radius / 2)))
          for (let k = 0; k <= pieces; k++)
            if (distanceTo(path, px + ((x - px) * k) / pieces, py + ((y - py) * k) / pieces) < radius)
              return true
          return false
        },
      ),
  )

/**
 * How brushed weights change lines.
 * @param partKeys keys of the scene's parts, in its order.
 * @returns for a part, the factor at a place; null where no brush reaches that part at all.
 */
export function handWeights(
  edits: readonly HandEdit[],
  partKeys: readonly string[],
): (part: number) => ((x: number, y: number) => number) | null {
  const brushes = brushesOf(edits).map((brush) => ({ ...brush, only: brush.parts && new Set(brush.parts) }))
  const byPart = new Map<number, ((x: number, y: number) => number) | null>()
  return (part) => {
    const known = byPart.get(part)
    if (known !== undefined) return known
    const own = brushes.filter(({ only }) => !only || only.has(partKeys[part]))
    const factor = own.length === 0 ? null : (x: number, y: number): number => factorAt(own, x, y)
    byPart.set(part, factor)
    return factor
  }
}

/**
 * Parts whose seen lines lie beneath a brush, by key.
 * @param path x, y, x, y … in shares of the picture's height.
 * @param radius how far the brush reaches.
 */
export function partsBeneath(drawing: LineDrawing, path: readonly number[], radius: number): string[] {
  const { left, right, top, bottom } = boxOf({ path, radius })
  const { starts, points, parts, otherParts, hidden, scene } = drawing
  const found = new Set<number>()
  for (let l = 0; l < drawing.count; l++) {
    if (hidden[l] > 0 || (found.has(parts[l]) && found.has(otherParts[l]))) continue
    for (let p = starts[l]; p + 1 < starts[l + 1]; p++) {
      const [ax, ay, bx, by] = points.subarray(2 * p, 2 * p + 4)
      if (Math.max(ax, bx) < left || Math.min(ax, bx) > right) continue
      if (Math.max(ay, by) < top || Math.min(ay, by) > bottom) continue
      const pieces = Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / (radius / 2)))
      for (let k = 0; k <= pieces; k++) {
        const [x, y] = [ax + ((bx - ax) * k) / pieces, ay + ((by - ay) * k) / pieces]
        if (distanceTo(path, x, y) >= radius) continue
        found.add(parts[l]).add(otherParts[l])
        break
      }
    }
  }
  return [...found].sort((a, b) => a - b).map((part) => scene[part].key)
}

function boxOf({ path, radius }: { readonly path: readonly number[]; readonly radius: number }) {
  const xs = path.filter((_, i) => i % 2 === 0)
  const ys = path.filter((_, i) => i % 2 === 1)
  return {
    left: Math.min(...xs) - radius,
    right: Math.max(...xs) + radius,
    top: Math.min(...ys) - radius,
    bottom: Math.max(...ys) + radius,
  }
}

/** Distance from a point to a polyline x, y, x, y … */
function distanceTo(path: readonly number[], x: number, y: number): number {
  let least = Math.hypot(path[0] - x, path[1] - y)
  for (let i = 2; i + 1 < path.length; i += 2) {
    const [ax, ay] = [path[i - 2], path[i - 1]]
    const [dx, dy] = [path[i] - ax, path[i + 1] - ay]
    const squared = dx * dx + dy * dy
    const share = squared > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / squared)) : 0
    least = Math.min(least, Math.hypot(ax + dx * share - x, ay + dy * share - y))
  }
  return least
}
