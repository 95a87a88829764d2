import { paramDefaults, type ParamValues } from '@/core/params'
import type { PassKindName } from '@/core/passes/registry'
import { passKind } from '@/core/passes/registry'
import {
  contentOf,
  evenFill,
  gradientFill,
  groupOf,
  newEffect,
  newLayer,
  newMask,
  newTerm,
  passOf,
  surfaceTerm,
  wash,
} from '@/core/sheet/new-layer'
import type { Mask, Sheet, SheetEffect, SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode } from '@/core/sheet/sheet-tree'
import type { MaskTerm, SurfaceTerm } from '@/core/sheet/terms/registry'
import type { ProjectModel } from '@/data/project-schema'

// One file: two stacks, each read from its back to its front.

/** The stacks of the demo's sheets: the evening of *Low Water*, and the same shot as a print of a coming storm. */

const pass = (kind: PassKindName, look: ParamValues = {}): SheetNode['content'] =>
  passOf(`pass-${kind}`, { ...paramDefaults(passKind(kind).lookSchema), ...look })

let made = 0
const effect = (kind: string, params: ParamValues = {}, rest: Partial<SheetEffect> = {}): SheetEffect => {
  const begun = newEffect(`effect-${++made}`, kind)
  return { ...begun, ...rest, params: { ...begun.params, ...params } }
}

const masked = (terms: readonly MaskTerm[], rest: Partial<Mask> = {}): Mask => ({
  ...newMask(),
  terms: [...terms],
  ...rest,
})

/** Keys of parts and materials by their names. @throws for a name that the harbour does not have. */
export const namesOf = (models: readonly ProjectModel[]) => {
  const find = (kind: 'part' | 'material', name: string): string => {
    const all = models.flatMap(
      (model) => (kind === 'part' ? model.parts : model.materials) as { key: string; name: string }[],
    )
    const found = all.find((own) => own.name === name)
    if (!found) throw new Error(`the harbour has no ${kind} ${name}`)
    return found.key
  }
  return { part: (name: string) => find('part', name), material: (name: string) => find('material', name) }
}
type Names = ReturnType<typeof namesOf>

interface Hung extends Partial<Omit<SheetNode, 'id' | 'name'>> {
  readonly id: string
  readonly name: string
  /** What lies in it, back first, where it is a group. */
  readonly within?: readonly Hung[]
}

function hang(sheet: Sheet, layers: readonly Hung[], parent: string | null = null): void {
  for (const { within, content = groupOf([]), ...rest } of layers) {
    // No word that a parameter or a marker might be, too: what refers to a layer is known by its id alone.
    const id = `layer-${rest.id}`
    insertNode(sheet, newLayer({ ...rest, id, content }), { parent, index: Infinity })
    if (within) hang(sheet, within, id)
  }
}

