import { contentOf, gradientFill, newTerm, wash } from '@/core/sheet/new-layer'
import { RAKING } from './rigs'
import { effect, inLook, masked, pass, readyRecipe } from './ready-recipe'

export const etchedPlate = readyRecipe({
  id: 'etched-plate',
  name: 'Etched plate',
  note: 'Lines cut along the form in brown-black ink, the plate’s edge pressed into the paper.',
  background: '#e9dfc8',
  passes: {
    clay: { kind: 'clay', rig: 'Raking' },
    occlusion: { kind: 'occlusion', params: { reach: 16 } },
    normal: { kind: 'normal' },
    depth: { kind: 'depth' },
    contour: { kind: 'contour', params: { creaseDeg: 36 } },
  },
  rigs: { Raking: RAKING },
  layers: [
    {
      name: 'Paper',
      content: contentOf('texture', { style: 'laidPaper', size: 620, dark: '#e0d4b8', light: '#f4ecda' }),
    },
    {
      name: 'Plate tone',
      mode: 'multiply',
      opacity: 0.35,
      content: contentOf('texture', {
        style: 'plaster',
        strength: 0.45,
        size: 900,
        dark: '#b79f77',
        light: '#ffffff',
        seed: 5,
      }),
      mask: masked(
        [
          newTerm('polygon', {
            points: [
              [0.025, 0.034],
              [0.975, 0.034],
              [0.975, 0.966],
              [0.025, 0.966],
            ],
          }),
        ],
        { featherPx: 1.2 },
      ),
    },
    {
      name: 'Bitten lines',
      mode: 'multiply',
      within: [
        {
          name: 'Sky tone',
          content: gradientFill('linear', ['#8f8f8f', '#ffffff'], [0.5, -0.1], [0.5, 0.6]),
        },
        { name: 'Form', content: pass('clay', { colour: '#ffffff', exposure: 0.6 }) },
        { name: 'Occlusion', mode: 'multiply', opacity: 0.85, content: pass('occlusion') },
      ],
      effects: [
        effect('depthHaze', { colour: '#ffffff', amount: 0.85, from: 40, to: 220 }),
        effect('levels', { black: 0.02, white: 0.72, gamma: 1.35 }),
        effect('engraving', {
          size: 4.2,
          angleDeg: 14,
          bend: 16,
          cross: 0.6,
          ink: '#2c1d14',
          paper: '#ffffff',
        }),
        effect('inkBleed', { amount: 0.7, uneven: 0.5 }),
      ],
      mask: masked(
        [
          newTerm('polygon', {
            points: [
              [0.035, 0.05],
              [0.965, 0.05],
              [0.965, 0.95],
              [0.035, 0.95],
            ],
          }),
        ],
        { featherPx: 1.5 },
      ),
    },
    {
      name: 'Outline',
      mode: 'multiply',
      content: inLook('contour', 'etched', { colour: '#2c1d14', weight: 1.7 }),
      mask: masked([
        newTerm('polygon', {
          points: [
            [0.035, 0.05],
            [0.965, 0.05],
            [0.965, 0.95],
            [0.035, 0.95],
          ],
        }),
      ]),
    },
    {
      name: 'Age',
      content: wash(),
      effects: [effect('vignette', { amount: 0.22, colour: '#6b4e2a' }), effect('grain', { amount: 0.08 })],
    },
  ],
})
