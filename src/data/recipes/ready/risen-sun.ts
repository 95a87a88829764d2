import { contentOf, gradientFill, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { SUNRISE } from './rigs'
import { effect, masked, pass, readyRecipe } from './ready-recipe'

export const risenSun = readyRecipe({
  id: 'risen-sun',
  name: 'Risen sun',
  note: 'A low sun straight behind: long warm haze, burning edges, the near side in blue shade.',
  background: '#f2b877',
  passes: {
    clay: { kind: 'clay', rig: 'Sunrise' },
    occlusion: { kind: 'occlusion', params: { reach: 20 } },
    facing: { kind: 'facing' },
    normal: { kind: 'normal' },
    depth: { kind: 'depth' },
    id: { kind: 'id' },
  },
  rigs: { Sunrise: SUNRISE },
  layers: [
    {
      name: 'Morning sky',
      content: gradientFill('linear', ['#5d7f9b', '#d9a98a', '#fbd9a0'], [0.5, -0.05], [0.5, 0.72]),
    },
    {
      name: 'Sun',
      mode: 'screen',
      content: gradientFill(
        'radial',
        ['#fffbe6', '#ffdf9c', '#f39a4a66', '#f39a4a00'],
        [0.68, 0.22],
        [0.68, 0.84],
      ),
    },
    {
      name: 'Against the light',
      within: [
        { name: 'Form', content: pass('clay', { colour: '#c7b3a2', exposure: 0.1 }) },
        {
          name: 'Colour',
          mode: 'multiply',
          opacity: 0.75,
          content: pass('id', { by: 'material', colours: 'model' }),
        },
        {
          name: 'Occlusion',
          mode: 'multiply',
          opacity: 0.8,
          content: pass('occlusion', { tint: '#2b2440' }),
        },
      ],
      effects: [
        effect('rangeTint', { darks: '#2d3f66', darksBy: 0.5, lights: '#ffd292', lightsBy: 0.4 }),
        effect('rim', { colour: '#ffd089', amount: 1, narrow: 3.5, side: 'angle', angleDeg: 60 }),
        effect('depthHaze', { colour: '#f8c893', amount: 0.8, from: 20, to: 260 }),
      ],
    },
    {
      name: 'Sun over the edges',
      mode: 'screen',
      opacity: 0.55,
      content: gradientFill('radial', ['#ffe9b8', '#ff9d4a66', '#ff9d4a00'], [0.68, 0.22], [0.68, 0.68]),
    },
    {
      name: 'Flare',
      mode: 'screen',
      opacity: 0.5,
      content: contentOf('flare', { source: [0.68, 0.22], size: 22, colour: '#ffd9a0' }),
      mask: masked([surfaceTerm('roles', ['subject'], 'add')], { invert: true, featherPx: 3 }),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [
        effect('gradingTable', { table: 'lateSun', strength: 0.5 }),
        effect('glow', { threshold: 0.78, sigma: 30, amount: 0.5 }),
        effect('dust', { amount: 0.35, size: 3, from: 0.6 }),
        effect('grain', { amount: 0.1 }),
      ],
    },
  ],
})
