import { create } from 'zustand'
import { loadFile } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import type { LoadedModel } from '@/engine/import-worker'
import { readModelInWorker } from '@/engine/read-model-in-worker'

/** Geometry of the open project's models, read again from their files; too large for the project document. */
interface MeshState {
  readonly models: Readonly<Record<string, LoadedModel>>
  readonly problems: Readonly<Record<string, string>>
}
export const useMeshStore = create<MeshState>(() => ({ models: {}, problems: {} }))

export const rememberMesh = (modelId: string, model: LoadedModel): void =>
  useMeshStore.setState((s) => ({ models: { ...s.models, [modelId]: model } }))

const loading = new Map<string, Promise<void>>()

/** Loads what is not loaded yet; resolves when every model of the project is there or has failed. */
export async function ensureMeshes(project: Project): Promise<void> {
  await Promise.all(
    project.models.map((model) => {
      if (useMeshStore.getState().models[model.id]) return undefined
      const running = loading.get(model.id)
      if (running) return running
      const load = (async () => {
        try {
          const files = new Map<string, Uint8Array>()
          for (const file of model.files) files.set(file.name, await loadFile(project.id, file.fileId))
          rememberMesh(model.id, await readModelInWorker(files, model.entry))
        } catch (error) {
          const message = error instanceof Error ? error.message : String(error)
          useMeshStore.setState((s) => ({ problems: { ...s.problems, [model.id]: message } }))
        } finally {
          loading.delete(model.id)
        }
      })()
      loading.set(model.id, load)
      return load
    }),
  )
}
