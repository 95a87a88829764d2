import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import { baseName, extension } from '@/core/formats/file-bundle'
import { isModelFile, isPictureFile, MODEL_EXTENSIONS } from '@/core/formats/model-readers'
import { newId } from '@/data/new-project'
import { toProjectModel } from '@/data/project-scene'
import { storageProblem } from '@/data/project-repository'
import { storeFile } from '@/data/storage-service'
import type { ModelSource, Project, ProjectModel } from '@/data/project-schema'
import { carryOver, type Unmatched } from '@/data/replace-model'
import type { ImportStage } from '@/engine/import-messages'
import { readModelInWorker, unzipInWorker, type LoadedModel } from '@/engine/read-model-in-worker'
import { frameAnew, isCameraUntouched } from './auto-frame'
import type { GivenFile } from './given-files'
import { currentMesh, rememberMesh } from './mesh-store'
import { changeProject, useProjectStore } from './project-store'

/** What came of an import, to be told in full. */
export interface ImportOutcome {
  /** Ids of the models that came in. */
  readonly added: readonly string[]
  /** Names of the pictures that were pinned as references. */
  readonly pinned: readonly string[]
  /** One line per file that could not be used. */
  readonly problems: readonly string[]
  /** Files that nothing asked for. */
  readonly unused: readonly string[]
  /** What did not match, where a model was replaced. */
  readonly unmatched: Unmatched | null
  readonly cancelled: boolean
}

export interface ImportProgress {
  readonly name: string
  readonly bytes: number
  readonly index: number
  readonly count: number
  readonly stage: ImportStage
}

interface ImportState {
  readonly progress: ImportProgress | null
  readonly outcome: ImportOutcome | null
  /** The project it was for. */
  readonly projectId: string
}
/** An import goes on when one looks at another step. */
export const useImportStore = create<ImportState>(() => ({ progress: null, outcome: null, projectId: '' }))
export const putOutcomeAway = (): void => useImportStore.setState({ outcome: null })

let running: AbortController | null = null
export const cancelImport = (): void => running?.abort()

const SUPPORTED = MODEL_EXTENSIONS.map((e) => `.${e}`).join(', ')

const messageOf = (error: unknown): string => {
  const text = error instanceof Error ? error.message : String(error)
  return /quota/i.test(text) ? storageProblem(error) : text
}

interface Gathered {
  readonly bundle: Map<string, Uint8Array>
  readonly problems: string[]
}

/** Reads what was given into memory, zips opened. What is of no use is named and left out. */
async function gather(given: readonly GivenFile[], signal: AbortSignal): Promise<Gathered> {
  const bundle = new Map<string, Uint8Array>()
  const problems: string[] = []
  // A folder brings its notes and thumbnails along; a file given by itself is meant.
  const meant = given.filter(({ path }) => !path.includes('/'))
  for (const { path, file } of given) {
    if (signal.aborted) throw new CancelledError('The import')
    try {
      if (extension(path) === 'zip') {
        const files = await unzipInWorker(path, file, signal)
        if (![...files.keys()].some((inner) => MODEL_EXTENSIONS.includes(extension(inner))))
          problems.push(`${path}: there is no model in it; ${SUPPORTED} are looked for.`)
        for (const [inner, content] of files) bundle.set(`${path}/${inner}`, content)
      } else if (isModelFile(path)) {
        bundle.set(path, new Uint8Array(await file.arrayBuffer()))
      } else if (meant.some((m) => m.path === path)) {
        problems.push(`${path}: this kind of file is not supported; ${SUPPORTED} are.`)
      }
    } catch (error) {
      if (error instanceof CancelledError) throw error
      problems.push(
        error instanceof DOMException
          ? `${path}: the file cannot be read (${error.message}).`
          : messageOf(error),
      )
    }
  }
  return { bundle, problems }
}

/** Keeps the files a model was made of; files that several models share are kept once. */
async function keepFiles(
  projectId: string,
  files: readonly string[],
  bundle: ReadonlyMap<string, Uint8Array>,
  kept: Map<string, string>,
): Promise<Extract<ModelSource, { type: 'file' }>['files']> {
  const stored: { name: string; fileId: string }[] = []
  for (const path of files) {
    const bytes = bundle.get(path)
    if (!bytes) continue
    let fileId = kept.get(path)
    if (!fileId) {
      fileId = newId()
      await storeFile(projectId, fileId, path, bytes)
      kept.set(path, fileId)
    }
    stored.push({ name: path, fileId })
  }
  return stored
}

