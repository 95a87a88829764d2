import { z } from 'zod'
import { choiceParam, colourParam, grouped, numberParam, toggleParam } from '../params'

/** Factor of the weight for one kind of line; 0 leaves it out. */
const kindWeight = (label: string, byDefault: number) =>
  numberParam({ label, unit: '×', min: 0, max: 4, step: 0.05, default: byDefault })
const share = (label: string, byDefault = 0) =>
  numberParam({ label, min: 0, max: 1, step: 0.01, default: byDefault })
const thousandths = (label: string, max: number, byDefault = 0) =>
  numberParam({ label, unit: '‰', min: 0, max, step: 0.1, default: byDefault })

/**
 * How lines are stroked: everything here is live, nothing of it finds lines anew. Lengths are thousandths of the
 * picture's height.
 */
export const lineStyleSchema = z.object({
  weight: numberParam({
    label: 'Weight',
    unit: '‰',
    min: 0.2,
    max: 20,
    step: 0.1,
    default: 1.6,
    logarithmic: true,
  }),
  colour: colourParam({ label: 'Line', default: '#1c1815' }),
  ...grouped('Kinds of line', {
    silhouette: kindWeight('Silhouette', 1.4),
    border: kindWeight('Border', 1.2),
    part: kindWeight('Parts', 1),
    material: kindWeight('Materials', 0.7),
    intersection: kindWeight('Parts meeting', 0.9),
    crease: kindWeight('Crease', 0.6),
    suggestive: kindWeight('Suggestive', 0.6),
    shadow: kindWeight('Shadow edge', 0.6),
    wire: kindWeight('Polygon edge', 0.5),
  }),
  ...grouped('Weight by', {
    byDepth: numberParam({ label: 'Depth', min: -1, max: 1, step: 0.01, default: 0 }),
    byCurvature: share('Bend'),
    byLight: share('Thin when lit'),
    lightFrom: choiceParam({
      label: 'Light from',
      options: { rig: 'The rig’s first light', own: 'A direction of its own' },
      default: 'rig',
    }),
    lightAzimuth: numberParam({
      label: 'Light round',
      unit: '°',
      min: -180,
      max: 180,
      step: 1,
      default: -45,
    }),
    lightHeight: numberParam({ label: 'Light height', unit: '°', min: -90, max: 90, step: 1, default: 45 }),
    bySpacing: share('Crowding'),
  }),
  ...grouped('Stroke', {
    taper: thousandths('Taper', 100),
    taperTo: share('Tapers to', 0.1),
    overshoot: thousandths('Overshoot', 30),
    wobble: thousandths('Wobble', 6),
    wobbleLength: numberParam({
      label: 'Wobble every',
      unit: '‰',
      min: 5,
      max: 200,
      step: 1,
      default: 40,
      logarithmic: true,
    }),
    dry: share('Dry brush'),
    variation: numberParam({ label: 'Hand', min: 0, max: 999, step: 1, default: 0 }),
    drawn: numberParam({ label: 'Drawn as far as', min: 0, max: 1, step: 0.01, default: 1 }),
  }),
  ...grouped('Second colours', {
    twoTone: toggleParam({ label: 'Lit colour', default: false }),
    litColour: colourParam({ label: 'When lit', default: '#a8673f' }),
    byPart: toggleParam({ label: 'By part', default: false }),
  }),
  ...grouped('Hidden lines', {
    hidden: choiceParam({
      label: 'Hidden lines',
      options: { off: 'Off', dashed: 'Dashed', whole: 'Whole' },
      default: 'off',
    }),
    /** Lines behind more surfaces than that are left out: many layers of dashes say nothing. */
    hiddenBehind: numberParam({ label: 'Behind at most', min: 1, max: 9, step: 1, default: 2 }),
    hiddenWeight: numberParam({
      label: 'Hidden weight',
      unit: '×',
      min: 0.1,
      max: 2,
      step: 0.05,
      default: 0.5,
    }),
    dash: numberParam({ label: 'Dash', unit: '‰', min: 1, max: 60, step: 0.5, default: 7 }),
  }),
})
export type LineStyle = z.infer<typeof lineStyleSchema>

const PLAIN = lineStyleSchema.parse({})

/** Ready styles. */
export const LINE_STYLES: Readonly<Record<string, { readonly label: string; readonly style: LineStyle }>> = {
  technical: {
    label: 'Technical',
    style: {
      ...PLAIN,
      weight: 1.3,
      silhouette: 1.6,
      crease: 0.7,
      part: 1,
      hidden: 'dashed',
      hiddenWeight: 0.45,
    },
  },
  felt: {
    label: 'Felt',
    style: {
      ...PLAIN,
      weight: 3.2,
      silhouette: 1.15,
      crease: 0.8,
      bySpacing: 0.3,
      wobble: 0.5,
      wobbleLength: 60,
      overshoot: 1,
    },
  },
  brush: {
    label: 'Brush',
    style: {
      ...PLAIN,
      weight: 3,
      silhouette: 1.6,
      crease: 0.6,
      byLight: 0.75,
      byCurvature: 0.5,
      bySpacing: 0.25,
      taper: 28,
      taperTo: 0.05,
      dry: 0.25,
      wobble: 0.4,
    },
  },
  etched: {
    label: 'Etched',
    style: {
      ...PLAIN,
      weight: 2,
      silhouette: 1.5,
      crease: 0.8,
      suggestive: 0.9,
      byLight: 0.6,
      bySpacing: 0.5,
      taper: 14,
      taperTo: 0.2,
      wobble: 0.25,
      wobbleLength: 20,
    },
  },
  blueprint: {
    label: 'Blueprint',
    style: {
      ...PLAIN,
      weight: 1.2,
      colour: '#e8f1f7',
      litColour: '#ffffff',
      overshoot: 4,
      hidden: 'dashed',
      hiddenWeight: 0.6,
      crease: 0.8,
    },
  },
  softPencil: {
    label: 'Soft pencil',
    style: {
      ...PLAIN,
      weight: 1.7,
      colour: '#4a4540',
      byDepth: 0.5,
      byLight: 0.35,
      taper: 20,
      taperTo: 0.15,
      wobble: 0.6,
      wobbleLength: 30,
      dry: 0.45,
      overshoot: 2,
    },
  },
}
