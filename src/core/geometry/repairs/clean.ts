import { z } from 'zod'
import { faceNormals } from '../face-normals'
import { duplicateFaces } from '../mesh-report'
import { faceCount } from '../polygon-mesh'
import { keepFaces } from '../rebuild-mesh'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Faces that show nothing, or what another one shows, go. */
export const clean = defineRepair({
  kind: 'clean',
  label: 'Drop empty and double faces',
  summary: 'Faces without area, and faces in a place where another one is, go.',
  schema: z.object({}),
  apply(mesh, _params, faces) {
    const perFace = faceNormals(mesh)
    const double = duplicateFaces(mesh)
    const keep = new Uint8Array(faceCount(mesh))
    let dropped = 0
    for (let f = 0; f < keep.length; f++) {
      const isEmpty = perFace[3 * f] === 0 && perFace[3 * f + 1] === 0 && perFace[3 * f + 2] === 0
      keep[f] = faces[f] && (isEmpty || double[f]) ? 0 : 1
      dropped += 1 - keep[f]
    }
    // Nothing but empty faces: a mesh without any would be of no use to anyone.
    if (dropped === keep.length) return { mesh, note: 'left as it is: nothing would remain' }
    return { mesh: dropped > 0 ? keepFaces(mesh, keep) : mesh, note: `dropped ${plural(dropped, 'face')}` }
  },
})
