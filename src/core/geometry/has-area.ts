import { faceCount, type PolygonMesh } from './polygon-mesh'

/** Whether any polygon of a mesh has an area: the length of its Newell normal. */
export function hasArea(mesh: PolygonMesh): boolean {
  const { positions, faceStarts, cornerVertices } = mesh
  for (let f = 0; f < faceCount(mesh); f++) {
    let [x, y, z] = [0, 0, 0]
    for (let c = faceStarts[f]; c < faceStarts[f + 1]; c++) {
      const a = 3 * cornerVertices[c]
      const b = 3 * cornerVertices[c + 1 < faceStarts[f + 1] ? c + 1 : faceStarts[f]]
      x += (positions[a + 1] - positions[b + 1]) * (positions[a + 2] + positions[b + 2])
      y += (positions[a + 2] - positions[b + 2]) * (positions[a] + positions[b])
      z += (positions[a] - positions[b]) * (positions[a + 1] + positions[b + 1])
    }
    if (x !== 0 || y !== 0 || z !== 0) return true
  }
  return false
}
