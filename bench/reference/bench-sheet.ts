import { writePng } from '@/core/formats/png'
import type { RgbaPicture } from '@/core/picture/rgba-picture'
import { BLEND_MODES } from '@/core/sheet/blend-modes'
import { groupOf, wash, wholePicture } from '@/core/sheet/new-layer'
import type { Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import { effect, pictureMask } from '@/core/sheet/testing/random-sheet'
import { testLayer, testSheet } from '@/core/sheet/testing/sheets'
import { newProject } from '@/data/new-project'
import { writeProjectArchive } from '@/data/project-archive'

/** A sheet such as an illustrator's: twenty layers, six masks, groups, two washes. */
export const SIZE = { width: 1280, height: 800 }

/** A picture of soft forms; partly clear. */
export function softPicture(seed: number): RgbaPicture {
  const { width, height } = SIZE
  const pixels = new Float32Array(4 * width * height)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      for (let c = 0; c < 3; c++)
        pixels[i + c] = 0.5 + 0.5 * Math.sin((x * (c + 2) + y * (seed % 5)) / 90 + seed + c)
      pixels[i + 3] = Math.min(1, Math.max(0, 0.7 + 0.6 * Math.cos((x - y) / 140 + seed)))
    }
  return { width, height, pixels }
}

export function benchLayers(): { layers: SheetNode[]; pictures: Record<string, RgbaPicture> } {
  const pictures = Object.fromEntries(
    Array.from({ length: 6 }, (_, i) => [`p${i}`, softPicture(i + 1)] as const),
  )
  const pictureLayer = (i: number): SheetNode =>
    testLayer(`l${i}`, {
      content: wholePicture(`p${i % 6}`),
      mode: i === 0 ? 'normal' : BLEND_MODES[i % BLEND_MODES.length],
      opacity: 0.8,
      mask: i % 3 === 1 ? pictureMask(`p${(i + 2) % 6}`) : null,
    })
  const layers = Array.from({ length: 18 }, (_, i) => pictureLayer(i))
  layers.push(
    testLayer('w1', { content: wash(), effects: [effect('levels', { gamma: 1.2 })] }),
    testLayer('w2', {
      content: wash(),
      mode: 'soft-light',
      opacity: 0.4,
      effects: [effect('levels', { black: 0.05 })],
    }),
    testLayer('g1', { content: groupOf(['l4', 'l5', 'l6']), mode: 'multiply', opacity: 0.8 }),
    testLayer('g2', { content: groupOf(['l9', 'l10', 'w1'], false) }),
  )
  return { layers, pictures }
}

/** A rack of sixty layers: as {@link benchLayers}, most of them three times more, fainter. */
export function manyLayers(): { layers: SheetNode[]; pictures: Record<string, RgbaPicture> } {
  const { layers, pictures } = benchLayers()
  const again = (suffix: string) =>
    layers
      .filter(({ content }) => content.kind === 'picture')
      .map((layer) => ({
        ...layer,
        id: `${layer.id}${suffix}`,
        name: `${layer.name}${suffix}`,
        opacity: 0.4,
      }))
  return { layers: [...layers, ...again('b'), ...again('c'), ...again('d').slice(0, 2)], pictures }
}

/** A large sheet of thirty layers, eight of them with masks. */
export function largeSheet(size: RenderSize): { sheet: Sheet; pictures: Record<string, RgbaPicture> } {
  const { layers, pictures } = benchLayers()
  const more = layers
    .filter(({ content, id }) => content.kind === 'picture' && Number(id.slice(1)) < 10)
    .map((layer) => ({ ...layer, id: `${layer.id} again` }))
  return { sheet: testSheet(size, [...layers, ...more], { background: '#f4efe6' }), pictures }
}

/** A sheet as a project's archive. */
export function sheetArchive(
  { width, height, background, roots, nodes }: Sheet,
  pictures: Readonly<Record<string, RgbaPicture>>,
): Promise<Uint8Array> {
  const project = newProject('Bench')
  Object.assign(project.sheets[0], { width, height, background, roots, nodes })
  const files = new Map<string, { name: string; bytes: Uint8Array }>()
  for (const [id, picture] of Object.entries(pictures)) {
    const bytes = writePng(
      picture.width,
      picture.height,
      Uint8ClampedArray.from(picture.pixels, (v) => 255 * v),
    )
    files.set(`f-${id}`, { name: `${id}.png`, bytes })
    project.pictures.push({ id, name: `${id}.png`, fileId: `f-${id}` })
  }
  return writeProjectArchive({ project, files, results: new Map() })
}

/** What hands reach for: tones, colours, blurs, and what lies about each pixel. */
const EFFECT_ROUND = [
  ['levels', { gamma: 1.2 }],
  ['curve', {}],
  ['hueChromaLightness', { hueDeg: 12 }],
  ['gaussianBlur', { sigma: 3 }],
  ['rangeTint', {}],
  ['grain', {}],
  ['unsharpMask', {}],
  ['gradingTable', {}],
  ['vignette', {}],
  ['glow', {}],
] as const

/** A sheet with so many effects, one after the other on its layers that have pixels of their own, from the front. */
export function withEffects(sheet: Sheet, count: number): Sheet {
  const ids = Object.values(sheet.nodes)
    .filter(({ content }) => content.kind === 'picture')
    .map(({ id }) => id)
    .reverse()
  const nodes = { ...sheet.nodes }
  for (let i = 0; i < count; i++) {
    const [kind, params] = EFFECT_ROUND[i % EFFECT_ROUND.length]
    const node = nodes[ids[i % ids.length]]
    nodes[node.id] = { ...node, effects: [...node.effects, { ...effect(kind, params), id: `e${i}` }] }
  }
  return { ...sheet, nodes }
}
