// One file: what can be done to a layer, each a few lines, named beside each other.
import type { Draft } from 'immer'
import { paramDefaults } from '@/core/params'
import { CancelledError } from '@/core/errors'
import { readCubeTable } from '@/core/formats/cube-table'
import { passKind } from '@/core/passes/registry'
import type { Content } from '@/core/sheet/contents/registry'
import {
  contentOf,
  evenFill,
  groupOf,
  newEffect,
  newLayer,
  newMask,
  passOf,
  pressingOf,
  surfaceTerm,
  wash,
  wholePicture,
} from '@/core/sheet/new-layer'
import { layersFromOpenRaster } from '@/core/sheet/layers-from-openraster'
import { laidOut } from '@/core/sheet/picture-box'
import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import {
  childrenOf,
  copyNodes,
  groupsOf,
  insertCopies,
  insertNode,
  layersOf,
  moveNode,
  placeOf,
  removeNode,
  withinLayer,
  type TreePlace,
} from '@/core/sheet/sheet-tree'
import { suggestedName } from '@/core/sheet/suggested-name'
import { isSurfaceTerm, type MaskTerm, type SurfaceTerm } from '@/core/sheet/terms/registry'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project, ProjectPass, ProjectSheet } from '@/data/project-schema'
import { storeFile } from '@/data/storage-service'
import { castingLights, placeOfShadow } from '@/state/fallen-shadow-place'
import { ensureMeshes } from '@/state/mesh-store'
import { changeProject, useProjectStore } from '@/state/project-store'
import { longWork } from '@/state/long-work'
import { readLayersFile, sheetService } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'

/** What can be done to the layers of the open sheet. Each is one undo step. */

const sheetOf = (): ProjectSheet | undefined => {
  const { project } = useProjectStore.getState()
  return project ? activeSheet(project) : undefined
}
const layerOf = (id: string | null): SheetNode | undefined => (id === null ? undefined : sheetOf()?.nodes[id])

const changeSheet = (label: string, apply: (sheet: Draft<ProjectSheet>) => void, merge?: string): void =>
  changeProject(label, (draft) => apply(activeSheet(draft)), merge)

/** Changes one layer. Equal `merge` in quick succession is one undo step. */
export function changeLayer(
  id: string,
  label: string,
  apply: (layer: Draft<SheetNode>) => void,
  merge?: string,
): void {
  if (refusesLocked(id)) return
  changeAnyLayer(id, label, apply, merge)
}

/** Whether a layer is locked, or lies in one that is: it is then said so. */
function refusesLocked(id: string): boolean {
  const sheet = sheetOf()
  const locked = sheet && lockedAbove(sheet, id)
  if (!locked) return false
  setBench({ refusal: `${locked.name} is locked: unlock it to change it.` })
  return true
}

/** A layer that is locked, or the nearest group about it that is; null where none is. */
export function lockedAbove(sheet: ProjectSheet, id: string): SheetNode | null {
  const node = sheet.nodes[id] as SheetNode | undefined
  if (!node || node.locked) return node ?? null
  const place = placeOf(sheet, id)
  return place === null || place.parent === null ? null : lockedAbove(sheet, place.parent)
}

/** Changes a layer whether or not it is locked. */
export function changeAnyLayer(
  id: string,
  label: string,
  apply: (layer: Draft<SheetNode>) => void,
  merge?: string,
): void {
  changeSheet(
    label,
    ({ nodes }) => {
      const layer = nodes[id]
      if (!layer) return
      const suggested = suggestedName(layer as SheetNode)
      const { name } = layer
      apply(layer)
      // A name that came from what it holds follows it.
      if (layer.name === name && name === suggested) layer.name = suggestedName(layer as SheetNode) ?? name
    },
    merge && `${id} ${merge}`,
  )
}

/** Changes what a layer holds, if it is of that kind. */
export const changeContent = <K extends Content['kind']>(
  id: string,
  kind: K,
  label: string,
  apply: (content: Draft<Extract<Content, { kind: K }>>) => void,
  merge?: string,
): void =>
  changeLayer(
    id,
    label,
    ({ content }) => {
      if (content.kind === kind) apply(content as Draft<Extract<Content, { kind: K }>>)
    },
    merge,
  )

/** In front of the chosen layer, or within it at the front if it is an open group; in front of all without one. */
export function placeInFront(sheet: ProjectSheet): TreePlace {
  const chosen = useViewStore.getState().layerId
  const node = chosen === null ? undefined : sheet.nodes[chosen]
  if (node && hasContent(node, 'group') && !node.content.folded)
    return { parent: node.id, index: node.content.children.length }
  const place = chosen === null ? null : placeOf(sheet, chosen)
  return place ? { ...place, index: place.index + 1 } : { parent: null, index: sheet.roots.length }
}

