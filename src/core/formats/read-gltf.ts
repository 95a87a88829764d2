import type { Document, JSONDocument, Node as GltfNode } from '@gltf-transform/core'
import { Logger, Primitive, WebIO } from '@gltf-transform/core'
import { UnreadableFileError } from '../errors'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model } from '../geometry/polygon-mesh'
import { linearToSrgb } from '../math/colour'
import { checkGltfJson } from './check-gltf-json'
import type { FileBundle } from './file-bundle'
import { extension, findFile, stem } from './file-bundle'
import { decodeText } from './read-obj'

/** The JSON chunk of a GLB (glTF 2.0, §4.4), for the checks above. */
function glbJson(bytes: Uint8Array, fileName: string): unknown {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 20 || view.getUint32(0, true) !== 0x46546c67) {
    throw new UnreadableFileError(fileName, 'is not a GLB: its first bytes are not "glTF"')
  }
  const claimed = view.getUint32(8, true)
  if (claimed > bytes.length) {
    throw new UnreadableFileError(
      fileName,
      `claims ${claimed} bytes but holds ${bytes.length}: the file is cut short`,
    )
  }
  const jsonLength = view.getUint32(12, true)
  if (20 + jsonLength > bytes.length)
    throw new UnreadableFileError(fileName, 'its JSON chunk runs past the end of the file')
  return parseJson(bytes.subarray(20, 20 + jsonLength), fileName)
}

function parseJson(bytes: Uint8Array, fileName: string): unknown {
  try {
    return JSON.parse(decodeText(bytes))
  } catch (cause) {
    throw new UnreadableFileError(fileName, 'its JSON cannot be parsed', { cause })
  }
}

async function openDocument(bundle: FileBundle, fileName: string, bytes: Uint8Array): Promise<Document> {
  const io = new WebIO().setLogger(new Logger(Logger.Verbosity.SILENT))
  if (extension(fileName) === 'glb') {
    checkGltfJson(glbJson(bytes, fileName), fileName)
    return io.readBinary(bytes)
  }
  const json = parseJson(bytes, fileName)
  const { buffers, images } = checkGltfJson(json, fileName)
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {}
  for (const [index, buffer] of buffers.entries()) {
    if (buffer.uri === undefined || buffer.uri.startsWith('data:')) continue
    const found = findFile(bundle, decodeURIComponent(buffer.uri))
    if (!found)
      throw new UnreadableFileError(
        fileName,
        `its buffer ${index} (${buffer.uri}) is not among the files given`,
      )
    if (found.length < buffer.byteLength)
      throw new UnreadableFileError(
        fileName,
        `its buffer ${index} (${buffer.uri}) should hold ${buffer.byteLength} bytes and holds ${found.length}`,
      )
    resources[buffer.uri] = new Uint8Array(found)
  }
  // Pictures are not read yet; an empty stand-in keeps the library from asking for them.
  for (const image of images) {
    if (image.uri !== undefined && !image.uri.startsWith('data:')) resources[image.uri] = new Uint8Array(0)
  }
  return io.readJSON({ json: json as JSONDocument['json'], resources })
}

/** Vertex numbers of each triangle of a primitive, for the three triangle modes; empty for points and lines. */
function triangleIndices(mode: number, indices: ArrayLike<number>): number[] {
  const out: number[] = []
  if (mode === Primitive.Mode.TRIANGLES) {
    for (let i = 0; i + 2 < indices.length; i += 3) out.push(indices[i], indices[i + 1], indices[i + 2])
  } else if (mode === Primitive.Mode.TRIANGLE_STRIP) {
    for (let i = 0; i + 2 < indices.length; i++) {
      const odd = i % 2
      out.push(indices[i], indices[i + 1 + odd], indices[i + 2 - odd])
    }
  } else if (mode === Primitive.Mode.TRIANGLE_FAN) {
    for (let i = 1; i + 1 < indices.length; i++) out.push(indices[0], indices[i], indices[i + 1])
  }
  return out
}

/**
 * Reads glTF 2.0 (`.gltf` with its buffers from the bundle, or `.glb`). Every node with a mesh becomes a part, placed
 * by its world matrix; mirrored nodes keep their winding.
 * @throws {UnreadableFileError} naming the element and the reason.
 */
