import type { CameraBasis } from '../scene/camera'
import { wedgeAt, type LineTopology } from './line-topology'

/** How far the field is evened out, in shares of the picture's height: noise finer than that is no form … */
const EVEN_RADIUS = 0.006
/** … but no farther than this share of the radius to which the surface is bent, or small round forms would go flat. */
const EVEN_BEND = 0.25
const MOST_ROUNDS = 32

/**
 * How far the surface turns to the eye at every wedge: the cosine between its normal and the direction to the eye. Its
 * zero set is the silhouette (Hertzmann & Zorin 2000, "Illustrating smooth surfaces", §4). Where triangles are finer
 * than a line can show, the field is evened out over the width of one, so that the noise of a scan gives no scribble.
 * @returns Float32Array, W.
 */
export function facingField(topology: LineTopology, camera: CameraBasis): Float32Array {
  const { positions, wedgeNormals, wedgeVertices } = topology
  const count = wedgeVertices.length
  const field = new Float32Array(count)
  const toward = new Float64Array(3)
  for (let w = 0; w < count; w++) {
    toEye(camera, positions, 3 * wedgeVertices[w], toward)
    const n = 3 * w
    field[w] = wedgeNormals[n] * toward[0] + wedgeNormals[n + 1] * toward[1] + wedgeNormals[n + 2] * toward[2]
  }
  evenOut(field, topology, camera)
  // Exactly edge-on would be a node on a vertex: a hair to one side it is on an edge like all others.
  for (let w = 0; w < count; w++) if (field[w] === 0) field[w] = 1e-12
  return field
}

/** Unit direction from a point to the eye. @param at index of the point's x. */
export function toEye(
  { eye, back, parallel }: CameraBasis,
  positions: Float32Array,
  at: number,
  out: Float64Array,
): void {
  for (let axis = 0; axis < 3; axis++) out[axis] = parallel ? back[axis] : eye[axis] - positions[at + axis]
  const length = Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]) || 1
  for (let axis = 0; axis < 3; axis++) out[axis] /= length
}

function evenOut(field: Float32Array, topology: LineTopology, camera: CameraBasis): void {
  const { positions, edgeCount, edgeVertices, edgeTriangles, edgeSmooth, wedgeVertices } = topology
  const { wedgeNormals } = topology
  const count = field.length

  // 1. Neighbours over smooth edges, and how long those edges are.
  const pairs = new Uint32Array(2 * edgeCount)
  const degrees = new Uint32Array(count)
  const lengths = new Float32Array(count)
  const turns = new Float32Array(count)
  let pairCount = 0
  for (let e = 0; e < edgeCount; e++) {
    if (!edgeSmooth[e]) continue
    const i = edgeVertices[2 * e]
    const j = edgeVertices[2 * e + 1]
    const a = wedgeAt(topology, edgeTriangles[2 * e], i)
    const b = wedgeAt(topology, edgeTriangles[2 * e], j)
    const x = positions[3 * i] - positions[3 * j]
    const y = positions[3 * i + 1] - positions[3 * j + 1]
    const z = positions[3 * i + 2] - positions[3 * j + 2]
    const length = Math.sqrt(x * x + y * y + z * z)
    const turn = Math.hypot(
      wedgeNormals[3 * a] - wedgeNormals[3 * b],
      wedgeNormals[3 * a + 1] - wedgeNormals[3 * b + 1],
      wedgeNormals[3 * a + 2] - wedgeNormals[3 * b + 2],
    )
    pairs[2 * pairCount] = a
    pairs[2 * pairCount++ + 1] = b
    for (const w of [a, b]) {
      degrees[w]++
      lengths[w] += length
      turns[w] += turn
    }
  }

  // 2. Rounds of averaging spread by the root of their number: so many until the radius is reached.
  const rounds = new Uint8Array(count)
  let most = 0
  for (let w = 0; w < count; w++) {
    if (degrees[w] === 0) continue
    const v = 3 * wedgeVertices[w]
    const { eye, back } = camera
    const depth =
      (eye[0] - positions[v]) * back[0] +
      (eye[1] - positions[v + 1]) * back[1] +
      (eye[2] - positions[v + 2]) * back[2]
    const heightThere = 2 * camera.halfHeight * (camera.parallel ? 1 : Math.max(1e-9, depth))
    const spacing = lengths[w] / degrees[w]
    const bend = turns[w] > 0 ? lengths[w] / turns[w] : Infinity
    const radius = Math.min(EVEN_RADIUS * heightThere, EVEN_BEND * bend)
    // Half of a round stays where it is: two make one step.
    rounds[w] = Math.min(MOST_ROUNDS, Math.floor(2 * (radius / spacing) ** 2))
    if (rounds[w] > most) most = rounds[w]
  }
  const sums = new Float32Array(count)
  for (let round = 0; round < most; round++) {
    sums.fill(0)
    for (let k = 0; k < pairCount; k++) {
      sums[pairs[2 * k]] += field[pairs[2 * k + 1]]
      sums[pairs[2 * k + 1]] += field[pairs[2 * k]]
    }
    for (let w = 0; w < count; w++) {
      if (rounds[w] > round) field[w] = (field[w] + sums[w] / degrees[w]) / 2
    }
  }
}
