import type { Draft } from 'immer'
import type { TypeBlock } from '@/core/sheet/contents/type'
import { contentOf, newLayer, newMask, newTerm } from '@/core/sheet/new-layer'
import { suggestedName } from '@/core/sheet/suggested-name'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode, layersOf } from '@/core/sheet/sheet-tree'
import { FIRST_FONT } from '@/core/type/font-catalogue'
import { activeSheet, sheetsOf } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { marginBox } from '@/data/page-size'
import { pagesOf } from '@/data/poster-series'
import { sheetShownBy } from '@/data/shown-sheets'
import type { ProjectSheet, TypeStyleEntry } from '@/data/project-schema'
import { setIn, styleOf } from '@/data/type-styles'
import { activePage, typeSizePx } from '@/state/poster-actions'
import { changeProject, useProjectStore } from '@/state/project-store'
import { changeSheet } from '@/state/sheet-actions'
import { setBench } from '@/state/view-store'
import { changeContent, changeLayer, deleteLayer } from '../sheet/layer-actions'

/** What can be put on a page, and how things stand on it. Each is one undo step. */

const pageNow = (): ProjectSheet | null => {
  const { project } = useProjectStore.getState()
  return project && activePage(project)
}

function insert(label: string, layer: SheetNode): void {
  changeSheet(label, (sheet) => insertNode(sheet, layer, { parent: null, index: Infinity }))
  setBench({ layerId: layer.id })
}

/** Puts a block of type within the margins. @returns its id. */
export function addType(text = 'Title'): string | null {
  const page = pageNow()
  if (!page?.page) return null
  const [x0, y0, x1, y1] = marginBox(page.page)
  const blocks = layersOf(page).filter(({ content }) => content.kind === 'type')
  // Each a little below the last.
  const down = Math.min(0.7, 0.16 * blocks.length)
  const size = typeSizePx(page.page, blocks.length === 0 ? 0.3 : 0.06)
  const content = contentOf('type', {
    text,
    fontId: FIRST_FONT,
    size,
    leading: 0.9,
    box: [x0, y0 + down * (y1 - y0), x1 - x0, Math.min(y1 - y0, (2.1 * size) / page.height)],
  })
  const layer = newLayer({ id: newId(), name: 'Type', content })
  insert('add type', { ...layer, name: suggestedName(layer) ?? 'Type' })
  return layer.id
}

/** Puts a sheet of the project on the page. */
export function addSheetFrame(sheetId?: string): void {
  const page = pageNow()
  const { project } = useProjectStore.getState()
  if (!page?.page || !project) return
  const sheets = sheetsOf(project, page.shotId)
  const sheet = project.sheets.find(({ id }) => id === sheetId) ?? sheets[0]
  if (!sheet) return
  const [x0, y0, x1, y1] = marginBox(page.page)
  const content = contentOf('sheet', { sheetId: sheet.id, box: [x0, y0, x1 - x0, y1 - y0] })
  insert('add a sheet', newLayer({ id: newId(), name: sheet.name, content }))
}

/** The depth a layer stands at; null: before everything. */
export function depthOf(layer: SheetNode): number | null {
  const term = layer.mask?.terms.find((own) => own.kind === 'standing' && own.enabled)
  return term?.kind === 'standing' ? term.depth : null
}

/** Stands a layer at a depth of the shot: parts that are nearer cover it. Null: before everything. */
export const standAt = (layerId: string, depth: number | null): void =>
  changeLayer(
    layerId,
    'stand at a depth',
    (layer) => {
      const others = layer.mask?.terms.filter(({ kind }) => kind !== 'standing') ?? []
      if (depth === null) {
        if (!layer.mask) return
        layer.mask.terms = others
        if (others.length === 0 && !layer.mask.invert && layer.mask.effects.length === 0) layer.mask = null
        return
      }
      const term = newTerm('standing', {
        depth: Math.min(1000, Math.max(-10, depth)),
        join: others.length > 0 ? 'intersect' : 'add',
      })
      layer.mask = layer.mask ?? newMask()
      layer.mask.terms = [...others, term]
    },
    'depth',
  )

/** Takes a block apart into its letters, each a block of its own, where it stands. */
export function takeApart(
  layer: SheetNode,
  places: readonly { readonly text: string; readonly box: readonly [number, number, number, number] }[],
): void {
  if (layer.content.kind !== 'type') return
  const { content } = layer
  const ids: string[] = []
  changeProject('take letters apart', (draft) => {
    const sheet = draft.sheets.find((own) => own.id === pageNow()?.id)
    const own = sheet?.nodes[layer.id]
    if (!sheet || !own) return
    const at = sheet.roots.indexOf(layer.id)
    places.forEach(({ text, box }, i) => {
      const id = newId()
      ids.push(id)
      sheet.nodes[id] = {
        ...structuredClone(layer),
        id,
        name: text,
        content: { ...structuredClone(content), text, box: [...box], pairs: [], align: 'start', fit: 'none' },
      }
      if (at >= 0) sheet.roots.splice(at + 1 + i, 0, id)
      else sheet.roots.push(id)
    })
    sheet.roots = sheet.roots.filter((id) => id !== layer.id)
    delete sheet.nodes[layer.id]
  })
  setBench({ layerId: ids[0] ?? null })
}

