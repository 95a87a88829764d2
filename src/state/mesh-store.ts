import { create } from 'zustand'
import { loadFile } from '@/data/project-repository'
import type { Project, ProjectModel } from '@/data/project-schema'
import type { ImportRequest } from '@/engine/import-messages'
import { readModelInWorker, type LoadedModel } from '@/engine/read-model-in-worker'

/** Geometry of the open project's models, read again from their files; too large for the project document. */
interface MeshState {
  readonly models: Readonly<Record<string, LoadedModel>>
  readonly problems: Readonly<Record<string, string>>
}
export const useMeshStore = create<MeshState>(() => ({ models: {}, problems: {} }))

type Made = Pick<ProjectModel, 'source' | 'repairs'>

/** What a model's geometry was made from, or was tried to be. */
const madeFrom = new Map<string, Made>()
const isSame = (a: Made | undefined, b: Made): boolean =>
  a !== undefined &&
  (a.source === b.source || JSON.stringify(a.source) === JSON.stringify(b.source)) &&
  (a.repairs === b.repairs || JSON.stringify(a.repairs) === JSON.stringify(b.repairs))

/** Geometry that was shown lately, so that undo and redo of a repair do not read the file again. */
const recent: { readonly id: string; readonly made: Made; readonly loaded: LoadedModel }[] = []
const MOST_RECENT = 4
/** Corners of the largest mesh that is kept so: its copies would not fit beside it. */
const MOST_CORNERS = 1_500_000

export function rememberMesh(id: string, made: Made, loaded: LoadedModel): void {
  madeFrom.set(id, made)
  const at = recent.findIndex((r) => r.id === id && isSame(r.made, made))
  if (at >= 0) recent.splice(at, 1)
  if (loaded.mesh.cornerVertices.length <= MOST_CORNERS) recent.unshift({ id, made, loaded })
  recent.length = Math.min(recent.length, MOST_RECENT)
  useMeshStore.setState((s) => {
    const { [id]: _solved, ...problems } = s.problems
    return { models: { ...s.models, [id]: loaded }, problems }
  })
}

/** What the import worker needs to make a model's geometry again. */
export async function importRequest(projectId: string, { source, repairs }: Made): Promise<ImportRequest> {
  if (source.type === 'prop')
    return { type: 'prop', prop: source.prop, params: source.params, repairs: [...repairs] }
  const files = new Map<string, Uint8Array>()
  for (const file of source.files) files.set(file.name, await loadFile(projectId, file.fileId))
  return { type: 'file', entry: source.entry, files, repairs: [...repairs] }
}

/** A model's geometry as the project has it now; null where it is not read yet or cannot be. */
export const currentMesh = (model: Pick<ProjectModel, 'id'> & Made): LoadedModel | null =>
  (isSame(madeFrom.get(model.id), model) && useMeshStore.getState().models[model.id]) || null

const loading = new Map<string, { readonly made: Made; readonly done: Promise<void> }>()

async function load(projectId: string, model: ProjectModel): Promise<void> {
  const kept = recent.find((r) => r.id === model.id && isSame(r.made, model))
  if (kept) {
    rememberMesh(model.id, model, kept.loaded)
    return
  }
  try {
    const loaded = await readModelInWorker(await importRequest(projectId, model))
    // Another file or repair may have been asked for meanwhile.
    if (isSame(loading.get(model.id)?.made, model)) rememberMesh(model.id, model, loaded)
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error)
    madeFrom.set(model.id, model)
    useMeshStore.setState((s) => {
      const { [model.id]: _stale, ...models } = s.models
      return { models, problems: { ...s.problems, [model.id]: message } }
    })
  }
}

/** Loads what is not loaded yet; resolves when every model of the project is there or has failed. */
export async function ensureMeshes(project: Project): Promise<void> {
  await Promise.all(
    project.models.map((model) => {
      const { models, problems } = useMeshStore.getState()
      const isThere = model.id in models || model.id in problems
      if (isThere && isSame(madeFrom.get(model.id), model)) return undefined
      const running = loading.get(model.id)
      if (running && isSame(running.made, model)) return running.done
      const done = Promise.resolve()
        .then(() => load(project.id, model))
        .finally(() => {
          if (loading.get(model.id)?.done === done) loading.delete(model.id)
        })
      loading.set(model.id, { made: model, done })
      return done
    }),
  )
}
