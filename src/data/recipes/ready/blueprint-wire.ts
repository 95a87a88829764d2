import { contentOf, gradientFill, wash } from '@/core/sheet/new-layer'
import { effect, inLook, pass, readyRecipe } from './ready-recipe'

export const blueprintWire = readyRecipe({
  id: 'blueprint-wire',
  name: 'Blueprint wire',
  note: 'White lines on Prussian blue, what lies behind dashed, faces barely washed in.',
  background: '#12395c',
  passes: {
    wire: { kind: 'wireframe', params: { seeThrough: false } },
    contour: { kind: 'contour', params: { creaseDeg: 30 } },
    facing: { kind: 'facing' },
    occlusion: { kind: 'occlusion' },
  },
  layers: [
    {
      name: 'Blue',
      content: gradientFill('radial', ['#1d5480', '#12395c', '#0c2741'], [0.46, 0.4], [1.05, 0.95]),
    },
    {
      name: 'Washed faces',
      mode: 'screen',
      opacity: 0.2,
      content: pass('facing', { curve: 1.2, rim: '#bfe0ff', front: '#12304d' }),
    },
    { name: 'Depth of it', mode: 'multiply', opacity: 0.45, content: pass('occlusion', { tint: '#06182b' }) },
    {
      name: 'Wires',
      mode: 'screen',
      opacity: 0.36,
      content: pass('wireframe', { colour: '#a9d2f2', weight: 0.6, bySpacing: 0.75 }, 'wire'),
    },
    {
      name: 'Outline',
      mode: 'screen',
      content: inLook('contour', 'blueprint', { colour: '#f2f8ff', weight: 1.6, hidden: 'dashed' }),
    },
    {
      name: 'Folded sheet',
      mode: 'soft-light',
      opacity: 0.55,
      content: contentOf('texture', {
        style: 'creases',
        size: 1300,
        dark: '#4d5a66',
        light: '#c8d2da',
        seed: 3,
      }),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [
        effect('grain', { amount: 0.12, size: 1.4 }),
        effect('vignette', { amount: 0.3, colour: '#061626' }),
      ],
    },
  ],
})
