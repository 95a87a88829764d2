import { contentOf, evenFill, gradientFill, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { SUN } from './rigs'
import { effect, inLook, masked, pass, readyRecipe } from './ready-recipe'

export const twoColourPrint = readyRecipe({
  id: 'two-colour-print',
  name: 'Two-colour print',
  note: 'A red and a blue ink in coarse screens on warm stock.',
  background: '#f4ead4',
  passes: {
    clay: { kind: 'clay', rig: 'Hard sun' },
    occlusion: { kind: 'occlusion', params: { reach: 18 } },
    contour: { kind: 'contour', params: { creaseDeg: 40 } },
    id: { kind: 'id' },
  },
  rigs: { 'Hard sun': SUN },
  layers: [
    {
      name: 'Stock',
      content: contentOf('texture', { style: 'paperFibre', size: 800, dark: '#e3d3b3', light: '#f7eedb' }),
    },
    {
      name: 'Sky in red',
      mode: 'multiply',
      content: gradientFill('linear', ['#ffffff', '#f6d3c8', '#e98a78'], [0.5, 0.9], [0.5, -0.1]),
      mask: masked([surfaceTerm('roles', ['subject'])], { invert: true }),
      effects: [effect('lineScreen', { size: 9, angleDeg: 0, ink: '#e0513c', paper: '#ffffff' })],
    },
    {
      name: 'Red',
      mode: 'multiply',
      within: [
        { name: 'Base', content: evenFill('#ffffff') },
        { name: 'Materials', content: pass('id', { by: 'material', colours: 'model' }) },
        {
          name: 'Light on them',
          mode: 'multiply',
          content: pass('clay', { colour: '#ffffff', exposure: 0.2 }),
        },
      ],
      effects: [
        effect('levels', { black: 0.15, white: 0.92, gamma: 0.62 }),
        effect('halftone', { size: 8, angleDeg: 18, ink: '#e0513c', paper: '#ffffff' }),
      ],
      mask: masked([surfaceTerm('roles', ['subject'])]),
    },
    {
      name: 'Blue',
      mode: 'multiply',
      within: [
        { name: 'Base', content: evenFill('#ffffff') },
        { name: 'Form', content: pass('clay', { colour: '#ffffff', exposure: 0.35 }) },
        { name: 'Occlusion', mode: 'multiply', opacity: 0.8, content: pass('occlusion') },
      ],
      effects: [
        effect('levels', { black: 0.04, white: 0.7, gamma: 1.2 }),
        effect('halftone', { size: 7, angleDeg: 62, ink: '#1d3f6e', paper: '#ffffff' }),
      ],
    },
    {
      name: 'Key line',
      mode: 'multiply',
      content: inLook('contour', 'felt', { colour: '#1d3f6e', weight: 2.6 }),
    },
    {
      name: 'Press',
      content: wash(),
      effects: [
        effect('paperThrough', { amount: 0.35, size: 2, colour: '#f4ead4' }),
        effect('inkBleed', { amount: 0.9, uneven: 0.5 }),
      ],
    },
  ],
})
