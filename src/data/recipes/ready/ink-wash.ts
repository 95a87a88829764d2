import { contentOf, newTerm, surfaceTerm, wash } from '@/core/sheet/new-layer'
import { WINDOW } from './rigs'
import { effect, inLook, masked, pass, readyRecipe } from './ready-recipe'

export const inkWash = readyRecipe({
  id: 'ink-wash',
  name: 'Ink wash',
  note: 'Three dilutions of blue-black ink that pooled and bled, a loose brush over them.',
  background: '#f3eee2',
  passes: {
    clay: { kind: 'clay', rig: 'Window' },
    occlusion: { kind: 'occlusion', params: { reach: 24 } },
    contour: { kind: 'contour', params: { creaseDeg: 50 } },
    depth: { kind: 'depth' },
    id: { kind: 'id' },
  },
  rigs: { Window: WINDOW },
  layers: [
    {
      name: 'Paper',
      content: contentOf('texture', {
        style: 'paperFibre',
        size: 900,
        strength: 1.2,
        dark: '#ddd3bf',
        light: '#f6f1e6',
      }),
    },
    {
      name: 'Washes',
      mode: 'multiply',
      within: [
        { name: 'Light on the form', content: pass('clay', { colour: '#ffffff', exposure: 0.25 }) },
        { name: 'Where none comes', mode: 'multiply', content: pass('occlusion', { strength: 1.1 }) },
      ],
      effects: [
        effect('painterlySmoothing', { radius: 6 }),
        effect('posterise', { steps: 5 }),
        effect('gaussianBlur', { sigma: 1.2 }),
        effect('brightnessGradient', {
          stops: [
            [0, '#1f2b3a'],
            [0.3, '#4a5a68'],
            [0.55, '#8e9ca3'],
            [0.8, '#d3d6d0'],
            [1, '#fbf8f0'],
          ],
        }),
        effect('inkBleed', { amount: 5, uneven: 0.9 }),
        effect('depthHaze', { colour: '#f6f1e6', amount: 0.75, from: 60, to: 260 }),
      ],
      mask: masked([newTerm('clouds', { size: 420, cover: 0.86, soft: 0.5, seed: 4 })]),
    },
    {
      name: 'Pooled edges',
      mode: 'multiply',
      opacity: 0.5,
      content: contentOf('texture', {
        style: 'clouds',
        size: 520,
        strength: 1.3,
        dark: '#6f7f8c',
        light: '#ffffff',
        seed: 8,
      }),
      mask: masked([surfaceTerm('roles', ['subject'])]),
    },
    {
      name: 'Brush',
      mode: 'multiply',
      content: inLook('contour', 'brush', { colour: '#141d29', weight: 3, dry: 0.35, wobble: 1.2 }),
      effects: [effect('inkBleed', { amount: 1.2, uneven: 0.8 })],
    },
    {
      name: 'Paper shows',
      content: wash(),
      effects: [effect('paperThrough', { amount: 0.22, size: 1.6, colour: '#f6f1e6' })],
    },
  ],
})
