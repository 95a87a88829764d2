import { contentOf, evenFill, wash } from '@/core/sheet/new-layer'
import { WINDOW } from './rigs'
import { effect, inLook, pass, readyRecipe } from './ready-recipe'

export const pencilSheet = readyRecipe({
  id: 'pencil-sheet',
  name: 'Pencil sheet',
  note: 'Soft graphite: crossed strokes for shade, a searching outline, white paper for light.',
  background: '#f5f2ea',
  passes: {
    clay: { kind: 'clay', rig: 'Window' },
    occlusion: { kind: 'occlusion', params: { reach: 20 } },
    contour: { kind: 'contour', params: { creaseDeg: 38, suggestive: true } },
    depth: { kind: 'depth' },
  },
  rigs: { Window: WINDOW },
  layers: [
    {
      name: 'Paper',
      content: contentOf('texture', { style: 'paperFibre', size: 600, dark: '#e2dccd', light: '#faf8f2' }),
    },
    {
      name: 'Shade',
      mode: 'multiply',
      opacity: 0.85,
      within: [
        { name: 'Base', content: evenFill('#ffffff') },
        { name: 'Form', content: pass('clay', { colour: '#ffffff', exposure: 0.45 }) },
        { name: 'Occlusion', mode: 'multiply', opacity: 0.9, content: pass('occlusion') },
      ],
      effects: [
        effect('depthHaze', { colour: '#ffffff', amount: 0.7, from: 60, to: 240 }),
        effect('levels', { black: 0.02, white: 0.86 }),
        effect('crossHatching', {
          spacing: 5,
          weight: 0.34,
          layers: 3,
          wobble: 0.6,
          ink: '#3b3a3d',
          paper: '#ffffff',
        }),
      ],
    },
    {
      name: 'Outline',
      mode: 'multiply',
      opacity: 0.9,
      content: inLook('contour', 'softPencil', { colour: '#2c2b2f', weight: 1.9, overshoot: 6 }),
    },
    {
      name: 'Second thoughts',
      mode: 'multiply',
      opacity: 0.3,
      content: inLook('contour', 'softPencil', {
        colour: '#3b3a3d',
        weight: 1.1,
        wobble: 3.4,
        overshoot: 14,
      }),
    },
    {
      name: 'Tooth',
      content: wash(),
      effects: [effect('paperThrough', { amount: 0.45, size: 1.3, colour: '#f8f5ee' })],
    },
  ],
})