/** A still evening: warm light from the right, the sea taking up the sky. */
export function hangLowWater(sheet: Sheet, { part, material }: Names): void {
  const named = (kind: SurfaceTerm['kind'], keys: string[]) => surfaceTerm(kind, keys)
  const land = [part('Headland'), part('Far shore'), part('Beacon')]
  const water = named('materials', [material('Water')])
  hang(sheet, [
    {
      id: 'sky',
      name: 'Evening sky',
      note: 'Everything begins with the hour. Four colours down to the horizon; the sea takes them up again further in front.',
      content: gradientFill(
        'linear',
        ['#9fb9c4', '#e2d3b4', '#fbdba2', '#f6b47c'],
        [0.5, -0.05],
        [0.5, 0.62],
      ),
    },
    {
      id: 'clay',
      name: 'Clay',
      note: 'The form in one warm clay, lit by one low key from the right: dark enough that colour has something to lie on.',
      content: pass('clay', { colour: '#e9decb' }),
    },
    {
      id: 'colour',
      name: 'Flat colour',
      note: 'The ID pass in the colours of the materials, multiplied: flat, like a first wash over a drawing. A little more chroma, because the layers in front take some away.',
      mode: 'multiply',
      opacity: 0.88,
      content: pass('id', { by: 'material', colours: 'model' }),
      effects: [effect('hueChromaLightness', { chroma: 1.18 })],
    },
    {
      id: 'occlusion',
      name: 'Occlusion, warm',
      note: 'Where little light comes. Tinted plum and weakened to two thirds: grey shadows would look dead on stone and copper.',
      mode: 'multiply',
      opacity: 0.66,
      content: pass('occlusion', { tint: '#4b2540', strength: 1.08 }),
    },
    {
      id: 'cavity',
      name: 'Cavity',
      note: 'Edges catch light, grooves go dark. Soft light keeps it from looking engraved; its mask holds it to the subject.',
      mode: 'soft-light',
      opacity: 0.62,
      content: pass('cavity', { ridge: 1.25, valley: 1.1 }),
      mask: masked([surfaceTerm('roles', ['subject'])]),
    },
    {
      id: 'haze',
      name: 'Far haze',
      note: 'Air between here and the far shore: one fill, masked by three parts. What is far away is lighter, warmer and flat.',
      opacity: 0.62,
      content: gradientFill('linear', ['#c79c93', '#dba78c'], [0.5, 0.22], [0.5, 0.38]),
      mask: masked([named('parts', land)]),
    },
    {
      id: 'sun',
      name: 'Low sun',
      note: 'A disc in the scene, so that it is hidden where it should be. Its colour is decided here, not in a render.',
      content: gradientFill('linear', ['#fff0c2', '#ffb35c'], [0.5, 0.16], [0.5, 0.3]),
      mask: masked([named('parts', [part('Low sun')])]),
    },
    {
      id: 'glow',
      name: 'Lantern glow',
      note: 'The lantern is lit: a fill on its glass, feathered by six pixels so that it leaves the panes.',
      mode: 'screen',
      opacity: 0.85,
      content: evenFill('#ffb23e'),
      mask: masked([named('parts', [part('Lantern glass')])], { featherPx: 6 }),
    },
    {
      id: 'tide',
      name: 'Water haze',
      note: 'The water is a gradient from haze to deep blue, masked by its material and set in slow ripples.',
      mode: 'normal',
      opacity: 0.66,
      content: gradientFill('linear', ['#b7a091', '#7f9a97', '#457480', '#1f4757'], [0.5, 0.36], [0.5, 1]),
      mask: masked([water], { featherPx: 0.6 }),
      effects: [effect('ripple', { amount: 2.5, length: 26, angleDeg: 90 })],
    },
    {
      id: 'ink',
      name: 'Contour',
      note: 'Lines found on the geometry, drawn as a brush would: heavier where two forms lie far apart. The sun has no outline.',
      mode: 'multiply',
      opacity: 0.86,
      content: pass('contour', {
        ...passKind('contour').readyLooks.brush.look,
        colour: '#34202a',
        weight: 2.5,
        bySpacing: 0.15,
      }),
      mask: masked([named('parts', [part('Low water'), part('Low sun')])], { invert: true }),
    },
    {
      id: 'path',
      name: 'Sun on the water',
      note: 'Brushed streaks of a texture, screened onto the water only below the sun; levels leave nothing but the brightest.',
      mode: 'screen',
      opacity: 0.62,
      content: contentOf('texture', {
        style: 'brushedStreaks',
        size: 520,
        strength: 1.6,
        turnDeg: 0,
        dark: '#000000',
        light: '#ffdc98',
        seed: 3,
      }),
      mask: masked(
        [
          water,
          newTerm('gradient', {
            shape: 'radial',
            from: [0.722, 0.4],
            to: [0.86, 0.46],
            join: 'intersect',
          }),
        ],
        { featherPx: 2 },
      ),
      effects: [effect('levels', { black: 0.42, white: 0.9 })],
    },
    {
      id: 'edge',
      name: 'Light on the edges',
      note: 'Cool shadows, warm lights, on the subject alone. A tone gate by what lies beneath keeps the darkest and the brightest as they are.',
      mode: 'soft-light',
      opacity: 0.7,
      content: gradientFill('linear', ['#3a3f63', '#b58a72', '#ffd79a'], [0.12, 0.6], [0.92, 0.3]),
      mask: masked([surfaceTerm('roles', ['subject'])]),
      gate: { own: null, beneath: [0.02, 0.2, 0.85, 1] },
    },
    {
      id: 'dusk',
      name: 'Dusk from above',
      note: 'The day goes from above: one soft gradient over everything.',
      mode: 'soft-light',
      opacity: 0.34,
      content: gradientFill('linear', ['#f2f0ff', '#50304a']),
    },
    {
      id: 'grade',
      name: 'Evening light',
      note: 'A wash: no pixels of its own, seven effects on all that lies beneath. Rim and haze come from the depth of the shot, not from a brush.',
      content: wash(),
      effects: [
        effect('rim', { colour: '#ffd08a', amount: 0.55, narrow: 4, side: 'angle', angleDeg: 35 }),
        effect('depthHaze', { colour: '#efbd92', amount: 0.16, from: 70, to: 260 }),
        effect('glow', { threshold: 0.8, sigma: 26, amount: 0.55, colour: '#ffd9a0' }),
        effect('exposure', { stops: 0.16, contrast: 1.08 }),
        effect('localContrast', { sigma: 46, amount: 0.2 }),
        effect('rangeTint', { darks: '#2b3150', darksBy: 0.3, lights: '#ffe2b4', lightsBy: 0.25 }),
        effect('vignette', { amount: 0.2, colour: '#2a1a30', size: 66, soft: 80 }),
      ],
    },
    {
      id: 'paper',
      name: 'Evening paper',
      note: 'Fibres of paper, hardly to be seen. They hold the picture together.',
      mode: 'multiply',
      opacity: 0.28,
      content: contentOf('texture', {
        style: 'paperFibre',
        size: 760,
        strength: 0.8,
        dark: '#cfc3b0',
        light: '#ffffff',
      }),
    },
    {
      id: 'wire',
      name: 'Wireframe',
      visible: false,
      mode: 'multiply',
      opacity: 0.5,
      content: pass('wireframe'),
    },
  ])
}

