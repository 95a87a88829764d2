import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { setBench } from '@/state/view-store'
import { addFallenShadow } from './layer-actions'
import { waitForPick } from './proof-pick'

/** Keys of the parts that lie in a group, or in a group within it. */
function partsOfGroup({ models, groups }: Project, name: string): string[] {
  const isWithin = (id: string | null): boolean => {
    const group = groups.find((own) => own.id === id)
    return group !== undefined && (group.name === name || isWithin(group.parentId))
  }
  return models.flatMap(({ parts }) => parts.filter(({ groupId }) => isWithin(groupId)).map(({ key }) => key))
}

/** Waits for a press on what is to throw a shadow: its group, or the part alone; on the background all of the subject. */
export function startFallenShadow(): void {
  waitForPick({
    id: 'fallen shadow',
    label: 'Click what throws the shadow',
    take: (x, y) =>
      void hang(x, y).catch((error: unknown) =>
        setBench({ refusal: error instanceof Error ? error.message : String(error) }),
      ),
  })
}

async function hang(x: number, y: number): Promise<void> {
  const { project } = useProjectStore.getState()
  if (!project) return
  const { surface, hasIdPass } = await askSheet(project, (worker) =>
    worker.pick(activeShot(project).id, activeSheet(project), x, y),
  )
  if (!hasIdPass) throw new Error('Render the ID pass first: a fallen shadow is made from it.')
  // The largest group: a house throws a shadow, not its door.
  const group = surface?.groups.at(0)
  if (!surface) await addFallenShadow([], 'Fallen shadow')
  else if (group === undefined) await addFallenShadow([surface.part], `Shadow of ${surface.partName}`)
  else await addFallenShadow(partsOfGroup(project, group), `Shadow of ${group}`)
}
