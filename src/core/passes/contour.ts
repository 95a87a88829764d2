import { z } from 'zod'
import type { LineKind } from '../lines/line-kinds'
import { LINE_STYLES, lineStyleSchema } from '../lines/line-style'
import { numberParam, toggleParam } from '../params'
import { idleWhere, NO_GROUND } from './idle-params'
import { LINES_ALONE } from './line-pass'
import { definePass } from './pass-kind'

/** What is found in any case: what of it is drawn, and how heavily, is live. */
const ALWAYS = ['silhouette', 'border', 'part', 'material', 'intersection', 'crease'] as const

/** Vector lines found on the geometry; how they are stroked is live. */
export const contour = definePass({
  kind: 'contour',
  label: 'Contour',
  summary: 'Ink lines found on the models: outlines, creases, and where parts and materials meet.',
  renderSchema: z.object({
    creaseDeg: numberParam({ label: 'Crease from', unit: '°', min: 5, max: 120, step: 1, default: 35 }),
    suggestive: toggleParam({ label: 'Suggestive', default: false }),
    suggestiveFrom: numberParam({
      label: 'Suggest from',
      unit: '1/D²',
      min: 5,
      max: 1000,
      step: 5,
      default: 60,
      logarithmic: true,
    }),
    shadow: toggleParam({ label: 'Shadow edges', default: false }),
    ground: toggleParam({ label: 'Ground lines', default: false }),
  }),
  lookSchema: lineStyleSchema.omit({ wire: true }),
  channels: [],
  readyLooks: Object.fromEntries(
    Object.entries(LINE_STYLES).map(([name, { label, style }]) => {
      const { wire: _wire, ...look } = style
      return [name, { label, look }]
    }),
  ),
  lines: {
    setting: ({ creaseDeg, suggestive, suggestiveFrom, shadow, ground }) => ({
      kinds: [
        ...ALWAYS,
        ...(suggestive ? ['suggestive' as const] : []),
        ...(shadow ? ['shadow' as const] : []),
      ] satisfies LineKind[],
      creaseDeg,
      suggestiveFrom,
      ground,
    }),
    style: (look) => ({ ...look, wire: 0 }),
  },
  idleRender: ({ suggestive }, { hasGround }) =>
    idleWhere(
      [!suggestive, ['suggestiveFrom'], 'Suggestive lines are off'],
      [!hasGround, ['ground'], NO_GROUND],
    ),
  idleLook: (look, { rendered, facts }) =>
    idleWhere(
      [rendered.suggestive !== true, ['suggestive'], 'Render it with suggestive lines'],
      [rendered.shadow !== true, ['shadow'], 'Render it with shadow edges'],
      [
        look.byLight === 0 && !look.twoTone,
        ['lightFrom', 'lightAzimuth', 'lightHeight'],
        'No line follows the light: thin when lit is at 0, lit colour is off',
      ],
      [
        look.lightFrom === 'rig' && Array.isArray(facts.toLight),
        ['lightAzimuth', 'lightHeight'],
        'The light is the rig’s',
      ],
      [!look.twoTone, ['litColour'], 'Lit colour is off'],
      [look.taper === 0, ['taperTo'], 'Taper is at 0'],
      [look.wobble === 0, ['wobbleLength'], 'Wobble is at 0'],
      [look.wobble === 0 && look.dry === 0, ['variation'], 'Neither wobble nor dry brush'],
      [look.hidden === 'off', ['hiddenBehind', 'hiddenWeight', 'dash'], 'Hidden lines are off'],
      [look.hidden !== 'dashed', ['dash'], 'Hidden lines are not dashed'],
    ),

  usesLights: ({ shadow }) => shadow,
  efforts: LINES_ALONE,
  layer: { mode: 'multiply', opacity: 1 },
})
