import { z } from 'zod'
import { numberParam } from '../../params'
import { EDGE_BORDER, EDGE_NON_MANIFOLD, EDGE_TURNED, meshEdges } from '../edges'
import type { PolygonMesh } from '../polygon-mesh'
import { faceCount } from '../polygon-mesh'
import { rebuildMesh } from '../rebuild-mesh'
import { weldPositions } from '../weld'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Cosine of the largest corner angle of a quad's corner still taken: beyond it the quad would be nearly a triangle. */
const STRAIGHTEST = Math.cos((165 * Math.PI) / 180)

/**
 * How square a quad is: 1 with four right angles, 0 at a straight or folded corner, −1 where it is concave.
 * @param at places of its corners, 12 numbers.
 */
function squareness(at: Float64Array): number {
  let worst = 1
  let [nx, ny, nz] = [0, 0, 0]
  for (let k = 0; k < 4; k++) {
    const [a, b, c] = [3 * ((k + 3) % 4), 3 * k, 3 * ((k + 1) % 4)]
    const [ux, uy, uz] = [at[a] - at[b], at[a + 1] - at[b + 1], at[a + 2] - at[b + 2]]
    const [vx, vy, vz] = [at[c] - at[b], at[c + 1] - at[b + 1], at[c + 2] - at[b + 2]]
    const len = Math.sqrt((ux * ux + uy * uy + uz * uz) * (vx * vx + vy * vy + vz * vz))
    if (!(len > 0)) return -1
    const cosine = (ux * vx + uy * vy + uz * vz) / len
    if (cosine < STRAIGHTEST) return -1
    worst = Math.min(worst, 1 - Math.abs(cosine))
    const [cx, cy, cz] = [vy * uz - vz * uy, vz * ux - vx * uz, vx * uy - vy * ux]
    if (k > 0 && cx * nx + cy * ny + cz * nz <= 0) return -1
    ;[nx, ny, nz] = [nx + cx, ny + cy, nz + cz]
  }
  return worst
}

/** Corner of face `f` at a welded vertex, or −1. */
function cornerAt(mesh: PolygonMesh, welded: Uint32Array, f: number, vertex: number): number {
  for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
    if (welded[mesh.cornerVertices[c]] === vertex) return c
  return -1
}

/** Whether two corners at one place look alike: equal normals, texture coordinates and colours. */
function alike(mesh: PolygonMesh, a: number, b: number): boolean {
  const { cornerNormals: n, cornerUvs, cornerColours } = mesh
  if (n[3 * a] * n[3 * b] + n[3 * a + 1] * n[3 * b + 1] + n[3 * a + 2] * n[3 * b + 2] < 0.999) return false
  if (
    cornerUvs &&
    Math.hypot(cornerUvs[2 * a] - cornerUvs[2 * b], cornerUvs[2 * a + 1] - cornerUvs[2 * b + 1]) > 1e-4
  )
    return false
  if (!cornerColours) return true
  for (let k = 0; k < 3; k++)
    if (Math.abs(cornerColours[3 * a + k] - cornerColours[3 * b + k]) > 2) return false
  return true
}

/** Pairs of triangles that lie nearly in one plane become quads, the squarest first. */
export const quads = defineRepair({
  kind: 'quads',
  label: 'Join triangles to quads',
  summary: 'Pairs of triangles that lie nearly in one plane become quads, the squarest first.',
  schema: z.object({
    angleDeg: numberParam({ label: 'Bent by less than', unit: '°', min: 0, max: 60, step: 1, default: 12 }),
  }),
  apply(mesh, { angleDeg }, faces) {
    const edges = meshEdges(mesh)
    const { welded } = weldPositions(mesh.positions)
    const limit = (angleDeg * Math.PI) / 180
    const isTriangle = (f: number) => mesh.faceStarts[f + 1] - mesh.faceStarts[f] === 3

    // 1. Every pair that may be joined: as four old corners, and how square they stand.
    const scores: number[] = []
    const pairs: number[] = []
    const places = new Float64Array(12)
    for (let e = 0; e < edges.count; e++) {
      if (edges.flags[e] & (EDGE_BORDER | EDGE_NON_MANIFOLD | EDGE_TURNED) || edges.angleRad[e] > limit)
        continue
      const [f, g] = [edges.faces[2 * e], edges.faces[2 * e + 1]]
      if (!faces[f] || !faces[g] || !isTriangle(f) || !isTriangle(g)) continue
      if (mesh.faceParts[f] !== mesh.faceParts[g] || mesh.faceMaterials[f] !== mesh.faceMaterials[g]) continue
      const [from, to] = [welded[edges.vertices[2 * e]], welded[edges.vertices[2 * e + 1]]]
      const [fFrom, fTo] = [cornerAt(mesh, welded, f, from), cornerAt(mesh, welded, f, to)]
      const [gFrom, gTo] = [cornerAt(mesh, welded, g, from), cornerAt(mesh, welded, g, to)]
      if (fFrom < 0 || fTo < 0 || gFrom < 0 || gTo < 0) continue
      if (!alike(mesh, fFrom, gFrom) || !alike(mesh, fTo, gTo)) continue
      const rest = (h: number, a: number, b: number) => 3 * mesh.faceStarts[h] + 3 - a - b
      // Round the quad: from, the far corner of g, to, the far corner of f.
      const corners = [fFrom, rest(g, gFrom, gTo), fTo, rest(f, fFrom, fTo)]
      corners.forEach((c, k) => {
        const v = 3 * mesh.cornerVertices[c]
        for (let axis = 0; axis < 3; axis++) places[3 * k + axis] = mesh.positions[v + axis]
      })
      const square = squareness(places)
      if (square < 0) continue
      scores.push(square - edges.angleRad[e] * 0.5)
      pairs.push(f, g, ...corners)
    }

    // 2. The squarest first, each triangle once.
    const order = scores.map((_, i) => i).sort((a, b) => scores[b] - scores[a] || a - b)
    const partner = new Int32Array(faceCount(mesh)).fill(-1)
    for (const i of order) {
      const [f, g] = [pairs[6 * i], pairs[6 * i + 1]]
      if (partner[f] < 0 && partner[g] < 0) partner[f] = partner[g] = i
    }

    // 3. A quad stands where the first of its triangles stood.
    const starts = [0]
    const corners: number[] = []
    const kept: number[] = []
    let joined = 0
    for (let f = 0; f < faceCount(mesh); f++) {
      const pair = partner[f]
      if (pair >= 0) {
        const [a, b] = [pairs[6 * pair], pairs[6 * pair + 1]]
        if (f !== Math.min(a, b)) continue
        for (let k = 2; k < 6; k++) corners.push(pairs[6 * pair + k])
        joined++
      } else for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) corners.push(c)
      starts.push(corners.length)
      kept.push(f)
    }
    const plan = {
      faceStarts: Uint32Array.from(starts),
      corners: Uint32Array.from(corners),
      faces: Uint32Array.from(kept),
    }
    return { mesh: joined > 0 ? rebuildMesh(mesh, plan) : mesh, note: `made ${plural(joined, 'quad')}` }
  },
})
