import { newLayer, wholePicture } from '@/core/sheet/new-layer'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { insertNode, placeOf } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { storeFile } from '@/data/storage-service'
import { longWork } from '@/state/long-work'
import { changeProject, useProjectStore } from '@/state/project-store'
import { exportSheetFile } from '@/state/sheet-sync'
import { setBench } from '@/state/view-store'

/** The picture of a sheet without its ground, stored as a file of the project. 16 bits, at the sheet's own size. */
async function storePicture(
  project: Project,
  sheet: ProjectSheet,
  name: string,
  signal: AbortSignal,
  tell: (share01: number) => void,
) {
  const message = {
    type: 'export',
    format: 'png16',
    size: { width: sheet.width, height: sheet.height },
    transparent: true,
  } as const
  const file = await exportSheetFile(project, sheet, message, tell, signal)
  const bytes = new Uint8Array(await file.arrayBuffer())
  const picture = { id: newId(), name: `${name}.png`, fileId: newId() }
  await storeFile(project.id, picture.fileId, picture.name, bytes)
  return picture
}

/**
 * Makes one new layer of what is seen now, in front of all; what it is made of stays.
 * @throws {Error} where it cannot be stored.
 */
export async function pressSeen(): Promise<void> {
  const { project } = useProjectStore.getState()
  if (!project) return
  const picture = await longWork('Pressing', (signal, tell) =>
    storePicture(project, activeSheet(project), 'Pressing', signal, tell),
  )
  if (!picture || useProjectStore.getState().project?.id !== project.id) return
  const id = newId()
  const content = { ...wholePicture(picture.id), pressed: true }
  changeProject('press what is seen', (draft) => {
    draft.pictures.push(picture)
    const layer = newLayer({ id, name: 'Pressing', content })
    insertNode(activeSheet(draft), layer, { parent: null, index: Infinity })
  })
  setBench({ layerId: id, peel: Infinity })
}

/** Makes a picture of what a live pressing shows now, in its place. @throws {Error} where it cannot be stored. */
export async function pressLayer(id: string): Promise<void> {
  const { project } = useProjectStore.getState()
  const node = project && activeSheet(project).nodes[id]
  if (!project || node?.content.kind !== 'pressing') return
  const sheet = activeSheet(project)
  const { of } = node.content
  // What it follows alone: all beneath it, or that one layer through its mask and effects, normal and whole.
  const siblings = placeOf(sheet, id)
  if (!siblings) return
  const list = siblings.parent === null ? sheet.roots : childrenOfGroup(sheet, siblings.parent)
  const roots = of === null ? list.slice(0, siblings.index) : [of]
  const followed = of === null ? null : sheet.nodes[of]
  const nodes = followed
    ? {
        ...sheet.nodes,
        [followed.id]: {
          ...followed,
          visible: true,
          mode: 'normal' as const,
          opacity: 1,
          confine: false,
          gate: null,
          mask: null,
        },
      }
    : sheet.nodes
  const picture = await longWork('Pressing', (signal, tell) =>
    storePicture(project, { ...sheet, roots, nodes }, node.name, signal, tell),
  )
  if (!picture || useProjectStore.getState().project?.id !== project.id) return
  changeProject('make a pressing a picture', (draft) => {
    draft.pictures.push(picture)
    const own = activeSheet(draft).nodes[id]
    if (own) own.content = { ...wholePicture(picture.id), pressed: true }
  })
}

function childrenOfGroup(sheet: Sheet, id: string): readonly string[] {
  const { content } = sheet.nodes[id]
  return content.kind === 'group' ? content.children : []
}
