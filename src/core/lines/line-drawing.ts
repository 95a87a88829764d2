import { LINE_KINDS } from './line-kinds'

/** A part of the scene a drawing was made of. */
export interface DrawingPart {
  readonly key: string
  readonly name: string
}

/**
 * The lines of a view as they are kept: polylines in the picture, none of them thick yet. Points of line l:
 * starts[l] … starts[l + 1] − 1. Lengths are shares of the picture's height, x from its left and y from its top, so a
 * drawing fits every size of its picture.
 */
export interface LineDrawing {
  /** Width of the picture over its height. */
  readonly aspect: number
  /** The scene's parts, which lines name by number. */
  readonly scene: readonly DrawingPart[]
  readonly count: number
  /** Uint32Array, L + 1. */
  readonly starts: Uint32Array
  /** Float32Array, 2·P. */
  readonly points: Float32Array
  /** Float32Array, P: distance along the view axis, world units. */
  readonly depths: Float32Array
  /** Float32Array, 3·P: unit normals of the surface in camera space: right, up, towards the eye. */
  readonly normals: Float32Array
  /** Float32Array, P: 0…1, how plainly the line is there. */
  readonly strengths: Float32Array
  /** Uint8Array, L: index into {@link LINE_KINDS}. */
  readonly kinds: Uint8Array
  /** Uint32Array, L: scene parts the line belongs to; the same twice where it is one part's alone. */
  readonly parts: Uint32Array
  readonly otherParts: Uint32Array
  /** Uint8Array, L: how many surfaces stand in front; 0 is seen. */
  readonly hidden: Uint8Array
  /** Uint8Array, L: 1 where the last point is the first again. */
  readonly closed: Uint8Array
}

/** Checks that a drawing's arrays fit each other and hold numbers. @returns what is wrong. */
export function validateDrawing(drawing: LineDrawing): string[] {
  const problems: string[] = []
  const { count, starts, points, kinds } = drawing
  const total = starts[count]
  if (!(drawing.aspect > 0)) problems.push('aspect is not positive')
  if (starts.length !== count + 1) problems.push('starts do not fit the lines')
  for (let l = 0; l < count; l++) if (starts[l + 1] - starts[l] < 2) problems.push(`line ${l} has no length`)
  for (const [name, array, width] of [
    ['points', points, 2],
    ['depths', drawing.depths, 1],
    ['normals', drawing.normals, 3],
    ['strengths', drawing.strengths, 1],
  ] as const) {
    if (array.length !== width * total) problems.push(`${name} do not fit the points`)
    if (!array.every(Number.isFinite)) problems.push(`${name} hold what is no number`)
  }
  for (const [name, array] of [
    ['kinds', kinds],
    ['parts', drawing.parts],
    ['other parts', drawing.otherParts],
    ['hidden', drawing.hidden],
    ['closed', drawing.closed],
  ] as const)
    if (array.length !== count) problems.push(`${name} do not fit the lines`)
  if (!kinds.every((kind) => kind < LINE_KINDS.length)) problems.push('a kind is not known')
  for (const parts of [drawing.parts, drawing.otherParts])
    if (!parts.every((part) => part < drawing.scene.length)) problems.push('a part is not known')
  return problems
}

/** Length of a line, in shares of the picture's height. */
export function lineLength({ starts, points }: LineDrawing, line: number): number {
  let length = 0
  for (let p = starts[line] + 1; p < starts[line + 1]; p++)
    length += Math.hypot(points[2 * p] - points[2 * p - 2], points[2 * p + 1] - points[2 * p - 1])
  return length
}

/** Lines of drawings of one view and one scene as one drawing, in order. */
export function joinDrawings(drawings: readonly LineDrawing[]): LineDrawing {
  const joined = <T extends Float32Array | Uint32Array | Uint8Array>(
    make: new (length: number) => T,
    pick: (drawing: LineDrawing) => T,
  ): T => {
    const out = new make(drawings.reduce((sum, drawing) => sum + pick(drawing).length, 0))
    let at = 0
    for (const drawing of drawings) {
      out.set(pick(drawing), at)
      at += pick(drawing).length
    }
    return out
  }
  const starts = [0]
  for (const drawing of drawings) {
    const before = starts[starts.length - 1]
    for (let l = 1; l <= drawing.count; l++) starts.push(before + drawing.starts[l])
  }
  const [{ aspect, scene }] = drawings
  return {
    aspect,
    scene,
    count: starts.length - 1,
    starts: Uint32Array.from(starts),
    points: joined(Float32Array, (d) => d.points),
    depths: joined(Float32Array, (d) => d.depths),
    normals: joined(Float32Array, (d) => d.normals),
    strengths: joined(Float32Array, (d) => d.strengths),
    kinds: joined(Uint8Array, (d) => d.kinds),
    parts: joined(Uint32Array, (d) => d.parts),
    otherParts: joined(Uint32Array, (d) => d.otherParts),
    hidden: joined(Uint8Array, (d) => d.hidden),
    closed: joined(Uint8Array, (d) => d.closed),
  }
}