/** The same shot in two inks on grey stock: screens for tone, gates for where each ink lies. */
export function hangStormPrint(sheet: Sheet, { part, material }: Names): void {
  const [blue, ochre] = ['#1f3347', '#e2952f']
  const subject = surfaceTerm('roles', ['subject'])
  hang(sheet, [
    {
      id: 's-stock',
      name: 'Grey stock',
      note: 'Two inks on grey stock: the paper is the lightest tone there will be.',
      content: contentOf('texture', {
        style: 'paperFibre',
        size: 820,
        strength: 1.1,
        dark: '#c9c2b2',
        light: '#e9e3d3',
      }),
    },
    {
      id: 's-sky',
      name: 'Storm sky',
      note: 'Clouds of a texture, turned into the lines of one plate. Behind the subject only: its mask is the subject, inverted.',
      mode: 'multiply',
      content: contentOf('texture', {
        style: 'clouds',
        size: 1500,
        strength: 1.5,
        dark: '#3a3f46',
        light: '#ffffff',
        seed: 21,
      }),
      mask: masked([subject], { invert: true }),
      effects: [
        effect('curve', {
          points: [
            [0, 0],
            [0.45, 0.34],
            [0.8, 0.8],
            [1, 1],
          ],
        }),
        effect('lineScreen', { size: 5, angleDeg: 6, wave: 3, ink: blue, ground: 'paper', paper: '#ffffff' }),
      ],
    },
    {
      id: 's-sea',
      name: 'Sea',
      note: 'Lighter towards the horizon, in wavy lines of the same ink.',
      mode: 'multiply',
      content: gradientFill('linear', ['#d9d9d9', '#8c8c8c', '#4a4a4a'], [0.5, 0.36], [0.5, 1]),
      mask: masked([surfaceTerm('materials', [material('Water')])]),
      effects: [
        effect('lineScreen', { size: 6, angleDeg: 0, wave: 5, ink: blue, ground: 'paper', paper: '#ffffff' }),
      ],
    },
    {
      id: 's-key',
      name: 'Blue plate',
      note: 'A group that is printed as one: base, form, occlusion and cavity together become dots of blue.',
      mode: 'multiply',
      within: [
        { id: 's-white', name: 'Base', content: evenFill('#ffffff') },
        { id: 's-form', name: 'Form', content: pass('clay', { colour: '#ffffff', exposure: 0.25 }) },
        {
          id: 's-occlusion',
          name: 'Occlusion',
          mode: 'multiply',
          opacity: 0.9,
          content: pass('occlusion', { strength: 1.2 }),
        },
        { id: 's-cavity', name: 'Cavity', mode: 'overlay', opacity: 0.5, content: pass('cavity') },
      ],
      mask: masked([subject]),
      effects: [
        effect('levels', { black: 0.08, white: 0.84, gamma: 0.9 }),
        effect('halftone', { size: 5, angleDeg: 52, ink: blue, ground: 'paper', paper: '#ffffff' }),
      ],
    },
    {
      id: 's-ochre',
      name: 'Ochre plate',
      note: 'The second ink goes only where the blue plate left the paper light: a tone gate, no mask drawn by hand.',
      mode: 'multiply',
      content: evenFill('#f0c074'),
      mask: masked([subject]),
      // Only where the blue plate left the paper light.
      gate: { own: null, beneath: [0.3, 0.62, 1, 1] },
    },
    {
      id: 's-roof',
      name: 'Roof in full ochre',
      note: 'Copper and oak in full ochre, with a square dot at an angle of its own.',
      mode: 'multiply',
      opacity: 0.9,
      content: evenFill(ochre),
      mask: masked([surfaceTerm('materials', [material('Copper'), material('Door oak')])]),
      effects: [
        effect('halftone', {
          size: 7,
          angleDeg: 12,
          spot: 'square',
          ink: ochre,
          ground: 'paper',
          paper: '#ffffff',
        }),
      ],
    },
    {
      id: 's-lamp',
      name: 'Lantern',
      note: 'The one spot without a screen: the eye goes there first.',
      mode: 'normal',
      content: evenFill('#ffd36b'),
      mask: masked([surfaceTerm('parts', [part('Lantern glass')])]),
    },
    {
      id: 's-beams',
      name: 'Lantern light',
      note: 'Light of the lantern on all but itself, where there is something to be lit.',
      mode: 'soft-light',
      opacity: 0.9,
      content: gradientFill('radial', ['#fff3cf', '#ffdb8a88', '#ffdb8a00'], [0.508, 0.165], [0.508, 0.82]),
      mask: masked([surfaceTerm('parts', [part('Lantern glass')])], { invert: true }),
      gate: { own: null, beneath: [0.15, 0.5, 1, 1] },
    },
    {
      id: 's-rain',
      name: 'Rain',
      note: 'Streaks at an angle, seen through clouds: rain comes in gusts.',
      mode: 'screen',
      opacity: 0.34,
      content: contentOf('texture', {
        style: 'brushedStreaks',
        size: 620,
        strength: 1.6,
        turnDeg: 74,
        dark: '#000000',
        light: '#f4f1e6',
        seed: 9,
      }),
      mask: masked([newTerm('clouds', { size: 260, cover: 0.6, soft: 0.7, seed: 2 })]),
      effects: [effect('levels', { black: 0.62, white: 0.95 })],
    },
    {
      id: 's-ink',
      name: 'Key line',
      note: 'The key line in blue, as a felt pen draws it.',
      mode: 'multiply',
      content: pass('contour', {
        ...passKind('contour').readyLooks.felt.look,
        colour: blue,
        weight: 2.6,
        bySpacing: 0.25,
      }),
      mask: masked([surfaceTerm('parts', [part('Low sun')])], { invert: true }),
    },
    {
      id: 's-press',
      name: 'Press',
      note: 'What a press does: ink that spreads, paper that shows through, edges that wore.',
      content: wash(),
      effects: [
        effect('inkBleed', { amount: 0.8, uneven: 0.6 }),
        effect('paperThrough', { amount: 0.4, size: 1.8, colour: '#e9e3d3' }),
        effect('wornEdges', { amount: 0.35, size: 9, edge: 10 }),
        effect('vignette', { amount: 0.2, colour: '#18222c' }),
      ],
    },
  ])
}
