import { z } from 'zod'
import { cutMaskPaint } from '../../paint/cut-paint'
import { paintShape } from '../../paint/paint-grid'
import { resizePlaneWindow } from '../../picture/resample'
import { defineTerm } from './term-kind'

/** What was painted by hand: how much shows, everywhere on the sheet. */
export const paintedTerm = defineTerm({
  kind: 'painted',
  version: 1,
  label: 'Painted',
  summary: 'Painted by hand: shown, hidden, and all between.',
  shape: {
    ...paintShape,
    /** Whether what was not painted shows. */
    outside: z.boolean(),
  },
  plane: (grid, { window, view, resources }) =>
    resizePlaneWindow(
      (rect) => cutMaskPaint(grid, resources, rect, grid.outside ? 1 : 0),
      { pixels: grid.width, origin: 0, length: view.width },
      { pixels: grid.height, origin: 0, length: view.height },
      window,
    ),
})
