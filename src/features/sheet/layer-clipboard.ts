import { passKind } from '@/core/passes/registry'
import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { copyNodes, insertCopies } from '@/core/sheet/sheet-tree'
import { sheetUses } from '@/core/sheet/sheet-uses'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { loadFile } from '@/data/project-repository'
import type { Project, ProjectPass } from '@/data/project-schema'
import { storeFile } from '@/data/storage-service'
import { changeProject, useProjectStore } from '@/state/project-store'
import { setBench } from '@/state/view-store'
import { changeLayer, placeInFront } from './layer-actions'

/** Layers that were copied, of whichever project, with what they are made from. */
interface Clipboard {
  readonly projectId: string
  readonly nodes: readonly SheetNode[]
  readonly pictures: Project['pictures']
  readonly passes: readonly Pick<ProjectPass, 'id' | 'kind'>[]
}
let clipboard: Clipboard | null = null

/** Takes a layer, with all that lies in it, to be pasted on any sheet of any project. */
export function copyLayer(id: string): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  const { pictures, passes } = project
  const nodes = copyNodes(activeSheet(project), id, newId)
  clipboard = {
    projectId: project.id,
    nodes,
    pictures: [...pictures],
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
  if (!project || !taken) return []
  const sheet = activeSheet(project)
  const brought: Project['pictures'] = []
  const ids = new Map<string, string>()
  const lost = new Set<string>()
  if (taken.projectId !== project.id) {
    const used = sheetUses({ nodes: Object.fromEntries(taken.nodes.map((node) => [node.id, node])) })
    for (const { id, name, fileId } of taken.pictures) {
      if (!used.ids.has(id)) continue
      const own = { id: newId(), name, fileId: newId() }
      await storeFile(project.id, own.fileId, name, await loadFile(taken.projectId, fileId))
      brought.push(own)
      ids.set(id, own.id)
    }
    for (const { id, kind } of taken.passes) {
      if (!used.ids.has(id)) continue
      const own = project.passes.find((pass) => pass.shotId === sheet.shotId && pass.kind === kind)
      if (own) ids.set(id, own.id)
      else lost.add(`${passKind(kind).label}: the shot has no such pass`)
    }
  }
  // A copy once more: it may be pasted again.
  const tree = {
    roots: [taken.nodes[0].id],
    nodes: Object.fromEntries(taken.nodes.map((node) => [node.id, node])),
  }
  const copies = copyNodes(tree, taken.nodes[0].id, newId).map(
    (node) =>
      JSON.parse(JSON.stringify(node), (key, value: unknown) =>
        key !== 'name' && typeof value === 'string' ? (ids.get(value) ?? value) : value,
      ) as SheetNode,
  )
  const place = placeInFront(sheet)
  changeProject(`paste ${copies[0].name}`, (draft) => {
    draft.pictures.push(...brought)
    insertCopies(activeSheet(draft), copies, place)
  })
  setBench({ layerId: copies[0].id, peel: Infinity })
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
