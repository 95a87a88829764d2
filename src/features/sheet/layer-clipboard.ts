import { paintNames } from '@/core/paint/paint-names'
import { passKind } from '@/core/passes/registry'
import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { copyNodes, insertCopies, withinLayer } from '@/core/sheet/sheet-tree'
import { sheetUses } from '@/core/sheet/sheet-uses'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { loadFile } from '@/data/project-repository'
import { allPictures, asStill } from '@/data/project-pictures'
import type { Project, ProjectPass } from '@/data/project-schema'
import { storeFile } from '@/data/storage-service'
import { sharePaint } from '@/data/stored-paint'
import { changeProject, useProjectStore } from '@/state/project-store'
import { setBench } from '@/state/view-store'
import { changeLayer, placeInFront } from './layer-actions'

/** Layers that were copied, of whichever project, with what they are made from. */
interface Clipboard {
  readonly projectId: string
  /** Each with all that lies in it, itself first; back first. */
  readonly trees: readonly (readonly SheetNode[])[]
  readonly pictures: Project['pictures']
  readonly passes: readonly Pick<ProjectPass, 'id' | 'kind'>[]
}
let clipboard: Clipboard | null = null

/** Takes layers, with all that lies in them, to be pasted on any sheet of any project. */
export function copyLayers(ids: readonly string[]): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  const { passes } = project
  const sheet = activeSheet(project)
  const within = new Set(ids.flatMap((id) => withinLayer(sheet, id).slice(1)))
  clipboard = {
    projectId: project.id,
    trees: ids.filter((id) => !within.has(id)).map((id) => copyNodes(sheet, id, newId)),
    pictures: allPictures(project),
    passes: passes.map(({ id: own, kind }) => ({ id: own, kind })),
  }
}

/**
 * Hangs what was copied in front of the chosen layer. In another project its pictures come along, and its passes become those of
 * the same kind that the shot has.
 * @returns what of it has no counterpart here, in words. @throws {Error} where a picture cannot be stored.
 */
export async function pasteLayer(): Promise<readonly string[]> {
  const { project } = useProjectStore.getState()
  const taken = clipboard
  if (!project || !taken || taken.trees.length === 0) return []
  const sheet = activeSheet(project)
  const brought: Project['pictures'] = []
  const ids = new Map<string, string>()
  const lost = new Set<string>()
  if (taken.projectId !== project.id) {
    const used = sheetUses({ nodes: Object.fromEntries(taken.trees.flat().map((node) => [node.id, node])) })
    for (const { id, name, fileId } of taken.pictures) {
      if (!used.ids.has(id)) continue
      const own = { id: newId(), name, fileId: newId() }
      await storeFile(project.id, own.fileId, name, await loadFile(taken.projectId, fileId))
      brought.push(own)
      ids.set(id, own.id)
    }
    const nodes = Object.fromEntries(taken.trees.flat().map((node) => [node.id, node]))
    await sharePaint(paintNames([{ nodes }]).keys(), project.id)
    for (const { id, kind } of taken.passes) {
      if (!used.ids.has(id)) continue
      const own = project.passes.find((pass) => pass.shotId === sheet.shotId && pass.kind === kind)
      if (own) ids.set(id, own.id)
      else lost.add(`${passKind(kind).label}: the shot has no such pass`)
    }
  }
  // Copies once more: they may be pasted again.
  const copies = taken.trees.map(([first, ...rest]) => {
    const nodes = Object.fromEntries([first, ...rest].map((node) => [node.id, node]))
    return copyNodes({ roots: [first.id], nodes }, first.id, newId).map(
      (node) =>
        JSON.parse(
          JSON.stringify(taken.projectId === project.id ? node : asStill(node)),
          (key, value: unknown) =>
            key !== 'name' && typeof value === 'string' ? (ids.get(value) ?? value) : value,
        ) as SheetNode,
    )
  })
  const place = placeInFront(sheet)
  const made = copies.map(([{ id }]) => id)
  const what = copies.length === 1 ? copies[0][0].name : `${copies.length} layers`
  changeProject(`paste ${what}`, (draft) => {
    draft.pictures.push(...brought)
    copies.forEach((own, i) => insertCopies(activeSheet(draft), own, { ...place, index: place.index + i }))
  })
  const lead = made[made.length - 1]
  setBench({ layerId: lead, alsoChosen: { lead, ids: made }, peel: Infinity })
  return [...lost]
}

let copiedMask: Mask | null = null

/** Takes a layer's mask, to be given to another. @returns whether it has one. */
export function copyMask(id: string): boolean {
  const { project } = useProjectStore.getState()
  const mask = project && activeSheet(project).nodes[id]?.mask
  if (mask) copiedMask = structuredClone(mask)
  return Boolean(mask)
}

/** Gives a layer the mask that was copied. @returns whether one was. */
export function pasteMask(id: string): boolean {
  const mask = copiedMask
  if (mask) changeLayer(id, 'paste mask', (layer) => void (layer.mask = structuredClone(mask)))
  return mask !== null
}
