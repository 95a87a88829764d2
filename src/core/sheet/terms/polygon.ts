import { z } from 'zod'
import { pathParam, toggleParam } from '../../params'
import { defineTerm } from './term-kind'
import { closedCurve, polygonCoverage } from './polygon-coverage'

const schema = z.object({
  points: pathParam({
    label: 'Corners',
    default: [
      [0.3, 0.25],
      [0.7, 0.25],
      [0.7, 0.75],
      [0.3, 0.75],
    ],
  }),
  round: toggleParam({ label: 'Rounded', default: false }),
})

/** A shape drawn on the sheet: straight between its corners, or a smooth curve through them. */
export const polygonTerm = defineTerm({
  kind: 'polygon',
  version: 1,
  label: 'Shape',
  summary: 'A polygon, or a free shape, drawn on the proof.',
  schema,
  shape: schema.shape,
  plane({ points, round }, { window, view }) {
    const corners = points.map(([x, y]): [number, number] => [x * view.width, y * view.height])
    return polygonCoverage(round ? closedCurve(corners) : corners, window)
  },
})
