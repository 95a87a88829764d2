import { z } from 'zod'
import { numberParam } from '../../params'
import { meshBounds, vertexCount } from '../polygon-mesh'
import { dropLooseVertices, keepFaces } from '../rebuild-mesh'
import { weldWithin } from '../weld'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Vertices that lie together become one. */
export const weld = defineRepair({
  kind: 'weld',
  label: 'Weld vertices',
  summary: 'Vertices that lie closer together than the distance become one; faces that shrink to nothing go.',
  schema: z.object({
    distance: numberParam({
      label: 'Closer than',
      unit: '%D',
      min: 0,
      max: 5,
      step: 0.0001,
      default: 0.0001,
    }),
  }),
  apply(mesh, { distance }, faces) {
    const bounds = meshBounds(mesh)
    const diagonal = bounds ? Math.hypot(...bounds.max.map((v, axis) => v - bounds.min[axis])) : 0
    const may = new Uint8Array(vertexCount(mesh))
    for (let f = 0; f < faces.length; f++)
      if (faces[f])
        for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) may[mesh.cornerVertices[c]] = 1
    const target = weldWithin(mesh.positions, (distance / 100) * diagonal, may)
    const cornerVertices = mesh.cornerVertices.map((v) => target[v])
    // Sides that have shrunk to a point lose one of their corners.
    const keep = new Uint8Array(cornerVertices.length)
    for (let f = 0; f < faces.length; f++) {
      const end = mesh.faceStarts[f + 1]
      for (let c = mesh.faceStarts[f]; c < end; c++) {
        const next = c + 1 === end ? mesh.faceStarts[f] : c + 1
        keep[c] = cornerVertices[c] === cornerVertices[next] ? 0 : 1
      }
    }
    const all = new Uint8Array(faces.length).fill(1)
    const joined = keepFaces({ ...mesh, cornerVertices }, all, keep)
    const { mesh: tight } = dropLooseVertices(joined)
    const welded = vertexCount(mesh) - vertexCount(tight)
    return { mesh: tight, note: `welded ${plural(welded, 'vertex', 'vertices')}` }
  },
})
