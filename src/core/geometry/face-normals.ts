import type { PolygonMesh } from './polygon-mesh'

/**
 * Unit normals of all faces by Newell's method (Sutherland, Sproull & Schumacker 1974): right for concave and
 * slightly bent polygons. A face without area gets (0, 0, 0).
 * @returns Float32Array, 3·F.
 */
export function faceNormals(
  mesh: Pick<PolygonMesh, 'positions' | 'faceStarts' | 'cornerVertices'>,
): Float32Array {
  const { positions, faceStarts, cornerVertices } = mesh
  const faces = faceStarts.length - 1
  const normals = new Float32Array(3 * faces)
  for (let f = 0; f < faces; f++) {
    let x = 0
    let y = 0
    let z = 0
    const end = faceStarts[f + 1]
    for (let c = faceStarts[f], previous = end - 1; c < end; previous = c++) {
      const a = 3 * cornerVertices[previous]
      const b = 3 * cornerVertices[c]
      x += (positions[a + 1] - positions[b + 1]) * (positions[a + 2] + positions[b + 2])
      y += (positions[a + 2] - positions[b + 2]) * (positions[a] + positions[b])
      z += (positions[a] - positions[b]) * (positions[a + 1] + positions[b + 1])
    }
    const len = Math.sqrt(x * x + y * y + z * z)
    if (len > 0) {
      normals[3 * f] = x / len
      normals[3 * f + 1] = y / len
      normals[3 * f + 2] = z / len
    }
  }
  return normals
}
