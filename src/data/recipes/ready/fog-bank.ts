import { contentOf, gradientFill, newTerm, wash } from '@/core/sheet/new-layer'
import { OVERCAST } from './rigs'
import { effect, inLook, masked, pass, readyRecipe } from './ready-recipe'

export const fogBank = readyRecipe({
  id: 'fog-bank',
  name: 'Fog bank',
  note: 'Still grey air: what is near keeps its ink, what is far is hardly there.',
  background: '#c9d0cf',
  passes: {
    clay: { kind: 'clay', rig: 'Overcast' },
    occlusion: { kind: 'occlusion', params: { reach: 30 } },
    cavity: { kind: 'cavity' },
    depth: { kind: 'depth' },
    contour: { kind: 'contour', params: { creaseDeg: 46 } },
    id: { kind: 'id' },
  },
  rigs: { Overcast: OVERCAST },
  layers: [
    { name: 'Air', content: gradientFill('linear', ['#dfe4e2', '#c4cccb', '#b3bdbc'], [0.5, 0], [0.5, 1]) },
    {
      name: 'Form',
      within: [
        { name: 'Clay', content: pass('clay', { colour: '#b9b5ab', exposure: 0 }) },
        {
          name: 'Colour',
          mode: 'multiply',
          opacity: 0.6,
          content: pass('id', { by: 'material', colours: 'model' }),
        },
        {
          name: 'Occlusion',
          mode: 'multiply',
          opacity: 0.9,
          content: pass('occlusion', { tint: '#22303a', strength: 1.1 }),
        },
        { name: 'Cavity', mode: 'soft-light', opacity: 0.5, content: pass('cavity') },
        {
          name: 'Line',
          mode: 'multiply',
          opacity: 0.7,
          content: inLook('contour', 'softPencil', { colour: '#1c262c', weight: 1.5, byDepth: 0.6 }),
        },
      ],
      effects: [
        effect('hueChromaLightness', { chroma: 0.7 }),
        effect('depthHaze', { colour: '#ccd4d3', amount: 1, from: 0, to: 190 }),
      ],
    },
    {
      name: 'Fog on the ground',
      opacity: 0.75,
      content: contentOf('texture', {
        style: 'clouds',
        size: 760,
        strength: 1.2,
        dark: '#b9c3c3',
        light: '#e6ebe9',
        seed: 12,
      }),
      mask: masked(
        [
          newTerm('gradient', { from: [0.5, 0.94], to: [0.5, 0.48] }),
          newTerm('clouds', { size: 300, cover: 0.55, soft: 0.8, seed: 6, join: 'intersect' }),
          newTerm('depthRange', { range: [0.05, 0.5, 3, 3], join: 'intersect' }),
        ],
        { featherPx: 14 },
      ),
    },
    {
      name: 'Finish',
      content: wash(),
      effects: [
        effect('curve', {
          points: [
            [0, 0.04],
            [0.4, 0.38],
            [0.75, 0.78],
            [1, 1],
          ],
        }),
        effect('rangeTint', { darks: '#1f3a45', darksBy: 0.3, lights: '#f4efe2', lightsBy: 0.2 }),
        effect('grain', { amount: 0.16, size: 1.8 }),
      ],
    },
  ],
})
