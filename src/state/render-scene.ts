import { CancelledError } from '@/core/errors'
import { hashJson } from '@/core/math/stable-hash'
import type { SceneModel } from '@/core/scene/scene-geometry'
import type { Rig } from '@/core/scene/light-rig'
import { splitByMaterials } from '@/core/separate/split-materials'
import { activeShot } from '@/data/active-shot'
import { currentRegistration, toSceneModels } from '@/data/project-scene'
import { loadFile } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { decodeDomeInWorker } from '@/engine/decode-dome-in-worker'
import { RenderPool } from '@/engine/render-pool'
import { sceneAsGlb } from '@/engine/scene-file'
import { spawnBrowserWorker } from '@/engine/spawn-browser'
import { currentMesh, ensureMeshes, useMeshStore } from './mesh-store'

/** The render workers, and the scene and pictures they hold. */
let pool: RenderPool | null = null
let sceneKey = ''
/** Ids of the dome pictures they have. */
let domes = new Set<string>()

/** The workers as they are, if there are any. */
export const renderWorkers = (): RenderPool | null => pool

/** Ends the workers: one that failed may be missing. The next render starts new ones. */
export function dropWorkers(): void {
  pool?.close()
  pool = null
  domes = new Set()
  sceneKey = ''
}

/** What the workers hold is made from this; another value means that it must be built again. */
export const toSceneKey = (project: Project): string =>
  hashJson([
    project.id,
    currentRegistration(project, activeShot(project)).models,
    project.models.map((m) => [m.materials, m.parts.map((p) => [p.name, p.groupId])]),
    project.groups,
  ])

let atWork: Promise<unknown> = Promise.resolve()

/**
 * The workers do one thing at a time: what is to be rendered waits for what is, and gets its scene within its turn, or it would take
 * another's away.
 * @param signal once aborted, it is not waited for any longer, and not begun.
 * @throws {CancelledError} when aborted; what the work throws.
 */
export function inTurn<T>(work: () => Promise<T>, signal?: AbortSignal): Promise<T> {
  const stopIfAborted = () => {
    if (signal?.aborted) throw new CancelledError('The render')
  }
  const done = atWork.then(() => {
    stopIfAborted()
    return work()
  })
  atWork = done.catch(() => undefined)
  if (!signal) return done
  return new Promise((resolve, reject) => {
    const stop = () => reject(new CancelledError('The render'))
    if (signal.aborted) stop()
    signal.addEventListener('abort', stop)
    void done.then(resolve, reject).finally(() => signal.removeEventListener('abort', stop))
  })
}

/** The models of a project as the scene takes them. @throws {Error} in words where one is not loaded. */
const loadedModels = (project: Project): SceneModel[] =>
  toSceneModels(project, (id) => {
    const model = project.models.find((m) => m.id === id)
    const loaded = model && currentMesh(model)
    if (!loaded) throw new Error(useMeshStore.getState().problems[id] ?? `model ${id} is not loaded`)
    return loaded
  })

/** The organised scene as binary glTF. @throws {CancelledError} when aborted; {Error} in words. */
export async function sceneFile(project: Project, signal: AbortSignal): Promise<Uint8Array<ArrayBuffer>> {
  await ensureMeshes(project)
  return sceneAsGlb(project.name, loadedModels(project), signal)
}

let preparing: Promise<unknown> = Promise.resolve()

/**
 * The workers with the project's scene in them, built only when it changed. Calls wait for each other.
 * @param isSplit whether its parts are to have one material each, see `splitByMaterials`.
 */
export function sceneFor(project: Project, isSplit = false): Promise<RenderPool> {
  const prepared = preparing.then(async () => {
    await ensureMeshes(project)
    pool ??= new RenderPool(spawnBrowserWorker, Math.max(1, Math.min(16, navigator.hardwareConcurrency)))
    const key = `${toSceneKey(project)}${isSplit ? ' by material' : ''}`
    if (key === sceneKey) return pool
    sceneKey = ''
    const models = loadedModels(project)
    await pool.setScene(isSplit ? splitByMaterials(models) : models)
    sceneKey = key
    return pool
  })
  preparing = prepared.catch(() => undefined)
  return prepared
}

/** Gives the workers the pictures of a rig's domes that they do not have yet. */
export async function bringDomes(workers: RenderPool, project: Project, rig: Rig): Promise<void> {
  for (const light of rig.lights) {
    if (light.kind !== 'dome' || light.look !== 'picture' || light.pictureId === null) continue
    const picture = project.pictures.find((p) => p.id === light.pictureId)
    if (!picture || domes.has(picture.id)) continue
    const bytes = await loadFile(project.id, picture.fileId)
    await workers.setDome(picture.id, await decodeDomeInWorker(bytes, picture.name))
    domes.add(picture.id)
  }
}
