import { z } from 'zod'
import { choiceParam, pointParam } from '../../params'
import { definePlaneTerm } from './term-kind'

/** From all to nothing between two places: along a line, or outwards from the first. */
export const gradientTerm = definePlaneTerm({
  kind: 'gradient',
  version: 1,
  label: 'Gradient',
  summary: 'All of it at one place, nothing at another, evenly between.',
  schema: z.object({
    shape: choiceParam({
      label: 'Runs',
      options: { linear: 'Along a line', radial: 'Outwards' },
      default: 'linear',
    }),
    from: pointParam({ label: 'All at', default: [0.5, 0.2] }),
    to: pointParam({ label: 'Nothing at', default: [0.5, 0.8] }),
  }),
  shows({ shape, from, to }, { sheet }) {
    const [x0, y0] = [from[0] * sheet.width, from[1] * sheet.height]
    const [dx, dy] = [to[0] * sheet.width - x0, to[1] * sheet.height - y0]
    const length2 = Math.max(1e-9, dx * dx + dy * dy)
    return (x, y) => {
      const along =
        shape === 'linear'
          ? ((x - x0) * dx + (y - y0) * dy) / length2
          : Math.sqrt(((x - x0) ** 2 + (y - y0) ** 2) / length2)
      return Math.min(1, Math.max(0, 1 - along))
    }
  },
})
