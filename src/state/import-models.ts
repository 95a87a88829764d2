import { COMPANION_EXTENSIONS, MODEL_EXTENSIONS } from '@/core/formats/model-readers'
import { baseName, extension } from '@/core/formats/file-bundle'
import { framePoints } from '@/core/scene/camera'
import { newId } from '@/data/new-project'
import { toProjectModel } from '@/data/project-scene'
import { saveFile, storageProblem } from '@/data/project-repository'
import { readModelInWorker } from '@/engine/read-model-in-worker'
import { rememberMesh } from './mesh-store'
import { changeProject, useProjectStore } from './project-store'

export interface ImportOutcome {
  readonly added: readonly string[]
  /** One line per file that could not be used. */
  readonly problems: readonly string[]
}

/**
 * Reads dropped or picked files into the open project. What fails leaves the project as it was.
 * @param onFile told of each model before it is read.
 */
export async function importModels(
  files: readonly File[],
  signal?: AbortSignal,
  onFile: (name: string, bytes: number) => void = () => undefined,
): Promise<ImportOutcome> {
  const { project } = useProjectStore.getState()
  if (!project) return { added: [], problems: ['No project is open.'] }
  const added: string[] = []
  const problems: string[] = []
  const bundle = new Map<string, Uint8Array>()
  const names: string[] = []
  for (const file of files) {
    const kind = extension(file.name)
    const known =
      MODEL_EXTENSIONS.includes(kind) || (COMPANION_EXTENSIONS as readonly string[]).includes(kind)
    if (!known) {
      problems.push(
        `${file.name}: this kind of file is not supported; ${MODEL_EXTENSIONS.map((e) => `.${e}`).join(', ')} are.`,
      )
      continue
    }
    bundle.set(file.name, new Uint8Array(await file.arrayBuffer()))
    if (MODEL_EXTENSIONS.includes(kind)) names.push(file.name)
  }
  if (names.length === 0 && problems.length === 0)
    problems.push('No model among the files: drop the .obj or .gltf together with its companions.')
  for (const name of names) {
    onFile(name, bundle.get(name)?.length ?? 0)
    try {
      const model = await readModelInWorker(bundle, name, signal)
      const id = newId()
      const own = [...bundle].filter(
        ([other]) => other === name || !MODEL_EXTENSIONS.includes(extension(other)),
      )
      const stored = own.map(([fileName]) => ({ name: baseName(fileName), fileId: newId() }))
      for (const [i, [, bytes]] of own.entries())
        await saveFile(project.id, stored[i].fileId, stored[i].name, bytes)
      rememberMesh(id, model)
      const projectModel = toProjectModel(id, baseName(name), stored, model, model.summary)
      const { positions } = model.outline
      changeProject(`add ${projectModel.name}`, (draft) => {
        const first = draft.models.length === 0
        draft.models.push(projectModel as (typeof draft.models)[number])
        const [shot] = draft.shots
        if (first && positions.length > 0 && !shot.locked) {
          const camera = framePoints(
            (visit) => {
              for (let i = 0; i < positions.length; i += 3)
                visit(positions[i], positions[i + 1], positions[i + 2])
            },
            -30,
            16,
            shot.frame,
          )
          shot.camera = { ...camera, eye: [...camera.eye], target: [...camera.target] }
        }
        if (first && draft.name === 'Untitled') draft.name = projectModel.name
      })
      added.push(projectModel.name)
    } catch (error) {
      const text = error instanceof Error ? error.message : String(error)
      problems.push(/quota/i.test(text) ? storageProblem(error) : text)
    }
  }
  return { added, problems }
}
