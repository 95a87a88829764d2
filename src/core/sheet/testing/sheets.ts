import type { RgbaPicture } from '../../picture/rgba-picture'
import { newLayer } from '../new-layer'
import { KeptTiles } from '../evaluate/kept-tiles'
import { planSheet } from '../evaluate/plan-sheet'
import type { SheetView } from '../evaluate/sheet-plan'
import { wholePicture } from '../evaluate/picture-rows'
import { SheetEvaluator } from '../evaluate/sheet-evaluator'
import type { RenderSize, SheetResources } from '../sheet-resources'
import { sheetSchema, type Sheet, type SheetNode } from '../sheet-schema'

/** Resources with pictures alone, and what else a test gives. */
export const testResources = (
  pictures: Readonly<Record<string, RgbaPicture>> = {},
  rest: Partial<SheetResources> = {},
): SheetResources => ({
  pass: () => null,
  picture: (id) => pictures[id] ?? null,
  shotPass: () => null,
  revision: (id) => (pictures[id] ? 'there' : 'missing'),
  shotRevision: () => '',
  paintTile: () => null,
  font: () => null,
  ...rest,
})

/** A layer by its id. */
export const testLayer = (id: string, rest: Partial<SheetNode> & Pick<SheetNode, 'content'>): SheetNode =>
  newLayer({ id, name: id, ...rest })

/** A sheet of layers; those that no group names lie on the sheet itself, in order. */
export function testSheet(size: RenderSize, layers: readonly SheetNode[], rest: Partial<Sheet> = {}): Sheet {
  const inGroups = new Set(
    layers.flatMap(({ content }) => (content.kind === 'group' ? content.children : [])),
  )
  return sheetSchema.parse({
    id: 's',
    name: 's',
    ...size,
    blendSpace: 'display',
    background: null,
    roots: layers.filter(({ id }) => !inGroups.has(id)).map(({ id }) => id),
    nodes: Object.fromEntries(layers.map((layer) => [layer.id, layer])),
    ...rest,
  })
}

/** A sheet's picture, premultiplied display values, by an evaluator of its own or one that is given. */
export function composed(
  sheet: Sheet,
  resources: SheetResources,
  view: Partial<SheetView> = {},
  evaluator = new SheetEvaluator(new KeptTiles(), resources),
): Float32Array {
  const size = view.size ?? { width: sheet.width, height: sheet.height }
  evaluator.begin(planSheet(sheet, { ...view, size }, resources))
  return new Float32Array(wholePicture(evaluator, size, 'floats').buffer)
}
