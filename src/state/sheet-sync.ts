import { hashJson } from '@/core/math/stable-hash'
import { relitFacts } from '@/core/passes/line-pass'
import { passKind } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import { relit } from '@/core/scene/rendered-light'
import { rigOf, shotOf } from '@/data/active-shot'
import { recoloured } from '@/data/project-scene'
import { loadFile } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { fetchResult } from '@/data/storage-service'
import { SheetService } from '@/engine/sheet-service'

let service: SheetService | null = null
/** What a worker already holds. */
interface Given {
  readonly projectId: string
  /** Pass id to result id. */
  readonly passes: Map<string, string>
  readonly pictures: Set<string>
  /** Pass id to what its lights were last said to be. */
  readonly lights: Map<string, string>
}
const nothingGiven = (projectId: string): Given => ({
  projectId,
  passes: new Map(),
  pictures: new Set(),
  lights: new Map(),
})
let given: Given = nothingGiven('')

/** The sheet worker of this tab. */
export function sheetService(): SheetService {
  service ??= new SheetService()
  return service
}

/**
 * Exports a sheet in a worker of its own, so that the proof stays live meanwhile and a cancel costs nothing else.
 * @throws {CancelledError} when aborted.
 */
export async function exportSheetFile(
  project: Project,
  message: Parameters<SheetService['export']>[0],
  onProgress: (share01: number) => void,
  signal: AbortSignal,
): Promise<Uint8Array> {
  const own = new SheetService()
  const stop = () => own.close()
  signal.addEventListener('abort', stop)
  try {
    await bringUp(own, project, nothingGiven(project.id))
    return await own.export(message, onProgress)
  } finally {
    signal.removeEventListener('abort', stop)
    own.close()
  }
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
    given = nothingGiven(project.id)
  }
  await bringUp(sheetService(), project, given)
}

async function bringUp(worker: SheetService, project: Project, given: Given): Promise<void> {
  for (const pass of project.passes) {
    const resultId = pass.rendered?.resultId ?? ''
    const rig = rigOf(project, shotOf(project, pass))
    const lights = relit(pass.rendered?.lights ?? [], rig)
    const surfaces = recoloured(pass.rendered?.surfaces ?? [], project)
    const isLines = passKind(pass.kind).lines !== null
    const facts = isLines ? relitFacts(pass.rendered?.facts ?? {}, memberRig(rig, pass.members)) : null
    const lightKey = hashJson([lights, surfaces.map((s) => s.baseColour), facts])
    const revision = `${resultId} ${lightKey}`
    if ((given.passes.get(pass.id) ?? '') !== resultId) {
      given.passes.set(pass.id, resultId)
      const result = pass.rendered && (await fetchResult(project.id, pass.rendered))
      const lit = result && { ...result, lights, surfaces, ...(facts && { facts }) }
      await worker.give({ type: 'pass', passId: pass.id, shotId: pass.shotId, revision, result: lit })
    } else if (resultId !== '' && given.lights.get(pass.id) !== lightKey)
      await worker.relight({ type: 'lights', passId: pass.id, revision, lights, surfaces, facts })
    given.lights.set(pass.id, lightKey)
  }
  for (const picture of project.pictures) {
    if (given.pictures.has(picture.id)) continue
    given.pictures.add(picture.id)
    const bytes = await loadFile(project.id, picture.fileId)
    await worker.give({ type: 'picture', pictureId: picture.id, name: picture.name, bytes })
  }
}
