import type { Document, JSONDocument } from '@gltf-transform/core'
import { Logger, WebIO } from '@gltf-transform/core'
import {
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  EXTTextureAVIF,
  EXTTextureWebP,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMeshQuantization,
  KHRTextureTransform,
} from '@gltf-transform/extensions'
import { MeshoptDecoder } from 'meshoptimizer/decoder'
import { UnreadableFileError } from '../errors'
import type { CheckedGltf } from './check-gltf-json'
import { checkGltfJson } from './check-gltf-json'
import type { FileFinder } from './file-bundle'
import { extension } from './file-bundle'
import { decodeText } from './text-bytes'

/** What is registered is read; the rest of the list in `check-gltf-json.ts` changes nothing that is. */
const EXTENSIONS = [
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  EXTTextureAVIF,
  EXTTextureWebP,
  KHRMaterialsEmissiveStrength,
  KHRMaterialsSpecular,
  KHRMaterialsTransmission,
  KHRMaterialsUnlit,
  KHRMeshQuantization,
  KHRTextureTransform,
]

function parseJson(bytes: Uint8Array, fileName: string): unknown {
  try {
    return JSON.parse(decodeText(bytes))
  } catch (cause) {
    throw new UnreadableFileError(fileName, 'its JSON cannot be parsed', { cause })
  }
}

/** The JSON and binary chunks of a GLB (glTF 2.0, §4.4). */
function glbChunks(bytes: Uint8Array, fileName: string): { json: unknown; binary: Uint8Array | null } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67)
    throw new UnreadableFileError(fileName, 'is not a GLB: its first bytes are not "glTF"')
  const version = view.getUint32(4, true)
  if (version !== 2) throw new UnreadableFileError(fileName, `GLB version ${version} is not supported; 2 is`)
  const claimed = view.getUint32(8, true)
  if (claimed > bytes.length)
    throw new UnreadableFileError(
      fileName,
      `claims ${claimed} bytes but holds ${bytes.length}: the file is cut short`,
    )
  const jsonLength = view.getUint32(12, true)
  if (20 + jsonLength > bytes.length)
    throw new UnreadableFileError(fileName, 'its JSON chunk runs past the end of the file')
  const json = parseJson(bytes.subarray(20, 20 + jsonLength), fileName)
  const at = 20 + jsonLength
  if (at + 8 > bytes.length) return { json, binary: null }
  const length = view.getUint32(at, true)
  if (at + 8 + length > bytes.length)
    throw new UnreadableFileError(fileName, 'its binary chunk runs past the end of the file')
  return { json, binary: bytes.subarray(at + 8, at + 8 + length) }
}

/** The name under which the library takes the binary chunk of a GLB. */
const GLB_BUFFER = '@glb.bin'

function bufferResources(
  checked: CheckedGltf,
  binary: Uint8Array | null,
  finder: FileFinder,
): Record<string, Uint8Array<ArrayBuffer>> {
  const { fileName } = finder
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {}
  checked.buffers.forEach((buffer, index) => {
    if (buffer.uri?.startsWith('data:')) return
    const isFallback = JSON.stringify(buffer.extensions ?? {}).includes('"fallback":true')
    if (buffer.uri === undefined) {
      if (isFallback) return
      if (!binary || index > 0)
        throw new UnreadableFileError(fileName, `its buffer ${index} is nowhere: it has no uri`)
      if (binary.length < buffer.byteLength)
        throw new UnreadableFileError(
          fileName,
          `its buffer ${index} should hold ${buffer.byteLength} bytes and holds ${binary.length}`,
        )
      resources[GLB_BUFFER] = new Uint8Array(binary)
      return
    }
    const found = finder.find(buffer.uri)
    if (!found) {
      if (isFallback) return
      throw new UnreadableFileError(
        fileName,
        `its buffer ${index} (${buffer.uri}) is not among the files given`,
      )
    }
    if (found.length < buffer.byteLength)
      throw new UnreadableFileError(
        fileName,
        `its buffer ${index} (${buffer.uri}) should hold ${buffer.byteLength} bytes and holds ${found.length}`,
      )
    resources[buffer.uri] = new Uint8Array(found)
  })
  // An empty stand-in keeps the library from asking for a picture that is missing.
  for (const { uri } of checked.images)
    if (uri !== undefined && !uri.startsWith('data:'))
      resources[uri] = new Uint8Array(finder.find(uri) ?? new Uint8Array(0))
  return resources
}

/**
 * Opens a glTF document, checked first, from the files given and nowhere else.
 * @throws {UnreadableFileError} naming the element and the reason.
 */
export async function openGltf(finder: FileFinder): Promise<Document> {
  const { fileName, bytes } = finder
  const isBinary = extension(fileName) === 'glb'
  const { json, binary } = isBinary
    ? glbChunks(bytes, fileName)
    : { json: parseJson(bytes, fileName), binary: null }
  const checked = checkGltfJson(json, fileName)
  try {
    const resources = bufferResources(checked, binary, finder)
    await MeshoptDecoder.ready
    const io = new WebIO()
      .setLogger(new Logger(Logger.Verbosity.SILENT))
      .registerExtensions(EXTENSIONS)
      .registerDependencies({ 'meshopt.decoder': MeshoptDecoder })
    return await io.readJSON({ json: json as JSONDocument['json'], resources })
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(fileName, cause instanceof Error ? cause.message : 'cannot be read', {
      cause,
    })
  }
}
