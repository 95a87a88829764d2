import { z } from 'zod'
import { choiceParam, colourParam, grouped, numberParam, stopsParam, toggleParam } from '../params'

/** How a block of type is set, as parameters: see lay-type.ts. Lengths in sheet pixels, shares of the size in ‰ of an em. */
export const typeStyleSchema = z.object({
  size: numberParam({
    label: 'Size',
    unit: 'px',
    min: 2,
    max: 8000,
    step: 0.5,
    default: 120,
    logarithmic: true,
  }),
  tracking: numberParam({ label: 'Tracking', unit: '‰', min: -300, max: 1500, step: 1, default: 0 }),
  leading: numberParam({ label: 'Line step', unit: '×', min: 0.3, max: 4, step: 0.01, default: 1.1 }),
  width: numberParam({ label: 'Drawn out', unit: '%', min: 30, max: 300, step: 1, default: 100 }),
  align: choiceParam({
    label: 'Lines',
    options: { start: 'From the start', middle: 'In the middle', end: 'To the end', justify: 'Justified' },
    default: 'start',
  }),
  colour: colourParam({ label: 'Colour', default: '#2a211b' }),
  ...grouped('Paragraph', {
    fit: choiceParam({
      label: 'Fits',
      options: {
        none: 'Its size stays',
        lines: 'Each line as wide as the frame',
        box: 'All within the frame',
      },
      default: 'none',
    }),
    direction: choiceParam({
      label: 'Runs',
      options: { auto: 'As its script does', right: 'To the right', left: 'To the left', down: 'Downwards' },
      default: 'auto',
    }),
    wordSpace: numberParam({ label: 'Word space', unit: '%', min: 20, max: 400, step: 1, default: 100 }),
    indent: numberParam({ label: 'Indent', unit: '‰', min: -4000, max: 8000, step: 10, default: 0 }),
    paragraphSpace: numberParam({
      label: 'Between paragraphs',
      unit: '‰',
      min: 0,
      max: 4000,
      step: 10,
      default: 0,
    }),
    columns: numberParam({ label: 'Columns', min: 1, max: 8, step: 1, default: 1 }),
    columnGap: numberParam({
      label: 'Between columns',
      unit: '‰',
      min: 0,
      max: 8000,
      step: 10,
      default: 1200,
    }),
    opticalMargins: toggleParam({ label: 'Margins by eye', default: false }),
    hyphens: choiceParam({
      label: 'Divides words',
      options: { none: 'Never', en: 'English', de: 'German', fr: 'French', es: 'Spanish', it: 'Italian' },
      default: 'none',
    }),
  }),
  ...grouped('Letters', {
    kerning: toggleParam({ label: "The font's kerning", default: true }),
    ligatures: toggleParam({ label: 'Ligatures', default: true }),
    capitals: choiceParam({
      label: 'Capitals',
      options: { typed: 'As typed', all: 'All', small: 'Small' },
      default: 'typed',
    }),
    figures: choiceParam({
      label: 'Figures',
      options: { font: 'As the font has', lining: 'Lining', oldStyle: 'Old style', tabular: 'Of one width' },
      default: 'font',
    }),
    alternates: numberParam({ label: 'Stylistic set', min: 0, max: 20, step: 1, default: 0 }),
    baseline: numberParam({ label: 'Raised', unit: '‰', min: -2000, max: 2000, step: 5, default: 0 }),
  }),
  ...grouped('Bent', {
    warp: choiceParam({
      label: 'Bent',
      options: { none: 'Not', arc: 'Over an arc', wave: 'As a wave', rise: 'Rising to one end' },
      default: 'none',
    }),
    bend: numberParam({ label: 'How far', unit: '%', min: -100, max: 100, step: 1, default: 40 }),
  }),
  ...grouped('Gradient', {
    fill: choiceParam({
      label: 'Filled',
      options: { even: 'With its colour', linear: 'With a gradient', radial: 'From the middle' },
      default: 'even',
    }),
    stops: stopsParam({
      label: 'Colours',
      default: [
        [0, '#c4552d'],
        [1, '#5a1f14'],
      ],
    }),
    fillDeg: numberParam({ label: 'Towards', unit: '°', min: -180, max: 180, step: 1, default: 90 }),
  }),
  ...grouped('Edge', {
    outline: numberParam({
      label: 'Outline',
      unit: 'px',
      min: 0,
      max: 400,
      step: 0.5,
      default: 0,
      logarithmic: true,
    }),
    outlineColour: colourParam({ label: 'Outline colour', default: '#f4ead6' }),
    outlineAt: choiceParam({
      label: 'Lies',
      options: { outside: 'Outside', inside: 'Inside', only: 'Alone' },
      default: 'outside',
    }),
    inset: numberParam({
      label: 'Inset rule',
      unit: 'px',
      min: 0,
      max: 200,
      step: 0.5,
      default: 0,
      logarithmic: true,
    }),
  }),
})
export type TypeStyle = z.infer<typeof typeStyleSchema>

/** What tells how letters are set beside their style. */
export interface TypeText {
  readonly text: string
  /** Places along the axes of a variable font, by tag. */
  readonly axes: Readonly<Record<string, number>>
  /** Distances set by hand: of every such pair of characters, in ‰ of an em. */
  readonly pairs: readonly { readonly pair: string; readonly by: number }[]
}

/** Pairs of characters that stand beside each other in a text, in order, each once; without spaces. */
export function pairsOf(text: string): string[] {
  const characters = [...text]
  const pairs = characters.slice(1).map((next, i) => characters[i] + next)
  return [...new Set(pairs.filter((pair) => !/\s/u.test(pair)))]
}

/** Tags of the font's features that a style asks for. */
export function styleFeatures(style: TypeStyle): Record<string, number> {
  const features: Record<string, number> = {}
  if (!style.kerning) Object.assign(features, { kern: 0, vkrn: 0 })
  // Letters that are set apart have no ligatures: CSS Text 3, section 8.2.
  if (!style.ligatures || style.tracking !== 0) Object.assign(features, { liga: 0, clig: 0 })
  if (style.capitals === 'small') Object.assign(features, { smcp: 1 })
  if (style.figures === 'lining') features.lnum = 1
  if (style.figures === 'oldStyle') features.onum = 1
  if (style.figures === 'tabular') features.tnum = 1
  if (style.alternates > 0) features[`ss${String(Math.round(style.alternates)).padStart(2, '0')}`] = 1
  return features
}
