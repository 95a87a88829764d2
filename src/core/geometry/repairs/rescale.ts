import { z } from 'zod'
import { numberParam } from '../../params'
import { defineRepair } from './repair-kind'

/** Another unit: every length times a factor. */
export const rescale = defineRepair({
  kind: 'rescale',
  label: 'Change the unit',
  summary: 'Every length is multiplied by the factor: 0.001 makes metres of millimetres.',
  schema: z.object({
    factor: numberParam({
      label: 'Times',
      unit: '×',
      min: 1e-6,
      max: 1e6,
      step: 0.0001,
      default: 0.001,
      logarithmic: true,
    }),
  }),
  apply(mesh, { factor }) {
    return {
      mesh: { ...mesh, positions: mesh.positions.map((v) => v * factor) },
      note: `scaled by ${factor}`,
    }
  },
})
