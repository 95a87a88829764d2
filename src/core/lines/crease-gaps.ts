import { NONE, type LineTopology } from './line-topology'

/** Weaker than this share of the angle asked for, an edge closes no gap. */
const WEAK = 0.5
/** How straight a crease goes on through a gap: cosine between one piece and the next. */
const STRAIGHT = Math.cos((30 * Math.PI) / 180)
/** Most edges in a gap, and its length beside the crease it goes on from. */
const MOST_EDGES = 24
const LONGEST = 3

/**
 * Closes gaps in creases. At the small fillets of machine models the angle between faces wavers about the one asked for, and
 * a crease that the eye sees whole would break into dashes. From each loose end the straightest weaker edges are followed; if
 * they lead to another piece of crease, all of them belong to it (a threshold with hysteresis, as Canny 1986 has it for
 * edges of pictures, but closed at both ends: a crease that fades out fades out).
 * @param cosines of the angle between the faces beside each edge; 2 where there is no such angle.
 * @param isCrease one byte an edge; gaps that are closed are set to 1.
 * @param creaseRad the angle asked for.
 */
export function closeCreaseGaps(
  topology: LineTopology,
  cosines: Float32Array,
  isCrease: Uint8Array,
  creaseRad: number,
): void {
  const { positions, edgeVertices, edgeCount } = topology
  const weakest = Math.cos(WEAK * creaseRad)
  const isWeak = (e: number) => isCrease[e] === 0 && cosines[e] < weakest
  const edgesAt = edgesByVertex(topology, (e) => isCrease[e] === 1 || isWeak(e))
  const loose: (readonly [number, number])[] = []
  for (let e = 0; e < edgeCount; e++) {
    if (!isCrease[e]) continue
    for (let end = 0; end < 2; end++) {
      const v = edgeVertices[2 * e + end]
      if (!edgesAt(v).some((other) => other !== e && isCrease[other] === 1)) loose.push([e, v])
    }
  }
  /** Cosine between an edge that comes to a vertex and another that leaves it. */
  const straightness = (from: number, v: number, to: number): number => {
    const a = otherEnd(topology, from, v)
    const b = otherEnd(topology, to, v)
    let [dot, aa, bb] = [0, 0, 0]
    for (let axis = 0; axis < 3; axis++) {
      const x = positions[3 * v + axis] - positions[3 * a + axis]
      const y = positions[3 * b + axis] - positions[3 * v + axis]
      dot += x * y
      aa += x * x
      bb += y * y
    }
    return dot / Math.sqrt(aa * bb || 1)
  }
  const lengthOf = (e: number): number =>
    Math.hypot(
      ...[0, 1, 2].map(
        (axis) => positions[3 * edgeVertices[2 * e] + axis] - positions[3 * edgeVertices[2 * e + 1] + axis],
      ),
    )
  const closed: number[] = []
  for (const [start, from] of loose) {
    const path: number[] = []
    const most = LONGEST * runLength(topology, isCrease, edgesAt, start, from, lengthOf)
    let length = 0
    let [edge, v] = [start, from]
    while (path.length <= MOST_EDGES && length <= most) {
      const next = edgesAt(v)
        .filter((e) => e !== edge)
        .map((e) => ({ e, straight: straightness(edge, v, e) }))
        .filter(({ straight }) => straight > STRAIGHT)
        .sort((a, b) => isCrease[b.e] - isCrease[a.e] || b.straight - a.straight || a.e - b.e)[0]
      if (!next) break
      if (isCrease[next.e]) {
        closed.push(...path)
        break
      }
      path.push(next.e)
      length += lengthOf(next.e)
      v = otherEnd(topology, next.e, v)
      edge = next.e
    }
  }
  for (const e of closed) isCrease[e] = 1
}

const otherEnd = ({ edgeVertices }: LineTopology, e: number, v: number): number =>
  edgeVertices[2 * e] === v ? edgeVertices[2 * e + 1] : edgeVertices[2 * e]

/** Length of the straight run of crease that ends at a vertex, as far as it is followed. */
function runLength(
  topology: LineTopology,
  isCrease: Uint8Array,
  edgesAt: (v: number) => readonly number[],
  start: number,
  from: number,
  lengthOf: (e: number) => number,
): number {
  let sum = lengthOf(start)
  let v = otherEnd(topology, start, from)
  let edge = start
  for (let n = 0; n < MOST_EDGES; n++) {
    const next = edgesAt(v).find((e) => e !== edge && isCrease[e] === 1)
    if (next === undefined) break
    sum += lengthOf(next)
    v = otherEnd(topology, next, v)
    edge = next
  }
  return sum
}

/** Edges for which `wanted` holds, by each of their vertices. */
function edgesByVertex(
  { edgeVertices, edgeCount, positions }: LineTopology,
  wanted: (e: number) => boolean,
): (v: number) => readonly number[] {
  const starts = new Uint32Array(positions.length / 3 + 1)
  for (let e = 0; e < edgeCount; e++)
    if (wanted(e)) for (let end = 0; end < 2; end++) starts[edgeVertices[2 * e + end] + 1]++
  for (let v = 1; v < starts.length; v++) starts[v] += starts[v - 1]
  const fill = starts.slice()
  const list = new Uint32Array(starts[starts.length - 1])
  for (let e = 0; e < edgeCount; e++)
    if (wanted(e)) for (let end = 0; end < 2; end++) list[fill[edgeVertices[2 * e + end]]++] = e
  return (v) => Array.from(list.subarray(starts[v], starts[v + 1]))
}

/** Cosine of the angle between the faces beside each edge; 2 at borders. */
export function faceCosines({
  edgeTriangles,
  edgeTurned,
  faceNormals,
  edgeCount,
}: LineTopology): Float32Array {
  const cosines = new Float32Array(edgeCount)
  for (let e = 0; e < edgeCount; e++) {
    const [a, b] = [edgeTriangles[2 * e], edgeTriangles[2 * e + 1]]
    cosines[e] =
      b === NONE
        ? 2
        : (edgeTurned[e] ? -1 : 1) *
          (faceNormals[3 * a] * faceNormals[3 * b] +
            faceNormals[3 * a + 1] * faceNormals[3 * b + 1] +
            faceNormals[3 * a + 2] * faceNormals[3 * b + 2])
  }
  return cosines
}
