import { KernelArrays } from './kernel-arrays'

/** Bytes the kernel works with; see `joinPlaces` in kernel/mesh.ts. */
const DESK = 8 * 64 + 4 * 8192

/**
 * The vertex of each of these places: equal ones, bit for bit, are one. In the kernel, by open addressing over the bits.
 * @param expected how many vertices there may be; more cost time.
 */
function join(places: Float32Array, expected: number) {
  const arrays = new KernelArrays()
  const count = places.length / 3
  const positions = arrays.floats(places.length)
  const numbers = arrays.words(count)
  const desk = arrays.bytes(DESK)
  const { rest } = arrays
  const { kernel, view } = arrays.open()
  view(positions).set(places)
  const vertices = kernel.joinPlaces(positions.at, count, numbers.at, desk.at, rest, expected) >>> 0
  return { vertices, positions: view(positions), numbers: view(numbers) }
}

/**
 * Welds vertices that share a position bit for bit (−0 counts as 0; what is not a number is never the same). For topology
 * only: the mesh keeps its vertices.
 * @param positions Float32Array, 3·V.
 * @returns `welded`: Uint32Array, V, the welded number of each vertex, as they first come; `count`: how many there are.
 */
export function weldPositions(positions: Float32Array): { welded: Uint32Array; count: number } {
  const { vertices, numbers } = join(positions, positions.length / 3)
  return { welded: numbers.slice(), count: vertices }
}

/** Points of a list in which each is told once for every corner it is, and the numbers of the corners. */
export interface WeldedCorners {
  /** Float32Array, 3·V. */
  readonly positions: Float32Array
  /** Uint32Array, C. */
  readonly numbers: Uint32Array
}

/**
 * Makes one vertex of all corners at the same place, as {@link weldPositions} does.
 * @param corners Float32Array, 3·C.
 */
export function weldCorners(corners: Float32Array): WeldedCorners {
  // A closed mesh has half as many vertices as triangles.
  const { vertices, positions, numbers } = join(corners, corners.length / 18)
  return { positions: positions.slice(0, 3 * vertices), numbers: numbers.slice() }
}

/**
 * Welds vertices that lie within a distance of each other, by a grid of cells of that size: each vertex goes to the first
 * one found near it, so a chain of near ones does not creep.
 * @param distance in the positions' units; 0 welds equal places only.
 * @param may 1 for each vertex that takes part.
 * @returns Uint32Array, V: the vertex each one becomes.
 */
export function weldWithin(positions: Float32Array, distance: number, may: Uint8Array): Uint32Array {
  const vertices = positions.length / 3
  const target = Uint32Array.from({ length: vertices }, (_, v) => v)
  if (!(distance > 0)) {
    const { welded, count } = weldPositions(positions)
    const first = new Int32Array(count).fill(-1)
    for (let v = 0; v < vertices; v++) {
      if (!may[v]) continue
      if (first[welded[v]] < 0) first[welded[v]] = v
      target[v] = first[welded[v]]
    }
    return target
  }
  const cells = new Map<number, number[]>()
  const cell = (v: number, axis: number) => Math.floor(positions[3 * v + axis] / distance)
  const key = (x: number, y: number, z: number) =>
    (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) | 0
  const limit = distance * distance
  for (let v = 0; v < vertices; v++) {
    if (!may[v]) continue
    const [cx, cy, cz] = [cell(v, 0), cell(v, 1), cell(v, 2)]
    let found = -1
    for (let i = 0; i < 27 && found < 0; i++) {
      const near = cells.get(
        key(cx + (i % 3) - 1, cy + (Math.floor(i / 3) % 3) - 1, cz + Math.floor(i / 9) - 1),
      )
      for (const other of near ?? []) {
        const x = positions[3 * v] - positions[3 * other]
        const y = positions[3 * v + 1] - positions[3 * other + 1]
        const z = positions[3 * v + 2] - positions[3 * other + 2]
        if (x * x + y * y + z * z <= limit) {
          found = other
          break
        }
      }
    }
    if (found >= 0) target[v] = found
    else {
      const own = key(cx, cy, cz)
      const list = cells.get(own)
      if (list) list.push(v)
      else cells.set(own, [v])
    }
  }
  return target
}
