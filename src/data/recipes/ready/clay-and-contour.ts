import { contentOf, newTerm, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { WINDOW } from './rigs'
import { effect, inLook, masked, pass, readyRecipe } from './ready-recipe'

export const clayAndContour = readyRecipe({
  id: 'clay-and-contour',
  name: 'Clay and contour',
  note: 'Pale clay on paper, warm where light cannot go, drawn round with a brush.',
  background: '#efe7d8',
  passes: {
    clay: { kind: 'clay', rig: 'Window' },
    occlusion: { kind: 'occlusion', params: { reach: 14 } },
    cavity: { kind: 'cavity', params: { radius: 0.45 } },
    contour: { kind: 'contour', params: { creaseDeg: 44 } },
    id: { kind: 'id' },
  },
  rigs: { Window: WINDOW },
  layers: [
    {
      name: 'Paper',
      content: contentOf('texture', { style: 'paperFibre', size: 700, dark: '#d9cdb8', light: '#f3ecdf' }),
    },
    {
      name: 'Form',
      within: [
        { name: 'Clay', content: pass('clay', { colour: '#e2d5c1', sheen: 0.04 }) },
        {
          name: 'Occlusion, warm',
          mode: 'multiply',
          opacity: 0.7,
          content: pass('occlusion', { tint: '#6a3320', strength: 1.1 }),
        },
        { name: 'Cavity', mode: 'soft-light', opacity: 0.55, content: pass('cavity', { ridge: 1.2 }) },
      ],
      // What is ground fades into the paper towards the front.
      mask: masked([
        surfaceTerm('roles', ['subject']),
        newTerm('gradient', { from: [0.5, 1.02], to: [0.5, 0.72] }),
      ]),
    },
    {
      name: 'Contour',
      mode: 'multiply',
      opacity: 0.92,
      content: inLook('contour', 'brush', { colour: '#3a241a', weight: 2.4, bySpacing: 0.25 }),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [
        effect('localContrast', { amount: 0.22 }),
        effect('rangeTint', { darks: '#3b2a3a', darksBy: 0.22, lights: '#fff0d2', lightsBy: 0.25 }),
      ],
    },
  ],
})
