import { gradientFill, newTerm, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { STUDIO } from './rigs'
import { effect, masked, pass, readyRecipe } from './ready-recipe'

export const meshPresentation = readyRecipe({
  id: 'mesh-presentation',
  name: 'Mesh presentation',
  note: 'The model as built: pale clay, every edge loop, each part with a breath of its own colour.',
  background: '#e9e7e3',
  passes: {
    clay: { kind: 'clay', rig: 'Studio' },
    occlusion: { kind: 'occlusion', params: { reach: 18 } },
    wire: { kind: 'wireframe' },
    id: { kind: 'id' },
  },
  rigs: { Studio: STUDIO },
  layers: [
    {
      name: 'Backdrop',
      content: gradientFill('radial', ['#f7f5f2', '#dcd9d4', '#b9b6b1'], [0.5, 0.4], [1.15, 1.05]),
    },
    {
      name: 'Model',
      within: [
        { name: 'Clay', content: pass('clay', { colour: '#eeeae4', sheen: 0.08, exposure: 0.15 }) },
        {
          name: 'Part colours',
          mode: 'multiply',
          opacity: 0.34,
          content: pass('id', { by: 'part', colours: 'distinct' }),
          mask: masked([surfaceTerm('roles', ['subject'])]),
        },
        {
          name: 'Occlusion',
          mode: 'multiply',
          opacity: 0.75,
          content: pass('occlusion', { tint: '#2b2a33' }),
        },
      ],
      // The ground is there below the model, to stand on, and nowhere else.
      mask: masked([
        newTerm('gradient', { shape: 'radial', from: [0.5, 0.84], to: [0.92, 0.84] }),
        surfaceTerm('roles', ['ground'], 'intersect'),
        surfaceTerm('roles', ['subject']),
      ]),
    },
    {
      name: 'Wires',
      mode: 'multiply',
      opacity: 0.62,
      content: pass('wireframe', { colour: '#22242c', weight: 0.62, bySpacing: 0.7 }, 'wire'),
      mask: masked([surfaceTerm('roles', ['subject'])]),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [effect('localContrast', { amount: 0.2 }), effect('unsharpMask', { amount: 0.4 })],
    },
  ],
})
