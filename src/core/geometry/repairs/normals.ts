import { z } from 'zod'
import { numberParam } from '../../params'
import { smoothCornerNormals } from '../smooth-normals'
import { weldPositions } from '../weld'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Normals made anew from the faces: smooth up to an angle, hard beyond it. */
export const normals = defineRepair({
  kind: 'normals',
  label: 'Make normals anew',
  summary:
    'Shading is made again from the faces: smooth where they turn by less than the angle, hard where by more.',
  schema: z.object({
    angleDeg: numberParam({ label: 'Smooth up to', unit: '°', min: 0, max: 180, step: 1, default: 35 }),
  }),
  apply(mesh, { angleDeg }, faces) {
    const { welded, count } = weldPositions(mesh.positions)
    const vertexOfCorner = mesh.cornerVertices.map((v) => welded[v])
    const made = smoothCornerNormals(mesh, vertexOfCorner, count, angleDeg)
    const cornerNormals = mesh.cornerNormals.slice()
    let corners = 0
    for (let f = 0; f < faces.length; f++) {
      if (!faces[f]) continue
      const [start, end] = [3 * mesh.faceStarts[f], 3 * mesh.faceStarts[f + 1]]
      cornerNormals.set(made.subarray(start, end), start)
      corners += (end - start) / 3
    }
    return { mesh: { ...mesh, cornerNormals }, note: `made normals for ${plural(corners, 'corner')}` }
  },
})
