import { z } from 'zod'
import { lineStyleSchema } from '../lines/line-style'
import { parseHex } from '../math/colour'
import { choiceParam, colourParam, grouped, numberParam, toggleParam } from '../params'
import { idleWhere, NO_GROUND } from './idle-params'
import type { TileContext } from './pass-kind'
import { definePass } from './pass-kind'

/** Everything of a style that a wire has no use for, as it is where nobody asks. */
const PLAIN = lineStyleSchema.parse({})

/**
 * The polygon edges as the modeller drew them (no triangle diagonals) as vector lines, over a fill of the faces. Where
 * edges are denser than the pixels they thin out instead of filling up.
 */
export const wireframe = definePass({
  kind: 'wireframe',
  label: 'Wireframe',
  summary: 'The polygon edges as they were modelled, hidden ones left out, dashed or seen through.',
  renderSchema: z.object({
    seeThrough: toggleParam({ label: 'See through', default: false }),
    ground: toggleParam({ label: 'Ground edges', default: true }),
  }),
  lookSchema: lineStyleSchema
    .pick({
      colour: true,
      byPart: true,
      byDepth: true,
      taper: true,
      overshoot: true,
      wobble: true,
      wobbleLength: true,
      dry: true,
      drawn: true,
    })
    .extend({
      weight: numberParam({
        label: 'Weight',
        unit: '‰',
        min: 0.1,
        max: 20,
        step: 0.1,
        default: 0.9,
        logarithmic: true,
      }),
      ...grouped('Weight by', {
        bySpacing: numberParam({ label: 'Crowding', min: 0, max: 1, step: 0.01, default: 0.6 }),
      }),
      ...grouped('Hidden edges', {
        /** Of what a render that sees through has kept. */
        hidden: choiceParam({
          label: 'Seen through',
          options: { off: 'Off', dashed: 'Dashed', whole: 'Whole' },
          default: 'whole',
        }),
        hiddenBehind: numberParam({ label: 'Behind at most', min: 1, max: 9, step: 1, default: 9 }),
        dash: numberParam({ label: 'Dash', unit: '‰', min: 1, max: 60, step: 0.5, default: 7 }),
        hiddenWeight: numberParam({
          label: 'Hidden weight',
          unit: '×',
          min: 0.1,
          max: 2,
          step: 0.05,
          default: 1,
        }),
      }),
      ...grouped('Fill', {
        fill: numberParam({ label: 'Fill', min: 0, max: 1, step: 0.01, default: 0 }),
        fillColour: colourParam({ label: 'Fill colour', default: '#f4efe6' }),
        bySides: toggleParam({ label: 'Fill by sides', default: false }),
        triangles: colourParam({ label: 'Triangles', default: '#d77a4a' }),
        quads: colourParam({ label: 'Quads', default: '#e9e2d4' }),
        more: colourParam({ label: 'More sides', default: '#6d8fb0' }),
      }),
    }),
  channels: [
    { name: 'S3', format: 'unorm8' },
    { name: 'S4', format: 'unorm8' },
    { name: 'S5', format: 'unorm8' },
    { name: 'F', format: 'half' },
  ],
  efforts: {
    draft: { samples: 4, rays: 0 },
    good: { samples: 8, rays: 0 },
    final: { samples: 16, rays: 0 },
  },
  layer: { mode: 'multiply', opacity: 0.5 },
  readyLooks: {
    technical: { label: 'Technical', look: { weight: 0.8, hidden: 'dashed', hiddenWeight: 0.5 } },
    paper: { label: 'On paper', look: { weight: 1.1, fill: 1, fillColour: '#f7f4ec' } },
    blueprint: {
      label: 'Blueprint',
      look: { weight: 1, colour: '#e8f1f7', fill: 1, fillColour: '#24466b', overshoot: 2 },
    },
    softPencil: {
      label: 'Soft pencil',
      look: { weight: 1.1, colour: '#4a4540', byDepth: 0.5, taper: 8, wobble: 0.4, dry: 0.35 },
    },
    bySides: { label: 'By sides', look: { weight: 0.9, fill: 1, bySides: true } },
  },
  lines: {
    setting: ({ seeThrough, ground }) => ({ kinds: ['wire'], keepHidden: seeThrough, ground }),
    style: (look) => ({ ...PLAIN, ...look, wire: 1 }),
    hasFill: ({ fill }) => fill > 0,
  },

  idleRender: (_params, { hasGround }) => idleWhere([!hasGround, ['ground'], NO_GROUND]),
  idleLook: (look, { rendered }) =>
    idleWhere(
      [
        rendered.seeThrough !== true,
        ['hidden', 'hiddenBehind', 'hiddenWeight', 'dash'],
        'Render it see through',
      ],
      [look.hidden === 'off', ['hiddenBehind', 'hiddenWeight', 'dash'], 'Hidden edges are off'],
      [look.hidden !== 'dashed', ['dash'], 'Hidden edges are not dashed'],
      [look.wobble === 0, ['wobbleLength'], 'Wobble is at 0'],
      [look.wobble === 0 && look.dry === 0, ['variation'], 'Neither wobble nor dry brush'],
      [look.fill === 0, ['fillColour', 'bySides', 'triangles', 'quads', 'more'], 'Fill is at 0'],
      [look.bySides, ['fillColour'], 'Filled by sides'],
      [!look.bySides, ['triangles', 'quads', 'more'], 'Not filled by sides'],
    ),

  createRenderer({ scene, shown }) {
    /** How much of each pixel polygons of three, four and more sides cover, and all together. */
    return ({ tile, hits, memory }: TileContext): Float32Array[] => {
      const pixels = tile.width * tile.height
      const planes = [0, 1, 2, 3].map(() => memory.floats(pixels))
      for (let p = 0; p < pixels; p++) {
        const part = 1 / (hits.starts[p + 1] - hits.starts[p])
        for (let i = hits.starts[p]; i < hits.starts[p + 1]; i++) {
          const slot = hits.slots[i]
          if (slot < 0 || shown?.[scene.tree.tags[slot] & 0xffffff] === 0) continue
          planes[Math.min(5, scene.triangleSides[scene.tree.ids[slot]]) - 3][p] += part
          planes[3][p] += part
        }
      }
      return planes
    }
  },

  /** The faces beneath the lines. */
  look({ count, planes }, params, out) {
    const fills = [params.triangles, params.quads, params.more].map(parseHex)
    const plain = parseHex(params.fillColour)
    const [s3, s4, s5, alpha] = planes
    for (let i = 0; i < count; i++) {
      const all = Math.max(1e-6, s3[i] + s4[i] + s5[i])
      for (let c = 0; c < 3; c++)
        out[4 * i + c] = params.bySides
          ? (s3[i] * fills[0][c] + s4[i] * fills[1][c] + s5[i] * fills[2][c]) / all
          : plain[c]
      out[4 * i + 3] = alpha[i] * params.fill
    }
  },
})
