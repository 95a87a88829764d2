import { current } from 'immer'
import { BLEND_MODES, type BlendMode } from '@/core/sheet/blend-modes'
import { groupOf, newLayer } from '@/core/sheet/new-layer'
import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import {
  childrenOf,
  copyNodes,
  insertCopies,
  insertNode,
  moveNode,
  placeOf,
  removeNode,
  walkSheet,
  withinLayer,
} from '@/core/sheet/sheet-tree'
import { plural } from '@/core/plural'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { ProjectSheet } from '@/data/project-schema'
import { useProjectStore } from '@/state/project-store'
import { changeSheet } from '@/state/sheet-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { hangingLayers, lockedAbove, stepLayer, type DropSide } from './layer-actions'

/** Several layers at once: the one at work leads, others are chosen beside it. */

/** How a press on a card chooses: that layer alone, it too or no longer, or all from the one at work to it. */
export type ChooseHow = 'alone' | 'toggle' | 'range'

const sheetNow = (): ProjectSheet | null => {
  const { project } = useProjectStore.getState()
  return project && activeSheet(project)
}

/** Ids of the chosen layers, as they hang from back to front. */
export function chosenIds(
  sheet: ProjectSheet,
  { layerId, alsoChosen }: Pick<ReturnType<typeof useViewStore.getState>, 'layerId' | 'alsoChosen'>,
): string[] {
  if (layerId === null) return []
  const also = alsoChosen.lead === layerId ? alsoChosen.ids : []
  const wanted = new Set([layerId, ...also])
  return walkSheet(sheet).flatMap(({ node }) => (wanted.has(node.id) ? [node.id] : []))
}

/** Chosen layers without those that lie in a chosen group: what is done to it is done to them. */
const outermost = (sheet: ProjectSheet, ids: readonly string[]): string[] => {
  const within = new Set(ids.flatMap((id) => withinLayer(sheet, id).slice(1)))
  return ids.filter((id) => !within.has(id))
}

/** How a press on a card chooses, by the keys that are held with it. */
export const wayOfChoosing = (keys: {
  readonly shiftKey: boolean
  readonly ctrlKey: boolean
  readonly metaKey: boolean
}): ChooseHow => (keys.shiftKey ? 'range' : keys.ctrlKey || keys.metaKey ? 'toggle' : 'alone')

export function chooseLayer(id: string, how: ChooseHow = 'alone'): void {
  const sheet = sheetNow()
  const { layerId, ...view } = useViewStore.getState()
  if (!sheet || how === 'alone' || layerId === null) {
    // Whoever chooses a layer has chosen no recipe.
    setBench({ layerId: id, alsoChosen: { lead: id, ids: [] }, recipe: null })
    return
  }
  const chosen = chosenIds(sheet, { layerId, ...view })
  if (how === 'range') {
    const hanging = hangingLayers(sheet).map((layer) => layer.id)
    const [from, to] = [hanging.indexOf(layerId), hanging.indexOf(id)].sort((a, b) => a - b)
    setBench({ alsoChosen: { lead: layerId, ids: hanging.slice(Math.max(0, from), to + 1) } })
    return
  }
  const rest = chosen.filter((own) => own !== id)
  if (rest.length === chosen.length) setBench({ layerId: id, alsoChosen: { lead: id, ids: chosen } })
  else if (rest.length > 0) {
    const lead = id === layerId ? rest[rest.length - 1] : layerId
    setBench({ layerId: lead, alsoChosen: { lead, ids: rest } })
  }
}

export function chooseAll(): void {
  const sheet = sheetNow()
  const ids = sheet ? hangingLayers(sheet).map(({ id }) => id) : []
  const { layerId } = useViewStore.getState()
  const lead = layerId !== null && ids.includes(layerId) ? layerId : ids.at(-1)
  if (lead !== undefined) setBench({ layerId: lead, alsoChosen: { lead, ids } })
}

/** Chooses the next layer as well: in front of the foremost chosen one, or behind the hindmost. */
export function chooseOneMore(by: 1 | -1): void {
  const sheet = sheetNow()
  const bench = useViewStore.getState()
  if (!sheet || bench.layerId === null) return
  const hanging = hangingLayers(sheet).map(({ id }) => id)
  const chosen = chosenIds(sheet, bench)
  const next = hanging[hanging.indexOf(by > 0 ? chosen[chosen.length - 1] : chosen[0]) + by]
  if (next !== undefined) setBench({ alsoChosen: { lead: bench.layerId, ids: [...chosen, next] } })
}

/** The chosen layers that may be changed; says which may not. */
function changeable(sheet: ProjectSheet, ids: readonly string[]): string[] {
  const free = ids.filter((id) => lockedAbove(sheet, id) === null)
  const held = ids.length - free.length
  if (held > 0)
    setBench({
      refusal: `${plural(held, 'of the chosen layers is', 'of the chosen layers are')} locked and ${held === 1 ? 'stays as it is' : 'stay as they are'}.`,
    })
  return free
}

/** Changes every chosen layer as one undo step. @param whether locked ones too. */
export function changeChosen(
  label: string,
  apply: (layer: SheetNode) => void,
  options: { readonly merge?: string; readonly lockedToo?: boolean } = {},
): void {
  const sheet = sheetNow()
  if (!sheet) return
  const all = chosenIds(sheet, useViewStore.getState())
  const ids = options.lockedToo ? all : changeable(sheet, all)
  if (ids.length === 0) return
  changeSheet(
    label,
    (draft) => {
      for (const id of ids) apply(draft.nodes[id] as SheetNode)
    },
    options.merge && `${ids.join(' ')} ${options.merge}`,
  )
}

