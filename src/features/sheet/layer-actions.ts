import { activeSheet } from '@/data/active-shot'
import { passKind } from '@/core/passes/registry'
import { paramDefaults } from '@/core/params'
import { newLayer } from '@/core/sheet/new-layer'
import type { Layer, Mask, MaskTerm } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { storeFile } from '@/data/storage-service'
import type { ProjectPass } from '@/data/project-schema'
import { changeProject, useProjectStore } from '@/state/project-store'
import { sheetService } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'

/** What can be done to the layers of the open sheet. Each is one undo step. */

const sheetOf = () => {
  const { project } = useProjectStore.getState()
  return project ? activeSheet(project) : undefined
}
export const selectedLayer = (): Layer | undefined =>
  sheetOf()?.layers.find((l) => l.id === useViewStore.getState().layerId)

/** Id of the pass or picture a layer shows; empty for one that shows neither. */
export const sourceIdOf = (source: Layer['source']): string =>
  source.type === 'pass' ? source.passId : source.type === 'picture' ? source.pictureId : ''

/** Changes one layer. Equal `merge` in quick succession is one undo step. */
export function changeLayer(id: string, label: string, apply: (layer: Layer) => void, merge?: string): void {
  changeProject(
    label,
    (draft) => {
      const layer = activeSheet(draft).layers.find((l) => l.id === id)
      if (layer) apply(layer as Layer)
    },
    merge && `${id} ${merge}`,
  )
}

/** Puts a layer in front of the chosen one, or in front of all. */
function insertLayer(layer: Layer): void {
  const at = (sheetOf()?.layers.findIndex((l) => l.id === useViewStore.getState().layerId) ?? -1) + 1
  changeProject(`add ${layer.name}`, (draft) => {
    const { layers } = activeSheet(draft)
    layers.splice(at > 0 ? at : layers.length, 0, layer as (typeof layers)[number])
  })
  setBench({ layerId: layer.id, peel: Infinity })
}

/** Hangs a layer of a pass in front of the chosen one. */
export function addPassLayer(pass: ProjectPass): void {
  const kind = passKind(pass.kind)
  const look = paramDefaults(kind.lookSchema) as Record<string, number | string | boolean>
  insertLayer(
    newLayer({
      ...kind.layer,
      id: newId(),
      name: pass.name,
      source: { type: 'pass', passId: pass.id, look },
    }),
  )
}

export const addFillLayer = (): void =>
  insertLayer(
    newLayer({
      id: newId(),
      name: 'Fill',
      source: { type: 'fill', colour: '#d9c7a8', to: null, angleDeg: 90 },
    }),
  )

/** Adds a picture from a file as a layer. @throws {Error} naming the file where it cannot be read or stored. */
export async function addPictureLayer(file: File): Promise<void> {
  const project = useProjectStore.getState().project
  if (!project) return
  const bytes = new Uint8Array(await file.arrayBuffer())
  await sheetService().checkPicture(file.name, bytes)
  const picture = { id: newId(), name: file.name, fileId: newId() }
  await storeFile(project.id, picture.fileId, file.name, bytes)
  const id = newId()
  changeProject(`add ${file.name}`, (draft) => {
    draft.pictures.push(picture)
    const source = { type: 'picture', pictureId: picture.id } as const
    const layer = newLayer({ id, name: file.name.replace(/\.[^.]+$/, ''), source })
    activeSheet(draft).layers.push(layer as (typeof draft.sheets)[number]['layers'][0])
  })
  setBench({ layerId: id, peel: Infinity })
}

export function duplicateLayer(id: string): void {
  const copy = newId()
  changeProject('duplicate layer', (draft) => {
    const { layers } = activeSheet(draft)
    const at = layers.findIndex((l) => l.id === id)
    if (at >= 0)
      layers.splice(at + 1, 0, {
        ...structuredClone(JSON.parse(JSON.stringify(layers[at])) as (typeof layers)[number]),
        id: copy,
        name: `${layers[at].name} copy`,
      })
  })
  setBench({ layerId: copy })
}

export function deleteLayer(id: string): void {
  const layers = sheetOf()?.layers ?? []
  const at = layers.findIndex((l) => l.id === id)
  changeProject(`delete ${layers[at]?.name ?? 'layer'}`, (draft) => {
    activeSheet(draft).layers = activeSheet(draft).layers.filter((l) => l.id !== id)
  })
  const next = (layers[at - 1] ?? layers[at + 1])?.id ?? null
  setBench({ layerId: next })
  focusCard(next)
}

/** Where a card that had the focus is gone, another takes it: whoever works by keyboard stays in the rack. */
function focusCard(id: string | null): void {
  if (typeof document === 'undefined' || !document.activeElement?.closest('.card')) return
  requestAnimationFrame(() => {
    const card = id === null ? null : document.querySelector<HTMLElement>(`[data-layer="${CSS.escape(id)}"]`)
    ;(card ?? document.querySelector<HTMLElement>('[data-testid=add-layer]'))?.focus()
  })
}

/** Moves a layer to a place counted from the back. */
export function moveLayer(id: string, to: number): void {
  const layers = sheetOf()?.layers ?? []
  const from = layers.findIndex((l) => l.id === id)
  const place = Math.min(layers.length - 1, Math.max(0, to))
  if (from < 0 || from === place) return
  changeProject('reorder layers', (draft) => {
    const list = activeSheet(draft).layers
    const [moved] = list.splice(from, 1)
    list.splice(place, 0, moved)
  })
}

const NEW_MASK: Mask = { terms: [], picture: null, invert: false, featherPx: 0 }

/** Adds a mask term to a layer, making the mask where there is none. */
export const addMaskTerm = (id: string, term: MaskTerm): void =>
  changeLayer(id, 'mask term', (layer) => {
    layer.mask = { ...(layer.mask ?? NEW_MASK) }
    layer.mask.terms = [...layer.mask.terms, term]
  })

/** Adds a part or material to the layer's first matching term, or takes it out again. */
export function toggleInMask(id: string, by: MaskTerm['by'], key: string): void {
  changeLayer(id, 'mask', (layer) => {
    const mask = layer.mask ?? { ...NEW_MASK, terms: [] }
    const at = mask.terms.findIndex((t) => t.by === by && t.join === 'add')
    const term = mask.terms[at]
    if (!term) mask.terms.push({ join: 'add', by, keys: [key] })
    else if (term.keys.includes(key)) {
      term.keys = term.keys.filter((k) => k !== key)
      if (term.keys.length === 0) mask.terms.splice(at, 1)
    } else term.keys.push(key)
    layer.mask = mask.terms.length > 0 || mask.picture ? mask : null
  })
}
