import earcut from 'earcut'
import { faceNormals } from './face-normals'
import type { PolygonMesh } from './polygon-mesh'
import { faceCount } from './polygon-mesh'

/** Triangles derived from polygons. */
export interface Triangulation {
  /** Uint32Array, 3·T: mesh corner of each triangle corner. */
  readonly corners: Uint32Array
  /** Uint32Array, T: the polygon each triangle came from. */
  readonly faces: Uint32Array
}

/**
 * Cuts every polygon into triangles. Convex quads are cut along their shorter diagonal; concave quads and larger
 * polygons by ear clipping in the plane of their Newell normal. Polygons without area give no triangles.
 */
export function triangulate(mesh: PolygonMesh): Triangulation {
  const { positions, faceStarts, cornerVertices } = mesh
  const normals = faceNormals(mesh)
  const faces = faceCount(mesh)
  const mostTriangles = cornerVertices.length - 2 * faces
  const corners = new Uint32Array(3 * mostTriangles)
  const triFaces = new Uint32Array(mostTriangles)
  let count = 0
  const emit = (f: number, a: number, b: number, c: number) => {
    corners[3 * count] = a
    corners[3 * count + 1] = b
    corners[3 * count + 2] = c
    triFaces[count++] = f
  }
  const at = (corner: number, axis: number) => positions[3 * cornerVertices[corner] + axis]

  /** Twice the area of triangle a, b, c projected on the face's normal; negative where it turns the wrong way. */
  const turn = (f: number, a: number, b: number, c: number): number => {
    const ux = at(b, 0) - at(a, 0)
    const uy = at(b, 1) - at(a, 1)
    const uz = at(b, 2) - at(a, 2)
    const vx = at(c, 0) - at(a, 0)
    const vy = at(c, 1) - at(a, 1)
    const vz = at(c, 2) - at(a, 2)
    return (
      (uy * vz - uz * vy) * normals[3 * f] +
      (uz * vx - ux * vz) * normals[3 * f + 1] +
      (ux * vy - uy * vx) * normals[3 * f + 2]
    )
  }
  const distanceSquared = (a: number, b: number): number =>
    (at(a, 0) - at(b, 0)) ** 2 + (at(a, 1) - at(b, 1)) ** 2 + (at(a, 2) - at(b, 2)) ** 2

  for (let f = 0; f < faces; f++) {
    const start = faceStarts[f]
    const sides = faceStarts[f + 1] - start
    if (normals[3 * f] === 0 && normals[3 * f + 1] === 0 && normals[3 * f + 2] === 0) continue
    if (sides === 3) {
      emit(f, start, start + 1, start + 2)
      continue
    }
    if (sides === 4) {
      const firstCut = Math.min(turn(f, start, start + 1, start + 2), turn(f, start, start + 2, start + 3))
      const secondCut = Math.min(
        turn(f, start, start + 1, start + 3),
        turn(f, start + 1, start + 2, start + 3),
      )
      const bothConvex = firstCut > 0 && secondCut > 0
      const useFirst = bothConvex
        ? distanceSquared(start, start + 2) <= distanceSquared(start + 1, start + 3)
        : firstCut >= secondCut
      if (useFirst) {
        emit(f, start, start + 1, start + 2)
        emit(f, start, start + 2, start + 3)
      } else {
        emit(f, start, start + 1, start + 3)
        emit(f, start + 1, start + 2, start + 3)
      }
      continue
    }
    // Drop the axis along which the normal is longest, keeping the turning sense.
    const ax = Math.abs(normals[3 * f])
    const ay = Math.abs(normals[3 * f + 1])
    const az = Math.abs(normals[3 * f + 2])
    const drop = ax >= ay && ax >= az ? 0 : ay >= az ? 1 : 2
    const [first, second] = drop === 0 ? [1, 2] : drop === 1 ? [2, 0] : [0, 1]
    const flat: number[] = []
    for (let c = start; c < start + sides; c++) flat.push(at(c, first), at(c, second))
    const indices = earcut(flat)
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [start + indices[i], start + indices[i + 1], start + indices[i + 2]]
      const wrongWay = turn(f, a, b, c) < 0
      if (wrongWay) emit(f, a, c, b)
      else emit(f, a, b, c)
    }
  }
  return { corners: corners.slice(0, 3 * count), faces: triFaces.slice(0, count) }
}