const readable = (error: unknown): string | null =>
  error instanceof CancelledError ? null : messageOf(error)

/** Runs one import at a time and keeps what is told of it. */
async function asImport(
  work: (project: Project, signal: AbortSignal) => Promise<ImportOutcome>,
): Promise<ImportOutcome> {
  const nothing = { added: [], pinned: [], unused: [], unmatched: null }
  const { project } = useProjectStore.getState()
  if (!project) return { ...nothing, problems: ['No project is open.'], cancelled: false }
  if (running)
    return {
      ...nothing,
      problems: ['Another import is under way: wait for it or cancel it.'],
      cancelled: false,
    }
  running = new AbortController()
  let outcome: ImportOutcome
  try {
    outcome = await work(project, running.signal)
  } catch (error) {
    const problem = readable(error)
    outcome = { ...nothing, problems: problem === null ? [] : [problem], cancelled: problem === null }
  } finally {
    running = null
  }
  useImportStore.setState({ progress: null, outcome, projectId: project.id })
  return outcome
}

/** Adds a model to the open project. One undo step. @returns false where that project is open no longer. */
export function addModel(projectId: string, model: ProjectModel, loaded: LoadedModel): boolean {
  // The person may have gone to another project meanwhile.
  const { project } = useProjectStore.getState()
  if (project?.id !== projectId) return false
  const untouched = isCameraUntouched(project)
  rememberMesh(model.id, model, loaded)
  changeProject(`add ${model.name}`, (draft) => {
    const first = draft.models.length === 0
    draft.models.push(model as (typeof draft.models)[number])
    if (untouched) frameAnew(draft)
    if (first && draft.name === 'Untitled') draft.name = model.name
  })
  return true
}

/**
 * Reads dropped or picked files into the open project. What fails leaves the project as it was. Pictures that come
 * without any model are pinned as references.
 */
export const importFiles = (given: readonly GivenFile[]): Promise<ImportOutcome> =>
  asImport(async (project, signal) => {
    const { bundle, problems } = await gather(given, signal)
    const names = [...bundle.keys()].filter((path) => MODEL_EXTENSIONS.includes(extension(path)))
    const added: string[] = []
    const pinned: string[] = []
    const used = new Set<string>()
    const kept = new Map<string, string>()
    let cancelled = false
    for (const [index, name] of names.entries()) {
      const tell = (stage: ImportStage) =>
        useImportStore.setState({
          progress: { name, bytes: bundle.get(name)?.length ?? 0, index, count: names.length, stage },
        })
      try {
        tell('reading')
        // Other models are of no use to this one, and what is sent is copied.
        const own = [...bundle].filter(
          ([path]) => path === name || !MODEL_EXTENSIONS.includes(extension(path)),
        )
        const loaded = await readModelInWorker(
          { type: 'file', entry: name, files: new Map(own), repairs: [] },
          signal,
          tell,
        )
        for (const path of loaded.files) used.add(path)
        const files = await keepFiles(project.id, loaded.files, bundle, kept)
        const id = newId()
        const model = toProjectModel(id, { type: 'file', entry: name, files }, loaded, loaded.summary)
        if (addModel(project.id, model, loaded)) added.push(id)
        else problems.push(`${name}: the project was closed before it was read; give it once more.`)
      } catch (error) {
        const problem = readable(error)
        used.add(name)
        if (problem === null) {
          cancelled = true
          break
        }
        problems.push(problem)
      }
    }
    if (names.length === 0) {
      for (const [path, bytes] of bundle) {
        if (!isPictureFile(path)) continue
        used.add(path)
        try {
          await pinReference(project.id, path, bytes)
          pinned.push(baseName(path))
        } catch (error) {
          problems.push(messageOf(error))
        }
      }
      if (pinned.length === 0 && problems.length === 0)
        problems.push('No model among the files: drop the .obj or .gltf together with its companions.')
    }
    const unused = cancelled ? [] : [...bundle.keys()].filter((path) => !used.has(path))
    return { added, pinned, problems, unused, unmatched: null, cancelled }
  })

