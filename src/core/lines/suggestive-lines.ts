import type { CameraBasis } from '../scene/camera'
import { toEye } from './facing-field'
import { wedgeAt, type LineTopology } from './line-topology'
import type { SegmentList } from './segment-list'
import { zeroSetLines } from './surface-lines'
import { surfaceCurvature } from './surface-curvature'

/** Rounds of averaging of the curvature, which is a second derivative and noisy. */
const EVEN_ROUNDS = 3
/** Where the surface looks at the eye more squarely than this, a crossing says nothing of its form. */
const LEAST_SLANT = Math.sin((12 * Math.PI) / 180)
/** Between the threshold and this many times it, a line fades in. */
const FADE = 2.5

/**
 * Suggestive contours: where the radial curvature is zero and grows towards the eye, lines that would be contours from a
 * little further round (DeCarlo, Finkelstein, Rusinkiewicz & Santella 2003, "Suggestive Contours for Conveying Shape").
 * @param field cosine towards the eye by wedge.
 * @param threshold least derivative of the radial curvature, in 1 / figure diagonal²: lines fade in above it.
 * @param diagonal world units.
 */
export function suggestiveLines(
  topology: LineTopology,
  camera: CameraBasis,
  field: Float32Array,
  threshold: number,
  diagonal: number,
  out: SegmentList,
): void {
  const { positions, wedgeNormals, wedgeVertices, vertices, wedges } = topology
  const { axes, forms } = surfaceCurvature(topology)
  const count = field.length
  const radial = new Float32Array(count)
  /** The direction to the eye within the tangent plane; not of unit length. */
  const toward = new Float32Array(3 * count)
  const direction = new Float64Array(3)
  for (let w = 0; w < count; w++) {
    toEye(camera, positions, 3 * wedgeVertices[w], direction)
    let [x, y, z] = direction
    const n = 3 * w
    const along = wedgeNormals[n] * x + wedgeNormals[n + 1] * y + wedgeNormals[n + 2] * z
    x -= along * wedgeNormals[n]
    y -= along * wedgeNormals[n + 1]
    z -= along * wedgeNormals[n + 2]
    toward[n] = x
    toward[n + 1] = y
    toward[n + 2] = z
    const u = x * axes[n] + y * axes[n + 1] + z * axes[n + 2]
    const bx = wedgeNormals[n + 1] * axes[n + 2] - wedgeNormals[n + 2] * axes[n + 1]
    const by = wedgeNormals[n + 2] * axes[n] - wedgeNormals[n] * axes[n + 2]
    const bz = wedgeNormals[n] * axes[n + 1] - wedgeNormals[n + 1] * axes[n]
    const b = x * bx + y * by + z * bz
    const squared = u * u + b * b
    radial[w] =
      squared > 0 ? (forms[n] * u * u + 2 * forms[n + 1] * u * b + forms[n + 2] * b * b) / squared : 0
  }
  average(radial, topology)
  const least = threshold / (diagonal * diagonal)
  zeroSetLines(topology, camera, radial, 'suggestive', out, (t, weights) => {
    // Gradient of the radial curvature over the triangle, along the direction to the eye.
    const [i, j, k] = [3 * vertices[3 * t], 3 * vertices[3 * t + 1], 3 * vertices[3 * t + 2]]
    const [wi, wj, wk] = [wedges[3 * t], wedges[3 * t + 1], wedges[3 * t + 2]]
    const facing = weights[0] * field[wi] + weights[1] * field[wj] + weights[2] * field[wk]
    if (facing <= 0) return 0
    let tx = 0
    let ty = 0
    let tz = 0
    for (let c = 0; c < 3; c++) {
      const w = 3 * wedges[3 * t + c]
      tx += weights[c] * toward[w]
      ty += weights[c] * toward[w + 1]
      tz += weights[c] * toward[w + 2]
    }
    const slant = Math.sqrt(tx * tx + ty * ty + tz * tz)
    if (slant < LEAST_SLANT) return 0
    const e1 = [
      positions[j] - positions[i],
      positions[j + 1] - positions[i + 1],
      positions[j + 2] - positions[i + 2],
    ]
    const e2 = [
      positions[k] - positions[i],
      positions[k + 1] - positions[i + 1],
      positions[k + 2] - positions[i + 2],
    ]
    const a11 = e1[0] * e1[0] + e1[1] * e1[1] + e1[2] * e1[2]
    const a12 = e1[0] * e2[0] + e1[1] * e2[1] + e1[2] * e2[2]
    const a22 = e2[0] * e2[0] + e2[1] * e2[1] + e2[2] * e2[2]
    const b1 = radial[wj] - radial[wi]
    const b2 = radial[wk] - radial[wi]
    const det = a11 * a22 - a12 * a12
    if (det <= 0) return 0
    const g1 = (a22 * b1 - a12 * b2) / det
    const g2 = (a11 * b2 - a12 * b1) / det
    const derivative =
      (g1 * (e1[0] * tx + e1[1] * ty + e1[2] * tz) + g2 * (e2[0] * tx + e2[1] * ty + e2[2] * tz)) / slant
    return Math.min(1, Math.max(0, (derivative / least - 1) / (FADE - 1)))
  })
}

function average(values: Float32Array, topology: LineTopology): void {
  const { edgeCount, edgeSmooth, edgeTriangles, edgeVertices } = topology
  const sums = new Float32Array(values.length)
  const degrees = new Uint32Array(values.length)
  for (let round = 0; round < EVEN_ROUNDS; round++) {
    sums.fill(0)
    degrees.fill(0)
    for (let e = 0; e < edgeCount; e++) {
      if (!edgeSmooth[e]) continue
      const a = wedgeAt(topology, edgeTriangles[2 * e], edgeVertices[2 * e])
      const b = wedgeAt(topology, edgeTriangles[2 * e], edgeVertices[2 * e + 1])
      sums[a] += values[b]
      sums[b] += values[a]
      degrees[a]++
      degrees[b]++
    }
    for (let w = 0; w < values.length; w++)
      if (degrees[w] > 0) values[w] = (values[w] + sums[w] / degrees[w]) / 2
  }
}