/** Puts the poster's first page into the mock-up at work: on paper, or into the picture beneath. */
export function addPrinted(kind: 'mockup' | 'fitted'): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  const sheet = activeSheet(project)
  const printed = layersOf(sheet).find(
    ({ content }) => content.kind === 'mockup' || content.kind === 'fitted',
  )
  const [first] = pagesOf(project, sheet.mockupOf ?? '')
  const own = printed && sheetShownBy(printed.content)
  const page = project.sheets.find(({ id }) => id === own) ?? first
  if (!page) return
  const content = contentOf(kind, { sheetId: page.id, ...(kind === 'fitted' && fittedCorners(page, sheet)) })
  insert(
    kind === 'mockup' ? 'put it on paper' : 'fit it into a picture',
    newLayer({ id: newId(), name: page.name, content }),
  )
}

/** A page upright in the middle of a mock-up, as it begins. */
function fittedCorners(page: ProjectSheet, sheet: ProjectSheet) {
  const height = 0.6
  const width = (height * sheet.height * page.width) / page.height / sheet.width
  const [x0, x1, y0, y1] = [0.5 - width / 2, 0.5 + width / 2, 0.5 - height / 2, 0.5 + height / 2]
  return {
    corners: [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ],
  }
}

/** Keeps how a block is set under a name, and sets it in that. */
export function keepStyle(layer: SheetNode, name: string): void {
  const page = pageNow()
  if (!page || layer.content.kind !== 'type') return
  const entry = styleOf(newId(), name, layer.content, page)
  changeProject('keep a style', (draft) => {
    draft.typeStyles.push(entry)
    const own = draft.sheets.find(({ id }) => id === page.id)?.nodes[layer.id]
    if (own?.content.kind === 'type') own.content.styleId = entry.id
  })
}

/** Sets a block in a style. */
export function applyStyle(layerId: string, entry: TypeStyleEntry): void {
  const page = pageNow()
  if (!page) return
  changeContent(layerId, 'type', `set in ${entry.name}`, (block) => setIn(block as TypeBlock, entry, page))
}

/** Makes a style what a block is now: all blocks that are set in it follow, on every page. */
export function changeStyle(layer: SheetNode): void {
  const page = pageNow()
  if (!page || layer.content.kind !== 'type') return
  const { content } = layer
  changeProject('change a style', (draft) => {
    const at = draft.typeStyles.findIndex(({ id }) => id === content.styleId)
    if (at < 0) return
    const next = styleOf(draft.typeStyles[at].id, draft.typeStyles[at].name, content, page)
    draft.typeStyles[at] = next as Draft<TypeStyleEntry>
    for (const sheet of draft.sheets)
      for (const node of Object.values(sheet.nodes))
        if (node.content.kind === 'type' && node.content.styleId === next.id && node.id !== layer.id)
          setIn(node.content as TypeBlock, next, sheet)
  })
}

/** Forgets a style; blocks that are set in it stay as they are. */
export const dropStyle = (styleId: string): void =>
  changeProject('remove a style', (draft) => {
    draft.typeStyles = draft.typeStyles.filter(({ id }) => id !== styleId)
    for (const sheet of draft.sheets)
      for (const node of Object.values(sheet.nodes))
        if (node.content.kind === 'type' && node.content.styleId === styleId) delete node.content.styleId
  })

/** Fills a block with a picture of a sheet: the sheet lies over it, confined to its letters. */
export function fillWithSheet(layer: SheetNode): void {
  const page = pageNow()
  const { project } = useProjectStore.getState()
  if (!page || !project || layer.content.kind !== 'type') return
  const [sheet] = sheetsOf(project, page.shotId)
  if (!sheet) return
  const content = contentOf('sheet', { sheetId: sheet.id, box: [...layer.content.box] })
  const filling = newLayer({ id: newId(), name: `${sheet.name} in ${layer.name}`, content, confine: true })
  changeSheet('fill letters with a sheet', (draft) => {
    draft.nodes[filling.id] = filling
    const at = draft.roots.indexOf(layer.id)
    draft.roots.splice(at < 0 ? draft.roots.length : at + 1, 0, filling.id)
  })
  setBench({ layerId: filling.id })
}

/** The layer that is the shadow of another; undefined where it throws none. */
export const shadowOf = (page: ProjectSheet, layerId: string): SheetNode | undefined =>
  Object.values(page.nodes).find(({ content }) => content.kind === 'castShadow' && content.of === layerId)

/** Lets a layer throw its shadow on the surfaces of the shot, from the key light of the shot's rig; or not any more. */
export function throwShadow(layer: SheetNode, isThrown: boolean): void {
  const page = pageNow()
  const { project } = useProjectStore.getState()
  if (!page || !project) return
  const before = shadowOf(page, layer.id)
  if (!isThrown) {
    if (before) deleteLayer(before.id)
    return
  }
  if (before) return
  const shot = project.shots.find(({ id }) => id === page.shotId)
  const rig = project.rigs.find(({ id }) => id === shot?.rigId)
  const key = rig?.lights.find((light) => light.on && light.kind !== 'dome')
  const from =
    key && key.kind !== 'dome' && key.tied === 'camera'
      ? {
          azimuthDeg: Math.round(key.azimuthDeg),
          elevationDeg: Math.round(Math.min(89, Math.max(-89, key.elevationDeg))),
        }
      : {}
  const content = contentOf('castShadow', { of: layer.id, ...from })
  const shadow = newLayer({
    id: newId(),
    name: `Shadow of ${layer.name}`,
    content,
    mode: 'multiply',
    confine: true,
  })
  changeSheet('throw a shadow', (draft) => {
    draft.nodes[shadow.id] = shadow
    const at = draft.roots.indexOf(layer.id)
    draft.roots.splice(at < 0 ? draft.roots.length : at, 0, shadow.id)
  })
}
