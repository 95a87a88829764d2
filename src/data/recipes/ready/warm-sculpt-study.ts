import { gradientFill, newTerm, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { STUDIO } from './rigs'
import { effect, masked, pass, readyRecipe } from './ready-recipe'

export const warmSculptStudy = readyRecipe({
  id: 'warm-sculpt-study',
  name: 'Warm sculpt study',
  note: 'Terracotta under three soft lights against a dark wall, thin places glowing.',
  background: '#2b2019',
  passes: {
    clay: { kind: 'clay', rig: 'Studio', params: { roughness: 0.4 } },
    occlusion: { kind: 'occlusion', params: { reach: 22 } },
    cavity: { kind: 'cavity', params: { radius: 0.5 } },
    thickness: { kind: 'thickness' },
    facing: { kind: 'facing' },
    id: { kind: 'id' },
  },
  rigs: { Studio: STUDIO },
  layers: [
    {
      name: 'Wall',
      content: gradientFill('radial', ['#8c6a50', '#4a3427', '#241812'], [0.5, 0.42], [0.5, 1.18]),
      effects: [effect('grain', { amount: 0.08, size: 2 })],
    },
    {
      name: 'Sculpt',
      within: [
        { name: 'Terracotta', content: pass('clay', { colour: '#c98a66', sheen: 0.16, exposure: 0.1 }) },
        {
          name: 'Shining through',
          mode: 'screen',
          opacity: 0.22,
          content: pass('thickness', { thin: '#ff7a45' }),
        },
        {
          name: 'Occlusion',
          mode: 'multiply',
          opacity: 0.8,
          content: pass('occlusion', { tint: '#34120a', strength: 1.15 }),
        },
        {
          name: 'Cavity',
          mode: 'overlay',
          opacity: 0.6,
          content: pass('cavity', { ridge: 1.3, valley: 1.2 }),
        },
        {
          name: 'Cool rim',
          mode: 'screen',
          opacity: 0.4,
          content: pass('facing', { curve: 4.5, rim: '#9fb6c9', front: '#000000', clear: true }),
          mask: masked([surfaceTerm('roles', ['subject'])]),
        },
      ],
      // The ground sinks into the wall.
      mask: masked([
        surfaceTerm('roles', ['subject']),
        newTerm('gradient', { shape: 'radial', from: [0.5, 0.8], to: [1.02, 0.8] }),
      ]),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [
        effect('localContrast', { sigma: 50, amount: 0.3 }),
        effect('curve', {
          points: [
            [0, 0],
            [0.3, 0.26],
            [0.7, 0.76],
            [1, 1],
          ],
        }),
        effect('vignette', { amount: 0.5, colour: '#140b07' }),
        effect('grain', { amount: 0.1 }),
      ],
    },
  ],
})
