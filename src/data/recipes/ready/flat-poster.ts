import { gradientFill, wash } from '@/core/sheet/new-layer'
import { SUN } from './rigs'
import { effect, inLook, pass, readyRecipe } from './ready-recipe'

export const flatPoster = readyRecipe({
  id: 'flat-poster',
  name: 'Flat poster',
  note: 'Six flat inks, light in two steps, a felt line: to be read across a street.',
  background: '#f0d9a8',
  passes: {
    stepped: { kind: 'stepped', rig: 'Hard sun' },
    contour: { kind: 'contour', params: { creaseDeg: 46 } },
    occlusion: { kind: 'occlusion', params: { reach: 8 } },
    id: { kind: 'id' },
  },
  rigs: { 'Hard sun': SUN },
  layers: [
    { name: 'Sky', content: gradientFill('linear', ['#f6c65b', '#f3dba4'], [0.5, 0], [0.5, 1]) },
    {
      name: 'Rays',
      opacity: 0.35,
      mode: 'soft-light',
      content: gradientFill('radial', ['#fff6da', '#e8974a'], [0.5, 0.45], [0.5, 1.2]),
      effects: [effect('posterise', { steps: 6 })],
    },
    {
      name: 'Inks',
      within: [
        {
          name: 'Flat colour',
          content: pass('id', { by: 'material', colours: 'model' }),
          effects: [
            effect('partPalette', {
              colours: ['#c8452f', '#23506b', '#f2b950', '#2f7a72', '#f3e3c3', '#7c3b2e'],
              by: 'material',
              amount: 1,
              lightness: 0.75,
            }),
          ],
        },
        {
          name: 'Light in steps',
          mode: 'multiply',
          content: pass('stepped', {
            light: '#ffffff',
            middle: '#d9c0b4',
            shadow: '#7a6478',
            groundLight: '#ffffff',
            groundShadow: '#8d7b93',
          }),
        },
        {
          name: 'Contact',
          mode: 'multiply',
          opacity: 0.5,
          content: pass('occlusion', { tint: '#3a2440' }),
          effects: [effect('posterise', { steps: 3 })],
        },
      ],
    },
    {
      name: 'Felt line',
      mode: 'multiply',
      content: inLook('contour', 'felt', { colour: '#2b1a24', weight: 3.4, bySpacing: 0.35 }),
    },
    { name: 'Ink on paper', content: wash(), effects: [effect('paperThrough', { amount: 0.16, size: 1.4 })] },
  ],
})
