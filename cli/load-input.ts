import { summarizeMesh } from '@/core/geometry/mesh-summary'
import { statSync } from 'node:fs'
import { open, readFile, stat } from 'node:fs/promises'
import path from 'node:path'
import { UnreadableFileError } from '@/core/errors'
import { extension } from '@/core/formats/file-bundle'
import type { ByteSource } from '@/core/formats/zip-file'
import { readModel } from '@/core/formats/model-readers'
import type { Model } from '@/core/geometry/polygon-mesh'
import { propKind } from '@/core/geometry/props/registry'
import { repairMesh } from '@/core/geometry/repairs/registry'
import type { SceneModel } from '@/core/scene/scene-geometry'
import { newProject } from '@/data/new-project'
import {
  openProjectArchive,
  openProjectEntries,
  type NamedFile,
  type OpenArchive,
} from '@/data/project-archive'
import type { Project, ProjectModel } from '@/data/project-schema'
import { toProjectModel, toSceneModels, type SceneSource } from '@/data/project-scene'
import { unpackedProject } from './unpacked-project'

function unreadable(file: string, cause: unknown): UnreadableFileError {
  const code = cause instanceof Error && 'code' in cause ? cause.code : ''
  const reason =
    code === 'ENOENT' ? 'there is no such file' : code === 'EISDIR' ? 'is a folder' : 'cannot be read'
  return new UnreadableFileError(file, reason, { cause })
}

export async function readBytes(file: string): Promise<Uint8Array> {
  try {
    return new Uint8Array(await readFile(file))
  } catch (cause) {
    throw unreadable(file, cause)
  }
}

/** A file to be read in pieces: archives may be larger than memory. */
export async function fileSourceOf(file: string): Promise<ByteSource> {
  try {
    const found = await stat(file)
    if (found.isDirectory()) throw Object.assign(new Error(file), { code: 'EISDIR' })
    return {
      size: found.size,
      read: async (start, length) => {
        const handle = await open(file)
        try {
          const bytes = new Uint8Array(Math.max(0, Math.min(length, found.size - start)))
          const { bytesRead } = await handle.read(bytes, 0, bytes.length, start)
          return bytes.subarray(0, bytesRead)
        } finally {
          await handle.close()
        }
      },
    }
  } catch (cause) {
    throw unreadable(file, cause)
  }
}

/** References (`.mtl`, `.bin`) in a model file, found beside it. */
async function siblings(file: string, bytes: Uint8Array): Promise<Map<string, Uint8Array>> {
  const bundle = new Map([[path.basename(file), bytes]])
  const names = new Set<string>()
  if (extension(file) === 'obj') {
    for (const match of Buffer.from(bytes)
      .toString('latin1')
      .matchAll(/^\s*mtllib\s+(.+?)\s*$/gm))
      names.add(match[1])
  } else if (extension(file) === 'gltf') {
    for (const match of Buffer.from(bytes)
      .toString('utf8')
      .matchAll(/"uri"\s*:\s*"(?!data:)([^"]+)"/g)) {
      names.add(match[1])
      try {
        names.add(decodeURIComponent(match[1]))
      } catch {
        // Not written in percents.
      }
    }
  }
  for (const name of names) {
    // Only files beside or below the model are opened.
    const relative = path.normalize(name)
    if (path.isAbsolute(relative) || relative.startsWith('..')) continue
    try {
      bundle.set(name, new Uint8Array(await readFile(path.join(path.dirname(file), relative))))
    } catch {
      // Missing companions are the reader's to report.
    }
  }
  return bundle
}

export const loadModel = async (file: string): Promise<Model> => (await loadModelFiles(file)).model

/** A model and the files it was read from. */
async function loadModelFiles(
  file: string,
): Promise<{ readonly model: Model; readonly files: ReadonlyMap<string, Uint8Array> }> {
  const files = await siblings(file, await readBytes(file))
  try {
    return { model: await readModel(files, path.basename(file)), files }
  } catch (error) {
    if (error instanceof UnreadableFileError)
      throw new UnreadableFileError(file, error.reason, { cause: error })
    throw error
  }
}

/** A project's model as its file gives it, or as the application makes it. */
async function projectGeometry({ source }: ProjectModel, archive: OpenArchive): Promise<Model> {
  if (source.type === 'prop') return propKind(source.prop).make(source.params)
  const files = new Map<string, Uint8Array>()
  for (const { name, fileId } of source.files) files.set(name, (await archive.file(fileId)).bytes)
  return readModel(files, source.entry)
}

export interface LoadedScene {
  readonly models: SceneModel[]
  /** The project, where the input was one, and what it was read from. */
  readonly project: Project | null
  readonly archive: OpenArchive | null
}

/** A project with the geometry of its models. */
export interface LoadedProject {
  readonly project: Project
  /** The archive it is from; null for bare models. */
  readonly archive: OpenArchive | null
  /** Files of bare models, by their ids in the project. */
  readonly files: ReadonlyMap<string, NamedFile>
  readonly sourceOf: (modelId: string) => SceneSource
}

/** One project archive, or models as a new project. */
export async function loadAsProject(inputs: readonly string[]): Promise<LoadedProject> {
  const sources = new Map<string, SceneSource>()
  const sourceOf = (id: string): SceneSource => {
    const source = sources.get(id)
    if (!source) throw new UnreadableFileError(inputs[0], `model ${id} is missing`)
    return source
  }
  const files = new Map<string, NamedFile>()
  const isFolder = statSync(inputs[0], { throwIfNoEntry: false })?.isDirectory() ?? false
  if (inputs.length === 1 && (isFolder || extension(inputs[0]) === 'zip')) {
    const archive = isFolder
      ? await openProjectEntries(unpackedProject(inputs[0]), inputs[0])
      : await openProjectArchive(await fileSourceOf(inputs[0]), inputs[0])
    const { project } = archive
    for (const model of project.models) {
      const read = await projectGeometry(model, archive)
      sources.set(model.id, { ...read, mesh: repairMesh(read.mesh, model.repairs).mesh })
    }
    return { project, archive, files, sourceOf }
  }
  const models: ProjectModel[] = []
  for (const [index, file] of inputs.entries()) {
    const id = `m${index}`
    const { model, files: read } = await loadModelFiles(file)
    const stored = [...read].map(([name, bytes], i) => {
      const fileId = `${id}-${i}`
      files.set(fileId, { name, bytes })
      return { name, fileId }
    })
    const source = { type: 'file' as const, entry: path.basename(file), files: stored }
    models.push(toProjectModel(id, source, model, summarizeMesh(model.mesh, model.parts.length)))
    sources.set(id, model)
  }
  const project = { ...newProject(models[0]?.name ?? 'Untitled'), models, passes: [] }
  return { project, archive: null, files, sourceOf }
}

/** Models, or one project archive, as a scene. */
export async function loadScene(inputs: readonly string[]): Promise<LoadedScene> {
  const { project, archive, sourceOf } = await loadAsProject(inputs)
  return { models: toSceneModels(project, sourceOf), project: archive && project, archive }
}
