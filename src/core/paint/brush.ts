import { z } from 'zod'
import { choiceParam, grouped, numberParam, paramDefaults } from '../params'

/** What a brush is besides its tip. Lengths are in sheet pixels. */
export const brushSchema = z.object({
  size: numberParam({
    label: 'Size',
    unit: 'px',
    min: 1,
    max: 2000,
    step: 1,
    default: 60,
    logarithmic: true,
  }),
  flow: numberParam({ label: 'Flow', min: 0.01, max: 1, step: 0.01, default: 0.6 }),
  whole: numberParam({ label: 'Whole stroke', min: 0.01, max: 1, step: 0.01, default: 0.85 }),
  steady: numberParam({ label: 'Steady hand', min: 0, max: 1, step: 0.01, default: 0.15 }),
  ...grouped('Grain', {
    grain: choiceParam({
      label: 'Grain',
      options: { none: 'None', paper: 'Paper', chalk: 'Chalk', canvas: 'Canvas', plaster: 'Plaster' },
      default: 'none',
    }),
    bite: numberParam({ label: 'Grain counts', min: 0, max: 1, step: 0.01, default: 0.7 }),
    grainSize: numberParam({
      label: 'Grain size',
      unit: '×',
      min: 0.2,
      max: 8,
      step: 0.05,
      default: 1,
      logarithmic: true,
    }),
    holds: choiceParam({
      label: 'Grain holds to',
      options: { page: 'The page', stroke: 'The stroke' },
      default: 'page',
    }),
  }),
  ...grouped('Tip', {
    spacing: numberParam({ label: 'Spacing', unit: '×', min: 0.02, max: 3, step: 0.01, default: 0.1 }),
    roundness: numberParam({ label: 'Roundness', min: 0.05, max: 1, step: 0.01, default: 1 }),
    turns: choiceParam({
      label: 'Angle',
      options: {
        fixed: 'Fixed',
        stroke: 'By the stroke',
        tilt: 'By the pen’s tilt',
        twist: 'By the pen’s twist',
        tilted: 'Across the form’s tilt',
        curvature: 'Along the form’s curvature',
      },
      default: 'fixed',
    }),
    angleDeg: numberParam({ label: 'Turned', unit: '°', min: -180, max: 180, step: 1, default: 0 }),
    lies: numberParam({ label: 'Lies on the form', min: 0, max: 1, step: 0.01, default: 0 }),
    takesUp: numberParam({ label: 'Takes up colour', min: 0, max: 1, step: 0.01, default: 0 }),
  }),
  ...grouped('Unevenness', {
    jitterAngle: numberParam({ label: 'Uneven angle', min: 0, max: 1, step: 0.01, default: 0 }),
    jitterSize: numberParam({ label: 'Uneven size', min: 0, max: 1, step: 0.01, default: 0 }),
    jitterFlow: numberParam({ label: 'Uneven flow', min: 0, max: 1, step: 0.01, default: 0 }),
    scatter: numberParam({ label: 'Scatter', unit: '×', min: 0, max: 3, step: 0.01, default: 0 }),
  }),
  ...grouped('Taper', {
    taperIn: numberParam({ label: 'Taper in', unit: 'px', min: 0, max: 2000, step: 1, default: 0 }),
    taperOut: numberParam({ label: 'Taper out', unit: 'px', min: 0, max: 2000, step: 1, default: 0 }),
  }),
  ...grouped('Pen', {
    leastSize: numberParam({ label: 'Size unpressed', unit: '×', min: 0, max: 1, step: 0.01, default: 0.4 }),
    leastFlow: numberParam({ label: 'Flow unpressed', unit: '×', min: 0, max: 1, step: 0.01, default: 0.5 }),
    pressure: numberParam({
      label: 'Pressure curve',
      min: 0.2,
      max: 5,
      step: 0.05,
      default: 1,
      logarithmic: true,
    }),
    atRest: numberParam({ label: 'Presses at rest', unit: 'a second', min: 0, max: 60, step: 1, default: 0 }),
  }),
})
export type BrushParams = z.infer<typeof brushSchema>
export const BRUSH_DEFAULTS: BrushParams = paramDefaults(brushSchema)

/** A brush: a tip, which of its kind, and how it is led. */
export const brushUseSchema = z.strictObject({
  /** Its kind, or one of one's own: see own-tip.ts. */
  tip: z.string().max(40_000),
  seed: z.number().int().min(0).max(9999),
  params: brushSchema,
})
export type BrushUse = z.infer<typeof brushUseSchema>
