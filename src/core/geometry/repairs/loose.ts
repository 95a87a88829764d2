import { z } from 'zod'
import { dropLooseVertices } from '../rebuild-mesh'
import { plural } from '../../plural'
import { defineRepair } from './repair-kind'

/** Vertices without a polygon go. */
export const loose = defineRepair({
  kind: 'loose',
  label: 'Drop loose vertices',
  summary: 'Vertices that no polygon uses go.',
  schema: z.object({}),
  apply(mesh) {
    const { mesh: tight, dropped } = dropLooseVertices(mesh)
    return { mesh: tight, note: `dropped ${plural(dropped, 'loose vertex', 'loose vertices')}` }
  },
})
