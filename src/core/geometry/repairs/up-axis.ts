import { z } from 'zod'
import { choiceParam } from '../../params'
import type { PolygonMesh } from '../polygon-mesh'
import { defineRepair } from './repair-kind'

/** For each axis that may be up: what x, y and z of the turned model are, as old axis and sign. A turn, never a mirror. */
const TURNS = {
  z: [
    [0, 1],
    [2, 1],
    [1, -1],
  ],
  'minus z': [
    [0, 1],
    [2, -1],
    [1, 1],
  ],
  x: [
    [1, -1],
    [0, 1],
    [2, 1],
  ],
  'minus x': [
    [1, 1],
    [0, -1],
    [2, 1],
  ],
  'minus y': [
    [0, -1],
    [1, -1],
    [2, 1],
  ],
} as const

const turn = (from: Float32Array, axes: (typeof TURNS)[keyof typeof TURNS]): Float32Array => {
  const out = new Float32Array(from.length)
  for (let i = 0; i < from.length; i += 3)
    for (let k = 0; k < 3; k++) out[i + k] = axes[k][1] * from[i + axes[k][0]] + 0
  return out
}

/** Stands the model up. */
export const upAxis = defineRepair({
  kind: 'up-axis',
  label: 'Stand it up',
  summary: 'The model is turned so that the axis its file calls up points up.',
  schema: z.object({
    axis: choiceParam({
      label: 'Up in the file',
      options: { z: 'Z', 'minus z': '−Z', x: 'X', 'minus x': '−X', 'minus y': '−Y' },
      default: 'z',
    }),
  }),
  apply(mesh, { axis }) {
    const axes = TURNS[axis]
    const turned: PolygonMesh = {
      ...mesh,
      positions: turn(mesh.positions, axes),
      cornerNormals: turn(mesh.cornerNormals, axes),
    }
    return { mesh: turned, note: `turned so that ${axis} is up` }
  },
})
