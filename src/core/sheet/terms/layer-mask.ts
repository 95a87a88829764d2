import { z } from 'zod'
import { layerParam } from '../../params'
import { definePlaneTerm } from './term-kind'

/** The mask of another layer, shared: what is done to it there is done here. */
export const layerMaskTerm = definePlaneTerm({
  kind: 'layerMask',
  version: 1,
  label: 'Mask of a layer',
  summary: 'The same mask as another layer, kept in step with it.',
  schema: z.object({ layer: layerParam({ label: 'Layer' }) }),
  maps: ({ layer }) => [{ from: 'mask', id: layer }],
  shows:
    () =>
    (_x, _y, [shown]) =>
      Math.min(1, Math.max(0, shown)),
})