/** Puts a layer in front of the chosen one, or in front of all. */
function insertLayer(layer: SheetNode): void {
  const sheet = sheetOf()
  if (!sheet) return
  const place = placeInFront(sheet)
  changeSheet(`add ${layer.name}`, (draft) => insertNode(draft, layer, place))
  setBench({ layerId: layer.id, peel: Infinity })
}

/** Hangs a layer of a pass in front of the chosen one. */
export function addPassLayer(pass: ProjectPass): void {
  const kind = passKind(pass.kind)
  const content = passOf(pass.id, paramDefaults(kind.lookSchema))
  insertLayer(newLayer({ ...kind.layer, id: newId(), name: pass.name, content }))
}

/** A layer called by what it holds. */
function suggestNamed(given: Partial<SheetNode> & Pick<SheetNode, 'content'>): SheetNode {
  const layer = newLayer({ id: newId(), name: '', ...given })
  return { ...layer, name: suggestedName(layer) ?? 'Layer' }
}

export const addFillLayer = (): void => insertLayer(suggestNamed({ content: evenFill('#d9c7a8') }))

/** Paper over all that is there, as it darkens what is printed on it. */
export const addTexture = (): void =>
  insertLayer(suggestNamed({ mode: 'multiply', content: contentOf('texture') }))

export const addFlare = (): void =>
  insertLayer(newLayer({ id: newId(), name: 'Light flare', mode: 'screen', content: contentOf('flare') }))

/** Floating particles over the whole sheet, as light. */
export const addSpecks = (): void =>
  insertLayer(newLayer({ id: newId(), name: 'Specks', mode: 'screen', content: contentOf('specks') }))

/** Hangs the shadow of parts, as it falls under the first light of the shot. @param parts their keys; none: all of the subject. */
export async function addFallenShadow(parts: readonly string[], name: string): Promise<void> {
  const { project } = useProjectStore.getState()
  if (!project) return
  await ensureMeshes(project)
  const light = castingLights(project).at(0)
  const place = light && placeOfShadow(project, parts, light)
  const content = contentOf('fallenShadow', { parts: [...parts], ...place })
  insertLayer(newLayer({ id: newId(), name, mode: 'multiply', content }))
}

/** A layer without pixels: its first effect works on what lies beneath it. */
export function addWash(kind = 'levels'): void {
  insertLayer(suggestNamed({ content: wash(), effects: [newEffect(newId(), kind)] }))
}

/** Hangs a live pressing: of the chosen group, in front of it, or of all that lies beneath. */
export function addLivePressing(): void {
  const chosen = layerOf(useViewStore.getState().layerId)
  const of = chosen && hasContent(chosen, 'group') ? chosen.id : null
  const name = of === null ? 'Live pressing' : `Pressing of ${chosen?.name ?? ''}`
  const sheet = sheetOf()
  const place = of === null ? null : sheet && placeOf(sheet, of)
  const layer = newLayer({ id: newId(), name, content: pressingOf(of) })
  if (!place) {
    insertLayer(layer)
    return
  }
  changeSheet(`add ${name}`, (draft) => insertNode(draft, layer, { ...place, index: place.index + 1 }))
  setBench({ layerId: layer.id, peel: Infinity })
}

/** The group a layer lies in, or null. */
export const groupOfLayer = (sheet: ProjectSheet, id: string): string | null =>
  placeOf(sheet, id)?.parent ?? null

/** Puts the chosen layer into a group of its own, or hangs an empty one. It passes through: the picture stays as it was. */
export function addGroup(): void {
  const sheet = sheetOf()
  const chosen = useViewStore.getState().layerId
  const id = newId()
  if (!sheet) return
  const place = chosen !== null && sheet.nodes[chosen] ? placeOf(sheet, chosen) : null
  if (chosen === null || !place) {
    insertLayer(newLayer({ id, name: 'Group', content: groupOf([], false) }))
    return
  }
  changeSheet('group', (draft) => {
    insertNode(draft, newLayer({ id, name: 'Group', content: groupOf([], false) }), place)
    moveNode(draft, chosen, { parent: id, index: 0 })
  })
  setBench({ layerId: id })
}

/** Takes a group apart: its layers stay where it was. */
export function ungroup(id: string): void {
  const group = layerOf(id)
  if (!group || !hasContent(group, 'group')) return
  const [first = null] = group.content.children
  changeSheet('take the group apart', (draft) => {
    const place = placeOf(draft, id)
    if (!place) return
    const children = [...childrenOf(draft, id)]
    childrenOf(draft, place.parent).splice(place.index, 1, ...children)
    delete draft.nodes[id]
  })
  setBench({ layerId: first })
}

