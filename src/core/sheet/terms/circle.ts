import { z } from 'zod'
import { numberParam, pointParam } from '../../params'
import { definePlaneTerm } from './term-kind'

/** A round spot with a soft edge. */
export const circleTerm = definePlaneTerm({
  kind: 'circle',
  version: 1,
  label: 'Circle',
  summary: 'A round spot with an edge as soft as you say.',
  schema: z.object({
    centre: pointParam({ label: 'Middle', default: [0.5, 0.5] }),
    radius: numberParam({ label: 'Radius', unit: '× diagonal', min: -1, max: 3, step: 0.005, default: 0.3 }),
    soft: numberParam({ label: 'Soft edge', unit: '× diagonal', min: 0, max: 1, step: 0.005, default: 0.05 }),
  }),
  shows({ centre, radius, soft }, { sheet }) {
    const diagonal = Math.hypot(sheet.width, sheet.height)
    const [cx, cy] = [centre[0] * sheet.width, centre[1] * sheet.height]
    // Its edge is a pixel wide at least: no stairs.
    return (x, y, _maps, scale) => {
      const width = Math.max(soft * diagonal, 1 / scale)
      const inside = radius * diagonal - Math.hypot(x - cx, y - cy)
      return Math.min(1, Math.max(0, inside / width + 0.5))
    }
  },
})
