import { z } from 'zod'
import { layerParam } from '../../params'
import { definePlaneTerm } from './term-kind'

/** Where another layer has pixels, through its own mask. */
export const layerAlphaTerm = definePlaneTerm({
  kind: 'layerAlpha',
  version: 1,
  label: 'Alpha of a layer',
  summary: 'Where another layer shows something.',
  schema: z.object({ layer: layerParam({ label: 'Layer' }) }),
  maps: ({ layer }) => [{ from: 'layer', id: layer, measure: 'alpha' }],
  shows:
    () =>
    (_x, _y, [alpha]) =>
      Math.min(1, Math.max(0, alpha)),
})
