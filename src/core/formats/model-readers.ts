import { UnreadableFileError } from '../errors'
import { hasArea } from '../geometry/has-area'
import { faceCount } from '../geometry/polygon-mesh'
import { plural } from '../plural'
import type { Model } from '../geometry/polygon-mesh'
import type { FileBundle } from './file-bundle'
import { baseName, extension } from './file-bundle'
import { readGltf } from './read-gltf'
import { readObj } from './read-obj'
import { readPly } from './read-ply'
import { readStl } from './read-stl'

/** A model with the paths of the files it came from, its own first. */
export type ReadModel = Model & { readonly files: readonly string[] }

/** A format a model can be read from. */
export interface ModelReader {
  readonly extensions: readonly string[]
  readonly label: string
  readonly read: (bundle: FileBundle, fileName: string) => ReadModel | Promise<ReadModel>
}

/** All model formats. Adding one is one file and one line here. */
export const MODEL_READERS: readonly ModelReader[] = [
  { extensions: ['obj'], label: 'Wavefront OBJ', read: readObj },
  { extensions: ['gltf', 'glb'], label: 'glTF 2.0', read: readGltf },
  { extensions: ['ply'], label: 'PLY', read: readPly },
  { extensions: ['stl'], label: 'STL', read: readStl },
]

/** Files that only serve a model beside them. */
export const COMPANION_EXTENSIONS = [
  'mtl',
  'bin',
  'png',
  'jpg',
  'jpeg',
  'webp',
  'avif',
  'bmp',
  'gif',
] as const

export const MODEL_EXTENSIONS: readonly string[] = MODEL_READERS.flatMap((r) => r.extensions)

/** What a window for choosing files offers where models are wanted. */
export const MODEL_ACCEPT = [
  ...MODEL_EXTENSIONS.map((ending) => `.${ending}`),
  '.mtl',
  '.bin',
  '.zip',
  'image/*',
].join(',')

const KNOWN_EXTENSIONS: ReadonlySet<string> = new Set([...MODEL_EXTENSIONS, ...COMPANION_EXTENSIONS])

/** Whether a file may be of use for a model: one, or what belongs to one. Hidden files and those of systems are not. */
export const isModelFile = (path: string): boolean =>
  KNOWN_EXTENSIONS.has(extension(path)) && !/(^|\/)(\.|__MACOSX\/)/.test(path)

/** Whether it is a picture, by its ending. */
export const isPictureFile = (path: string): boolean =>
  isModelFile(path) && !MODEL_EXTENSIONS.includes(extension(path)) && !/\.(mtl|bin)$/i.test(path)

/**
 * Reads one model of the bundle with the reader its ending names.
 * @throws {UnreadableFileError} for an unknown ending, an empty file, or what the reader refuses.
 */
export async function readModel(bundle: FileBundle, fileName: string): Promise<ReadModel> {
  const reader = MODEL_READERS.find((r) => r.extensions.includes(extension(fileName)))
  if (!reader) {
    const known = MODEL_EXTENSIONS.map((e) => `.${e}`).join(', ')
    throw new UnreadableFileError(baseName(fileName), `this kind of file is not supported; ${known} are`)
  }
  if (bundle.get(fileName)?.length === 0)
    throw new UnreadableFileError(baseName(fileName), 'the file is empty')
  const model = await reader.read(bundle, fileName)
  if (!hasArea(model.mesh)) {
    const faces = plural(faceCount(model.mesh), 'polygon')
    throw new UnreadableFileError(
      baseName(fileName),
      `holds ${faces}, and none has an area: there is nothing of it to see`,
    )
  }
  return model
}
