import { loadFile, loadResult } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { SheetService } from '@/engine/sheet-service'

let service: SheetService | null = null
/** What the worker already holds: pass id → result id, and picture ids. */
let given = { projectId: '', passes: new Map<string, string>(), pictures: new Set<string>() }

/** The sheet worker of this tab. */
export function sheetService(): SheetService {
  service ??= new SheetService()
  return service
}

let chain: Promise<void> = Promise.resolve()

/** Brings the worker's passes and pictures up to the project; in order, so a later call sees an earlier one's work. */
export function syncSheet(project: Project): Promise<void> {
  chain = chain.catch(() => undefined).then(() => sync(project))
  return chain
}

async function sync(project: Project): Promise<void> {
  if (given.projectId !== project.id) {
    service?.close()
    service = null
    given = { projectId: project.id, passes: new Map(), pictures: new Set() }
  }
  const worker = sheetService()
  for (const pass of project.passes) {
    const revision = pass.rendered?.resultId ?? ''
    if ((given.passes.get(pass.id) ?? '') === revision) continue
    given.passes.set(pass.id, revision)
    const result = pass.rendered && (await loadResult(project.id, pass.rendered))
    await worker.give({ type: 'pass', passId: pass.id, revision, result })
  }
  for (const picture of project.pictures) {
    if (given.pictures.has(picture.id)) continue
    given.pictures.add(picture.id)
    const bytes = await loadFile(project.id, picture.fileId)
    await worker.give({ type: 'picture', pictureId: picture.id, name: picture.name, bytes })
  }
}