/** Opens a group's tray in the rack, or folds it. */
export const foldGroup = (id: string, folded: boolean): void =>
  changeContent(id, 'group', folded ? 'fold group' : 'open group', (group) => void (group.folded = folded))

/** Adds a picture from a file as a layer. @throws {Error} naming the file where it cannot be read or stored. */
export async function addPictureLayer(file: File): Promise<void> {
  const project = useProjectStore.getState().project
  if (!project) return
  const bytes = new Uint8Array(await file.arrayBuffer())
  const size = await sheetService().checkPicture(file.name, bytes)
  const picture = { id: newId(), name: file.name, fileId: newId() }
  await storeFile(project.id, picture.fileId, file.name, bytes)
  const layer = newLayer({
    id: newId(),
    name: file.name.replace(/\.[^.]+$/, ''),
    content: { ...wholePicture(picture.id), ...laidOut(size, activeSheet(project), 'whole') },
  })
  changeProject(`add ${file.name}`, (draft) => {
    draft.pictures.push(picture)
    insertNode(activeSheet(draft), layer, { parent: null, index: Infinity })
  })
  setBench({ layerId: layer.id, peel: Infinity })
}

/** Takes a grading table in. @returns its id. @throws {Error} naming the file where it cannot be read or stored. */
export async function addTableFile(file: File): Promise<string> {
  const project = useProjectStore.getState().project
  if (!project) throw new Error('no project is open')
  readCubeTable(await file.text(), file.name)
  const table = { id: newId(), name: file.name, fileId: newId() }
  await storeFile(project.id, table.fileId, file.name, new Uint8Array(await file.arrayBuffer()))
  changeProject(`add ${file.name}`, (draft) => void draft.pictures.push(table))
  return table.id
}

/**
 * Adds the layers of an OpenRaster file as a group of its name.
 * @returns what of it could not be taken over as it is, in words. @throws {Error} naming the file where it cannot be read or stored.
 */
export async function addLayersFile(file: File): Promise<readonly string[]> {
  const name = file.name.replace(/\.[^.]+$/, '')
  const project = useProjectStore.getState().project
  if (!project) return []
  const taken = await longWork(`Opening ${file.name}`, async (signal, tell) => {
    const read = await readLayersFile(file, (share) => tell(0.8 * share), signal)
    const made = layersFromOpenRaster(read, activeSheet(project), newId)
    const pictures: Project['pictures'] = []
    for (const { id, name: own, png } of made.pictures) {
      if (signal.aborted) throw new CancelledError(file.name)
      const picture = { id, name: own, fileId: newId() }
      await storeFile(project.id, picture.fileId, own, png)
      pictures.push(picture)
      tell(0.8 + (0.2 * pictures.length) / made.pictures.length)
    }
    return { notes: read.notes, made, pictures }
  })
  if (!taken || useProjectStore.getState().project?.id !== project.id) return []
  const { notes, made, pictures } = taken
  const group = newLayer({ id: newId(), name, content: groupOf(made.roots) })
  changeProject(`open ${file.name}`, (draft) => {
    draft.pictures.push(...pictures)
    const sheet = activeSheet(draft)
    Object.assign(sheet.nodes, made.nodes)
    insertNode(sheet, group, { parent: null, index: Infinity })
  })
  setBench({ layerId: group.id, peel: Infinity })
  return notes
}

/** A copy in front of a layer, with all that lies in it. */
export function duplicateLayer(id: string): void {
  const sheet = sheetOf()
  const place = sheet && placeOf(sheet, id)
  if (!place) return
  const [first, ...rest] = copyNodes(sheet, id, newId)
  const copies = [{ ...first, name: `${first.name} copy` }, ...rest]
  changeSheet('duplicate layer', (draft) => insertCopies(draft, copies, { ...place, index: place.index + 1 }))
  setBench({ layerId: first.id })
}

/** Deletes a layer, with all that lies in it. */
export function deleteLayer(id: string): void {
  if (refusesLocked(id)) return
  const sheet = sheetOf()
  const place = sheet && placeOf(sheet, id)
  if (!place) return
  const siblings = childrenOf(sheet, place.parent)
  const next = siblings[place.index - 1] ?? siblings[place.index + 1] ?? place.parent
  changeSheet(`delete ${sheet.nodes[id].name}`, (draft) => removeNode(draft, id))
  setBench({ layerId: next })
  focusCard(next)
}