export async function readGltf(bundle: FileBundle, fileName: string): Promise<Model> {
  const bytes = findFile(bundle, fileName)
  if (!bytes) throw new UnreadableFileError(fileName, 'the file is not among those given')
  let document: Document
  try {
    document = await openDocument(bundle, fileName, bytes)
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(fileName, cause instanceof Error ? cause.message : 'cannot be read', {
      cause,
    })
  }
  const builder = new MeshBuilder()
  const root = document.getRoot()
  const materialIndex = new Map<unknown, number>()
  for (const material of root.listMaterials()) {
    const [r, g, b] = material.getBaseColorFactor()
    const encode = (v: number) => linearToSrgb(Math.min(1, Math.max(0, v)))
    const index = builder.materials.push({
      name: material.getName() || `material ${materialIndex.size + 1}`,
      baseColour: [encode(r), encode(g), encode(b)],
    })
    materialIndex.set(material, index - 1)
  }
  let plain = -1
  const plainMaterial = (): number => {
    if (plain < 0) plain = builder.materials.push({ name: 'unnamed', baseColour: [0.8, 0.8, 0.8] }) - 1
    return plain
  }

  const addNode = (node: GltfNode, parent: number): void => {
    const mesh = node.getMesh()
    const hasChildren = node.listChildren().length > 0
    const name = node.getName() || mesh?.getName() || `part ${builder.parts.length + 1}`
    const part = mesh || hasChildren ? builder.parts.push({ name, parent }) - 1 : parent
    if (mesh) {
      const m = node.getWorldMatrix()
      for (const primitive of mesh.listPrimitives()) {
        const owner = primitive.getMaterial()
        addPrimitive(
          primitive,
          m,
          part,
          owner ? (materialIndex.get(owner) ?? plainMaterial()) : plainMaterial(),
        )
      }
    }
    for (const child of node.listChildren()) addNode(child, part)
  }

  const addPrimitive = (primitive: Primitive, m: readonly number[], part: number, material: number): void => {
    const position = primitive.getAttribute('POSITION')
    const partName = builder.parts[part].name
    if (!position) {
      builder.warn('no-positions', partName, (n) => `${n} primitive(s) without positions; dropped`)
      return
    }
    const normal = primitive.getAttribute('NORMAL')
    const uv = primitive.getAttribute('TEXCOORD_0')
    const base = builder.positions.length / 3
    const total = position.getCount()
    const el: number[] = []
    for (let v = 0; v < total; v++) {
      position.getElement(v, el)
      const [x, y, z] = el
      builder.positions.push3(
        m[0] * x + m[4] * y + m[8] * z + m[12],
        m[1] * x + m[5] * y + m[9] * z + m[13],
        m[2] * x + m[6] * y + m[10] * z + m[14],
      )
    }
    // Normals go by the cofactor matrix, which also points them outward on mirrored nodes.
    const c = [
      m[5] * m[10] - m[6] * m[9],
      m[6] * m[8] - m[4] * m[10],
      m[4] * m[9] - m[5] * m[8],
      m[2] * m[9] - m[1] * m[10],
      m[0] * m[10] - m[2] * m[8],
      m[1] * m[8] - m[0] * m[9],
      m[1] * m[6] - m[2] * m[5],
      m[2] * m[4] - m[0] * m[6],
      m[0] * m[5] - m[1] * m[4],
    ]
    const mirrored = m[0] * c[0] + m[4] * c[3] + m[8] * c[6] < 0
    const sign = mirrored ? -1 : 1
    const source = primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: total }, (_, i) => i)
    const triangles = triangleIndices(primitive.getMode(), source)
    if (triangles.length === 0) {
      builder.warn('no-triangles', partName, (n) => `${n} primitive(s) of points, lines or nothing; dropped`)
    }
    const corner = [0, 0, 0]
    const normals = new Array<number>(9)
    const uvs = new Array<number>(6)
    for (let i = 0; i < triangles.length; i += 3) {
      for (let k = 0; k < 3; k++) {
        const v = triangles[i + (mirrored ? 2 - k : k)]
        corner[k] = base + v
        if (normal && v < normal.getCount()) {
          normal.getElement(v, el)
          const [x, y, z] = el
          normals[3 * k] = sign * (c[0] * x + c[3] * y + c[6] * z)
          normals[3 * k + 1] = sign * (c[1] * x + c[4] * y + c[7] * z)
          normals[3 * k + 2] = sign * (c[2] * x + c[5] * y + c[8] * z)
        }
        if (uv && v < uv.getCount()) {
          uv.getElement(v, el)
          uvs[2 * k] = el[0]
          uvs[2 * k + 1] = 1 - el[1]
        }
      }
      builder.addFace(corner, normal ? normals : null, uv ? uvs : null, part, material)
    }
  }

  const scenes = root.listScenes()
  const scene = root.getDefaultScene() ?? scenes[0]
  try {
    for (const node of scene ? scene.listChildren() : root.listNodes().filter((n) => !n.getParentNode()))
      addNode(node, -1)
  } catch (cause) {
    throw new UnreadableFileError(fileName, 'its geometry cannot be read: an accessor is out of range', {
      cause,
    })
  }
  if (builder.faces === 0) throw new UnreadableFileError(fileName, 'holds no usable polygon')
  return builder.finish(stem(fileName))
}