export const setChosenMode = (mode: BlendMode): void =>
  changeChosen('blend mode of layers', (layer) => void (layer.mode = mode))

export const cycleChosenMode = (by: number): void =>
  changeChosen('blend mode', (layer) => {
    layer.mode = BLEND_MODES[(BLEND_MODES.indexOf(layer.mode) + by + BLEND_MODES.length) % BLEND_MODES.length]
  })

/** Gives all chosen layers the mask of the one at work. */
export function shareMask(): void {
  const sheet = sheetNow()
  const { layerId } = useViewStore.getState()
  const mask: Mask | null = (sheet && layerId !== null && sheet.nodes[layerId]?.mask) || null
  changeChosen('the same mask', (layer) => void (layer.mask = structuredClone(mask)))
}

/** Deletes the chosen layers, with all that lies in them. */
export function deleteChosen(): void {
  const sheet = sheetNow()
  if (!sheet) return
  const ids = changeable(sheet, outermost(sheet, chosenIds(sheet, useViewStore.getState())))
  if (ids.length === 0) return
  const gone = new Set(ids.flatMap((id) => withinLayer(sheet, id)))
  const hanging = hangingLayers(sheet).map(({ id }) => id)
  const first = hanging.indexOf(ids[0])
  const next =
    hanging
      .slice(0, first)
      .filter((id) => !gone.has(id))
      .at(-1) ?? hanging.slice(first).find((id) => !gone.has(id))
  changeSheet(`delete ${plural(ids.length, 'layer', 'layers')}`, (draft) => {
    for (const id of ids) removeNode(draft, id)
  })
  setBench({ layerId: next ?? null })
}

/** A copy of each chosen layer in front of it. The copies are chosen then. */
export function duplicateChosen(): void {
  const sheet = sheetNow()
  if (!sheet) return
  const made: string[] = []
  changeSheet('duplicate layers', (draft) => {
    const now = current(draft) as ProjectSheet
    for (const id of outermost(now, chosenIds(now, useViewStore.getState()))) {
      const [first, ...rest] = copyNodes(now, id, newId)
      const place = placeOf(draft, id)
      if (!place) continue
      insertCopies(draft, [{ ...first, name: `${first.name} copy` }, ...rest], {
        ...place,
        index: place.index + 1,
      })
      made.push(first.id)
    }
  })
  const lead = made.at(-1)
  if (lead !== undefined) setBench({ layerId: lead, alsoChosen: { lead, ids: made } })
}

/** Puts the chosen layers into one group that passes through, where the foremost of them hangs. */
export function groupChosen(): void {
  const sheet = sheetNow()
  if (!sheet) return
  const ids = changeable(sheet, outermost(sheet, chosenIds(sheet, useViewStore.getState())))
  const front = ids.at(-1)
  const place = front === undefined ? null : placeOf(sheet, front)
  if (!place) return
  const group = newLayer({ id: newId(), name: 'Group', content: groupOf([], false) })
  changeSheet(`group ${plural(ids.length, 'layer', 'layers')}`, (draft) => {
    insertNode(draft, group, { ...place, index: place.index + 1 })
    for (const id of ids) moveNode(draft, id, { parent: group.id, index: Infinity })
  })
  setBench({ layerId: group.id })
}

/** Moves the chosen layers one place forward or back, together, where they hang in one group; else the one at work alone. */
export function stepChosen(by: 1 | -1): void {
  const sheet = sheetNow()
  const { layerId } = useViewStore.getState()
  if (!sheet || layerId === null) return
  const ids = outermost(sheet, chosenIds(sheet, useViewStore.getState()))
  const parent = placeOf(sheet, layerId)?.parent ?? null
  if (ids.length < 2 || ids.some((id) => placeOf(sheet, id)?.parent !== parent)) {
    stepLayer(layerId, by)
    return
  }
  if (changeable(sheet, ids).length < ids.length) return
  const chosen = new Set(ids)
  changeSheet('reorder layers', (draft) => {
    const list = childrenOf(draft, parent)
    // The one that goes first makes room for the next.
    const order = by > 0 ? [...list].reverse() : [...list]
    for (const id of order) {
      const at = list.indexOf(id)
      const other = list[at + by]
      if (!chosen.has(id) || other === undefined || chosen.has(other)) continue
      list[at] = other
      list[at + by] = id
    }
  })
}

/** Moves the chosen layers, in their order, to a card that one of them was dropped on. */
export function dropChosen(over: string, side: DropSide): void {
  const sheet = sheetNow()
  if (!sheet) return
  const ids = outermost(sheet, chosenIds(sheet, useViewStore.getState()))
  if (ids.some((id) => withinLayer(sheet, id).includes(over)) || changeable(sheet, ids).length < ids.length)
    return
  const isWithin = side === 'within' && sheet.nodes[over]?.content.kind === 'group'
  changeSheet('move layers', (draft) => {
    let after: string | null = side === 'after' ? over : null
    for (const id of ids) {
      const parent = isWithin ? over : (placeOf(draft, over)?.parent ?? null)
      const list = childrenOf(draft, parent).filter((own) => own !== id)
      const index = isWithin ? list.length : after === null ? list.indexOf(over) : list.indexOf(after) + 1
      moveNode(draft, id, { parent, index })
      if (after !== null) after = id
    }
  })
}