/**
 * Replaces a model by a newer file. Names, groups, roles, materials, place and repairs carry over to what has its like
 * in the new file. One undo step; where the new file cannot be read, nothing changes.
 */
export const replaceModel = (modelId: string, given: readonly GivenFile[]): Promise<ImportOutcome> =>
  asImport(async (project, signal) => {
    const old = project.models.find((m) => m.id === modelId)
    if (!old) throw new Error('The model to be replaced is no longer there.')
    const { bundle, problems } = await gather(given, signal)
    const names = [...bundle.keys()].filter((path) => MODEL_EXTENSIONS.includes(extension(path)))
    const none = { added: [], pinned: [], unused: [], unmatched: null, cancelled: false }
    if (names.length !== 1) {
      const what =
        names.length === 0 ? 'No model among the files' : `There are ${names.length} models among the files`
      return { ...none, problems: [...problems, `${what}: give one, with what belongs to it.`] }
    }
    const [name] = names
    const tell = (stage: ImportStage) =>
      useImportStore.setState({
        progress: { name, bytes: bundle.get(name)?.length ?? 0, index: 0, count: 1, stage },
      })
    tell('reading')
    // The repairs are those of before, as far as they are of the whole model; the others need to know the new parts.
    const plain = await readModelInWorker(
      { type: 'file', entry: name, files: bundle, repairs: [] },
      signal,
      tell,
    )
    const files = await keepFiles(project.id, plain.files, bundle, new Map())
    const fresh = toProjectModel(newId(), { type: 'file', entry: name, files }, plain, plain.summary)
    const before = currentMesh(old)
    const { model: carried, unmatched } = carryOver(
      old,
      before?.parts ?? old.parts,
      (before?.materials ?? old.materials).map((m) => m.name),
      fresh,
    )
    const loaded =
      carried.repairs.length === 0
        ? plain
        : await readModelInWorker(
            { type: 'file', entry: name, files: bundle, repairs: [...carried.repairs] },
            signal,
            tell,
          )
    const model = { ...carried, ...measured(carried, loaded) }
    const now = useProjectStore.getState().project
    const untouched = now !== null && isCameraUntouched(now)
    rememberMesh(model.id, model, loaded)
    changeProject(`replace ${model.name}`, (draft) => {
      const at = draft.models.findIndex((m) => m.id === modelId)
      if (at < 0) return
      draft.models[at] = model as (typeof draft.models)[number]
      if (untouched) frameAnew(draft)
    })
    const unused = [...bundle.keys()].filter((path) => !plain.files.includes(path))
    return { added: [modelId], pinned: [], problems, unused, unmatched, cancelled: false }
  })

/** What of a project's model follows from its geometry. */
export const measured = (
  model: ProjectModel,
  { summary }: Pick<LoadedModel, 'summary'>,
): Pick<ProjectModel, 'geometryHash' | 'parts' | 'polygons'> => ({
  geometryHash: summary.geometryHash,
  polygons: { ...summary.polygonsBySides },
  parts: model.parts.map((part, i) => ({
    ...part,
    polygons: summary.parts[i].polygons,
    sides: { ...summary.parts[i].sides },
    materials: [...summary.parts[i].materials],
  })),
})

/** Keeps a picture beside the view. One undo step. @throws where the browser cannot show it or has no room for it. */
export async function pinReference(projectId: string, path: string, bytes: Uint8Array): Promise<void> {
  const name = baseName(path)
  try {
    const bitmap = await createImageBitmap(new Blob([bytes.slice()]))
    bitmap.close()
  } catch {
    throw new Error(`${name}: this browser cannot show it as a picture.`)
  }
  const fileId = newId()
  await storeFile(projectId, fileId, name, bytes)
  changeProject(`pin ${name}`, (draft) => void draft.references.push({ id: newId(), name, fileId }))
}

export const removeReference = (id: string): void =>
  changeProject('remove reference', (draft) => {
    draft.references = draft.references.filter((reference) => reference.id !== id)
  })
