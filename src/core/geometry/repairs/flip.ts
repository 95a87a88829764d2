import { z } from 'zod'
import { turnFaces } from '../rebuild-mesh'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Every chosen face looks to its other side. */
export const flip = defineRepair({
  kind: 'flip',
  label: 'Turn faces over',
  summary: 'Faces and their normals look to the other side.',
  schema: z.object({}),
  apply(mesh, _params, faces) {
    const turned = faces.reduce((sum, flag) => sum + flag, 0)
    return { mesh: turnFaces(mesh, faces), note: `turned ${plural(turned, 'face')} over` }
  },
})
