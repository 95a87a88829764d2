import { seededRandom } from '../../math/sampling'
import type { RgbaPicture } from '../../picture/rgba-picture'
import { BLEND_MODES } from '../blend-modes'
import { gradientFill, groupOf, newMask, newTerm, wash, wholePicture as pictureOf } from '../new-layer'
import type { Mask, Sheet, SheetEffect, SheetNode } from '../sheet-schema'
import { testLayer, testResources, testSheet } from './sheets'

/** Sheets of anything, for properties that hold of every sheet. */

/** More than one tile on both axes, and neither a whole number of them nor of blocks. */
export const SIZE = { width: 150, height: 141 }

export function noise(seed: number, clear = 0): RgbaPicture {
  const random = seededRandom(seed)
  const pixels = Float32Array.from({ length: 4 * SIZE.width * SIZE.height }, () => random())
  for (let p = 0; p < pixels.length; p += 4) if (random() < clear) pixels[p + 3] = 0
  return { ...SIZE, pixels }
}
export const resources = testResources({ a: noise(1), b: noise(2, 0.4), soft: noise(3) })

export const effect = (
  kind: string,
  params: SheetEffect['params'],
  rest: Partial<SheetEffect> = {},
): SheetEffect => ({
  id: kind,
  kind,
  version: 1,
  enabled: true,
  opacity: 1,
  mask: null,
  params,
  ...rest,
})
export const pictureMask = (pictureId: string, rest: Partial<Mask> = {}): Mask => ({
  ...newMask(),
  terms: [newTerm('picture', { pictureId })],
  ...rest,
})

/** A sheet of anything. */
export function randomSheet(seed: number): Sheet {
  const random = seededRandom(seed)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]
  const layers: SheetNode[] = []
  const make = (depth: number): string => {
    const id = `n${layers.length}`
    const at = layers.length
    layers.push(testLayer(id, { content: wash() }))
    const kinds = depth < 2 ? ['picture', 'fill', 'wash', 'group', 'group'] : ['picture', 'fill', 'wash']
    const kind = pick(kinds)
    const content =
      kind === 'picture'
        ? pictureOf(pick(['a', 'b', 'gone']))
        : kind === 'fill'
          ? gradientFill(pick(['even', 'linear', 'radial', 'angular']), ['#ffcc88', '#22446680', '#881122'])
          : kind === 'wash'
            ? wash()
            : groupOf(
                Array.from({ length: 1 + Math.floor(random() * 3) }, () => make(depth + 1)),
                random() < 0.5,
              )
    layers[at] = testLayer(id, {
      content,
      visible: random() < 0.9,
      mode: pick(BLEND_MODES),
      opacity: pick([1, 1, 0.5, 0.8]),
      confine: random() < 0.15,
      gate: random() < 0.2 ? { own: null, beneath: [0, 0.2, 0.7, 1] } : null,
      mask: random() < 0.3 ? pictureMask('soft', { featherPx: pick([0, 2, 8]) }) : null,
      effects:
        random() < 0.3
          ? [
              pick([
                effect('levels', { gamma: 1.5 }),
                effect('tint', {}),
                effect('gaussianBlur', { sigma: 6 }),
              ]),
            ]
          : [],
    })
    return id
  }
  const roots = Array.from({ length: 4 }, () => make(0))
  return { ...testSheet(SIZE, layers, { blendSpace: pick(['display', 'linear']) }), roots }
}

/** A sheet with one thing of it changed, whatever that is; layers that it leaves alone stay the same objects. */
export function randomEdit(sheet: Sheet, seed: number): Sheet {
  const random = seededRandom(seed)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]
  const id = pick(Object.keys(sheet.nodes))
  const node = sheet.nodes[id]
  const withNode = (patch: Partial<SheetNode>): Sheet => ({
    ...sheet,
    nodes: { ...sheet.nodes, [id]: { ...node, ...patch } },
  })
  const edits: readonly (() => Sheet)[] = [
    () => withNode({ opacity: pick([0, 0.2, 0.7, 1]) }),
    () => withNode({ mode: pick(BLEND_MODES) }),
    () => withNode({ visible: !node.visible }),
    () => withNode({ confine: !node.confine }),
    () => withNode({ name: 'another name' }),
    () => withNode({ gate: pick([null, { own: [0, 0.3, 1, 1], beneath: null }]) }),
    () => withNode({ mask: pick([null, pictureMask('soft'), pictureMask('b', { invert: true })]) }),
    () =>
      withNode({
        effects: pick([[], [effect('levels', { gamma: 0.6 })], [effect('gaussianBlur', { sigma: 3 })]]),
      }),
    () =>
      node.content.kind === 'picture'
        ? withNode({ content: pictureOf(pick(['a', 'b', 'soft', 'gone'])) })
        : node.content.kind === 'group'
          ? withNode({ content: { ...node.content, isolated: !node.content.isolated } })
          : node.content.kind === 'fill'
            ? withNode({ content: gradientFill('linear', ['#104020', '#d0a0c0']) })
            : withNode({ name: 'a wash' }),
    () => ({ ...sheet, roots: [...sheet.roots].reverse() }),
    () => ({ ...sheet, background: pick([null, '#ffffff', '#20304080']) }),
    () => ({ ...sheet, blendSpace: sheet.blendSpace === 'linear' ? 'display' : 'linear' }),
  ]
  return pick(edits)()
}
