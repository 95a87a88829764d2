import { z } from 'zod'
import { meshEdges } from '../edges'
import { turnFaces } from '../rebuild-mesh'
import { facesToTurn, shellsOf } from '../shells'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Neighbours look to the same side, and closed forms outwards. */
export const orient = defineRepair({
  kind: 'orient',
  label: 'Make faces agree',
  summary:
    'Neighbouring faces look to the same side, closed forms outwards; open sheets keep the side most of them have.',
  schema: z.object({}),
  apply(mesh, _params, faces) {
    const turn = facesToTurn(shellsOf(mesh, meshEdges(mesh)))
    let turned = 0
    for (let f = 0; f < turn.length; f++) {
      turn[f] &= faces[f]
      turned += turn[f]
    }
    return { mesh: turned > 0 ? turnFaces(mesh, turn) : mesh, note: `turned ${plural(turned, 'face')} over` }
  },
})