/** Where a card that had the focus is gone, another takes it: whoever works by keyboard stays in the rack. */
function focusCard(id: string | null): void {
  if (typeof document === 'undefined' || !document.activeElement?.closest('.card, .tray')) return
  requestAnimationFrame(() => {
    const card = id === null ? null : document.querySelector<HTMLElement>(`[data-layer="${CSS.escape(id)}"]`)
    ;(card ?? document.querySelector<HTMLElement>('[data-testid=add-layer]'))?.focus()
  })
}

/** Brings a card into sight once it hangs in its new place. */
function showCard(id: string): void {
  if (typeof document === 'undefined') return
  requestAnimationFrame(() =>
    document
      .querySelector(`[data-layer="${CSS.escape(id)}"]`)
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' }),
  )
}

/** Moves a layer, with all that lies in it, to a place counted without it. */
export function moveLayer(id: string, to: TreePlace): void {
  if (refusesLocked(id)) return
  const sheet = sheetOf()
  const from = sheet && placeOf(sheet, id)
  if (!from) return
  changeSheet(from.parent === to.parent ? 'reorder layers' : 'move layer', (draft) => {
    moveNode(draft, id, to)
  })
}

/**
 * Moves a layer one place forward or back: past its neighbour, into it if that is an open group, or out of its own group
 * where it is the last in it.
 */
export function stepLayer(id: string, by: 1 | -1): void {
  const sheet = sheetOf()
  const place = sheet && placeOf(sheet, id)
  if (!place) return
  const { parent, index } = place
  const neighbour = sheet.nodes[childrenOf(sheet, parent)[index + by]]
  showCard(id)
  if (neighbour && hasContent(neighbour, 'group') && !neighbour.content.folded)
    moveLayer(id, { parent: neighbour.id, index: by > 0 ? 0 : neighbour.content.children.length })
  else if (neighbour) moveLayer(id, { parent, index: index + by })
  else if (parent !== null) {
    const own = placeOf(sheet, parent)
    if (own) moveLayer(id, { parent: own.parent, index: own.index + (by > 0 ? 1 : 0) })
  }
}

/** Which part of a card something is dropped on. */
export type DropSide = 'before' | 'within' | 'after'

/** Where a layer goes that is dropped on another: beside it, or into it where it is a group. Null: nowhere. */
export function dropPlace(sheet: ProjectSheet, id: string, over: string, side: DropSide): TreePlace | null {
  const target = sheet.nodes[over]
  const [from, to] = [placeOf(sheet, id), placeOf(sheet, over)]
  if (!target || !from || !to || withinLayer(sheet, id).includes(over)) return null
  if (side === 'within' && hasContent(target, 'group'))
    return { parent: over, index: target.content.children.length }
  // Places are counted without what is moved.
  const gone = from.parent === to.parent && from.index < to.index ? 1 : 0
  return { parent: to.parent, index: to.index - gone + (side === 'after' ? 1 : 0) }
}

/** Layers as they hang in the rack, from back to front: what lies in a folded group is not among them. */
export const hangingLayers = (sheet: ProjectSheet): SheetNode[] => {
  const folded = new Set(
    layersOf(sheet).flatMap((node) =>
      hasContent(node, 'group') && node.content.folded ? withinLayer(sheet, node.id).slice(1) : [],
    ),
  )
  return layersOf(sheet).filter(({ id }) => !folded.has(id))
}

/** Unfolds the groups that a layer lies in. */
export function revealLayer(id: string): void {
  const sheet = sheetOf()
  if (!sheet) return
  for (const group of groupsOf(sheet, id)) {
    const { content } = sheet.nodes[group]
    if (content.kind === 'group' && content.folded) foldGroup(group, false)
  }
}

/** Adds a mask term to a layer, making the mask where there is none. */
export const addMaskTerm = (id: string, term: MaskTerm): void =>
  changeLayer(id, 'mask term', (layer) => {
    layer.mask ??= newMask()
    layer.mask.terms.push(term)
  })

/** Adds a part or material to the layer's first matching term, or takes it out again. */
export function toggleInMask(id: string, kind: SurfaceTerm['kind'], key: string): void {
  changeLayer(id, 'mask', (layer) => {
    const mask = layer.mask ?? newMask()
    const at = mask.terms.findIndex((t) => t.kind === kind && t.join === 'add')
    const term = mask.terms[at]
    if (!term || !isSurfaceTerm(term)) mask.terms.push(surfaceTerm(kind, [key]))
    else if (term.keys.includes(key)) {
      term.keys = term.keys.filter((k) => k !== key)
      if (term.keys.length === 0) mask.terms.splice(at, 1)
    } else term.keys.push(key)
    layer.mask = mask.terms.length > 0 ? mask : null
  })
}
