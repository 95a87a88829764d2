import { gradientFill, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { MOON } from './rigs'
import { effect, inLook, masked, pass, readyRecipe } from './ready-recipe'

export const nightGlow = readyRecipe({
  id: 'night-glow',
  name: 'Night glow',
  note: 'Moonlight from behind, one warm lamp below, and everything bright bleeding into the dark.',
  background: '#0d1526',
  passes: {
    clay: { kind: 'clay', rig: 'Moon' },
    lamp: { kind: 'light', rig: 'Moon', name: 'Lamp alone', members: { lights: ['lamp'] } },
    occlusion: { kind: 'occlusion', params: { reach: 20 } },
    facing: { kind: 'facing' },
    depth: { kind: 'depth' },
    contour: { kind: 'contour', params: { creaseDeg: 48 } },
    id: { kind: 'id' },
  },
  rigs: { Moon: MOON },
  layers: [
    {
      name: 'Night sky',
      content: gradientFill('linear', ['#080d1c', '#14243f', '#2c4a63'], [0.5, 0], [0.5, 0.86]),
    },
    {
      name: 'Moonlit',
      within: [
        { name: 'Form', content: pass('clay', { colour: '#8fa3b8', sheen: 0.2, exposure: -0.6 }) },
        {
          name: 'Colour',
          mode: 'soft-light',
          opacity: 0.7,
          content: pass('id', { by: 'material', colours: 'model' }),
        },
        {
          name: 'Deep places',
          mode: 'multiply',
          content: pass('occlusion', { tint: '#050915', strength: 1.1 }),
        },
        {
          name: 'Cold rim',
          mode: 'screen',
          opacity: 0.6,
          content: pass('facing', { curve: 3.2, rim: '#a8cdf0', front: '#000000' }),
          mask: masked([surfaceTerm('roles', ['subject'])]),
        },
      ],
      effects: [effect('depthHaze', { colour: '#1d3350', amount: 0.85, from: 70, to: 300 })],
    },
    {
      name: 'Lamplight',
      mode: 'plus-lighter',
      opacity: 0.8,
      content: pass('light', { strength: 0.8, colour: '#ffb25a' }, 'lamp'),
      effects: [effect('glow', { threshold: 0.4, sigma: 30, amount: 0.6, colour: '#ff9c45' })],
    },
    {
      name: 'Lines',
      mode: 'multiply',
      opacity: 0.6,
      content: inLook('contour', 'softPencil', { colour: '#04070f', weight: 1.4 }),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [
        effect('glow', { threshold: 0.55, sigma: 26, amount: 0.8, colour: '#ffd7a0' }),
        effect('curve', {
          points: [
            [0, 0],
            [0.22, 0.2],
            [0.6, 0.68],
            [1, 1],
          ],
        }),
        effect('vignette', { amount: 0.55, colour: '#02040a' }),
        effect('grain', { amount: 0.14 }),
      ],
    },
  ],
})
