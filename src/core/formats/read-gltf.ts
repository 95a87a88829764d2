import { plural } from '../plural'
import type { Accessor, Document, Node as GltfNode, Skin } from '@gltf-transform/core'
import { Primitive } from '@gltf-transform/core'
import type { InstancedMesh } from '@gltf-transform/extensions'
import { UnreadableFileError } from '../errors'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model } from '../geometry/polygon-mesh'
import { linearToSrgbFast } from '../math/colour'
import type { Affine } from '../scene/placement'
import { mapPoint, multiply, normalMatrix } from '../scene/placement'
import type { FileBundle } from './file-bundle'
import { FileFinder, stem } from './file-bundle'
import { gltfCamera } from './gltf-camera'
import { GltfMaterials } from './gltf-materials'
import { openGltf } from './open-gltf'

/** Vertex numbers of each triangle of a primitive, for the three triangle modes; empty for points and lines. */
function triangleIndices(mode: number, indices: ArrayLike<number>): Uint32Array {
  if (mode === Primitive.Mode.TRIANGLES)
    return new Uint32Array(indices).subarray(0, indices.length - (indices.length % 3))
  const out: number[] = []
  if (mode === Primitive.Mode.TRIANGLE_STRIP) {
    for (let i = 0; i + 2 < indices.length; i++) {
      const odd = i % 2
      out.push(indices[i], indices[i + 1 + odd], indices[i + 2 - odd])
    }
  } else if (mode === Primitive.Mode.TRIANGLE_FAN) {
    for (let i = 1; i + 1 < indices.length; i++) out.push(indices[0], indices[i], indices[i + 1])
  }
  return Uint32Array.from(out)
}

/** An accessor's numbers as floats, `width` per element, quantised ones scaled as they ask. */
function floats(accessor: Accessor, width: number): Float32Array {
  const array = accessor.getArray()
  const own = accessor.getElementSize()
  if (array instanceof Float32Array && own === width) return array
  const out = new Float32Array(width * accessor.getCount())
  const element: number[] = []
  for (let i = 0; i < accessor.getCount(); i++) {
    accessor.getElement(i, element)
    for (let k = 0; k < width; k++) out[width * i + k] = element[k] ?? 0
  }
  return out
}

/** Column-major 4 × 4, as glTF has it, to three rows of four. */
const toAffine = (m: readonly number[]): Affine => [
  m[0],
  m[4],
  m[8],
  m[12],
  m[1],
  m[5],
  m[9],
  m[13],
  m[2],
  m[6],
  m[10],
  m[14],
]

/** Translation, rotation (quaternion) and scale as one map. */
function fromParts(t: readonly number[], q: readonly number[], s: readonly number[]): Affine {
  const [x, y, z, w] = q
  return [
    (1 - 2 * (y * y + z * z)) * s[0],
    2 * (x * y - z * w) * s[1],
    2 * (x * z + y * w) * s[2],
    t[0],
    2 * (x * y + z * w) * s[0],
    (1 - 2 * (x * x + z * z)) * s[1],
    2 * (y * z - x * w) * s[2],
    t[1],
    2 * (x * z - y * w) * s[0],
    2 * (y * z + x * w) * s[1],
    (1 - 2 * (x * x + y * y)) * s[2],
    t[2],
  ]
}

/** Most triangles that instances may come to. */
const MOST_INSTANCED = 20_000_000

/** One glTF document as it becomes a model. */
class GltfReading {
  private readonly builder = new MeshBuilder()
  private readonly materials: GltfMaterials

  constructor(
    private readonly document: Document,
    private readonly finder: FileFinder,
  ) {
    this.materials = new GltfMaterials(document, this.builder)
  }

  read(): Model {
    const { builder, document } = this
    const root = document.getRoot()
    const scene = root.getDefaultScene() ?? root.listScenes()[0]
    const nodes = scene ? scene.listChildren() : root.listNodes().filter((n) => !n.getParentNode())
    for (const node of nodes) this.addNode(node, -1)
    if (root.listAnimations().length > 0)
      builder.warn('animation', null, () => 'its animations were left out; the model stands at rest')
    if (builder.faces === 0) throw new UnreadableFileError(this.finder.fileName, 'holds no usable polygon')
    return builder.finish(stem(this.finder.fileName))
  }

  private addNode(node: GltfNode, parent: number): void {
    const { builder } = this
    const mesh = node.getMesh()
    const children = node.listChildren()
    const name = node.getName() || mesh?.getName() || `part ${builder.parts.length + 1}`
    const part = mesh || children.length > 0 ? builder.parts.push({ name, parent }) - 1 : parent
    if (mesh) {
      const skin = node.getSkin()
      const weights = node.getWeights().length > 0 ? node.getWeights() : mesh.getWeights()
      // A skinned mesh stands where its joints are, not where its node is.
      const own = skin ? [toAffine(IDENTITY_4)] : this.placesOf(node, name)
      for (const primitive of mesh.listPrimitives()) {
        const triangles = this.trianglesOf(primitive, name)
        if (triangles.length * own.length > 3 * MOST_INSTANCED)
          throw new UnreadableFileError(
            this.finder.fileName,
            `${name} stands in ${own.length} places: too many triangles`,
          )
        const position = this.positionsOf(primitive, weights, name)
        if (!position) continue
        for (const place of own) this.addPrimitive(primitive, triangles, position, weights, skin, place, part)
      }
    }
    const camera = node.getCamera()
    if (camera)
      builder.cameras.push({
        name: camera.getName() || name,
        camera: gltfCamera(camera, node.getWorldMatrix()),
      })
    for (const child of children) this.addNode(child, part)
  }

  /** The maps of a node: its own, or one for each of its instances (EXT_mesh_gpu_instancing). */
  private placesOf(node: GltfNode, name: string): Affine[] {
    const world = toAffine(node.getWorldMatrix())
    const instances = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing')
    if (!instances) return [world]
    const read = (semantic: string, width: number) => {
      const accessor = instances.getAttribute(semantic)
      return accessor ? floats(accessor, width) : null
    }
    const [moves, turns, scales] = [read('TRANSLATION', 3), read('ROTATION', 4), read('SCALE', 3)]
    const count = Math.max((moves?.length ?? 0) / 3, (turns?.length ?? 0) / 4, (scales?.length ?? 0) / 3)
    const at = (values: Float32Array | null, width: number, i: number, rest: readonly number[]) =>
      values && values.length >= width * (i + 1)
        ? Array.from(values.subarray(width * i, width * (i + 1)))
        : rest
    if (count > 1) this.builder.warn('instances', name, () => `stands in ${count} places; they are one part`)
    return Array.from({ length: count }, (_, i) =>
      multiply(
        world,
        fromParts(at(moves, 3, i, [0, 0, 0]), at(turns, 4, i, [0, 0, 0, 1]), at(scales, 3, i, [1, 1, 1])),
      ),
    )
  }

  private trianglesOf(primitive: Primitive, partName: string): Uint32Array {
    const total = primitive.getAttribute('POSITION')?.getCount() ?? 0
    const source = primitive.getIndices()?.getArray() ?? Uint32Array.from({ length: total }, (_, i) => i)
    const triangles = triangleIndices(primitive.getMode(), source)
    if (triangles.length === 0)
      this.builder.warn(
        'no-triangles',
        partName,
        (n) => `${plural(n, 'primitive')} of points, lines or nothing; dropped`,
      )
    return triangles
  }

  /** An attribute with its morph targets at the weights the file rests at. */
  private morphed(primitive: Primitive, semantic: string, weights: readonly number[]): Float32Array | null {
    const accessor = primitive.getAttribute(semantic)
    if (!accessor) return null
    const base = floats(accessor, 3)
    let out = base
    primitive.listTargets().forEach((target, i) => {
      const weight = weights[i] ?? 0
      const change = target.getAttribute(semantic)
      if (weight === 0 || !change) return
      if (out === base) out = base.slice()
      const by = floats(change, 3)
      for (let k = 0; k < out.length && k < by.length; k++) out[k] += weight * by[k]
    })
    return out
  }

  private positionsOf(
    primitive: Primitive,
    weights: readonly number[],
    partName: string,
  ): Float32Array | null {
    const positions = this.morphed(primitive, 'POSITION', weights)
    if (!positions)
      this.builder.warn(
        'no-positions',
        partName,
        (n) => `${plural(n, 'primitive')} without positions; dropped`,
      )
    return positions
  }

  private addPrimitive(
    primitive: Primitive,
    triangles: Uint32Array,
    positions: Float32Array,
    weights: readonly number[],
    skin: Skin | null,
    place: Affine,
    part: number,
  ): void {
    const { builder } = this
    const total = positions.length / 3
    const base = builder.vertexTotal
    const mirrored = determinant(place) < 0
    const givenNormals = this.morphed(primitive, 'NORMAL', weights)
    const normals = givenNormals && givenNormals.length >= 3 * total ? new Float32Array(3 * total) : null
    const joints = skin && new SkinAtRest(skin, primitive)
    const placeNormal = normalMatrix(place)
    const out = [0, 0, 0]
    const store = builder.positions
    // Where a map changes nothing, the file's own numbers are taken as they are.
    const isInPlace = !joints && !normals && IDENTITY_MAP.every((value, i) => place[i] === value)
    if (isInPlace) store.append(positions.subarray(0, 3 * total))
    for (let v = 0; v < total && !isInPlace; v++) {
      const m = joints ? joints.at(v) : place
      const i = 3 * v
      mapPoint(m, positions[i], positions[i + 1], positions[i + 2], out)
      store.push3(out[0], out[1], out[2])
      if (!normals || !givenNormals) continue
      const c = joints ? normalMatrix(m) : placeNormal
      const [x, y, z] = [givenNormals[i], givenNormals[i + 1], givenNormals[i + 2]]
      // Cofactors turn normals inward where a map mirrors.
      const sign = mirrored ? -1 : 1
      normals[i] = sign * (c[0] * x + c[1] * y + c[2] * z)
      normals[i + 1] = sign * (c[3] * x + c[4] * y + c[5] * z)
      normals[i + 2] = sign * (c[6] * x + c[7] * y + c[8] * z)
    }
    const owner = primitive.getMaterial()
    const texCoord = this.materials.texCoordOf(owner)
    const uv = primitive.getAttribute(`TEXCOORD_${texCoord.set}`)
    const colour = primitive.getAttribute('COLOR_0')
    builder.addFaces({
      starts: null,
      vertices: triangles,
      base,
      normals,
      uvs: uv ? texCoord.map(floats(uv, 2)) : null,
      colours: colour ? displayColours(floats(colour, 3)) : null,
      part,
      material: this.materials.indexOf(owner),
      turned: mirrored,
    })
  }
}

const IDENTITY_MAP: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]
const IDENTITY_4 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]

const determinant = (m: Affine): number => {
  const c = normalMatrix(m)
  return m[0] * c[0] + m[1] * c[1] + m[2] * c[2]
}

/** Linear vertex colours as display values 0…255. */
function displayColours(linear: Float32Array): Uint8Array {
  const out = new Uint8Array(linear.length)
  for (let i = 0; i < out.length; i++) out[i] = Math.round(255 * linearToSrgbFast(linear[i]))
  return out
}

/** Where the joints of a skin put each vertex while nothing moves. */
class SkinAtRest {
  private readonly maps: Affine[]
  private readonly joints: Float32Array
  private readonly weights: Float32Array

  constructor(skin: Skin, primitive: Primitive) {
    const inverse = skin.getInverseBindMatrices()
    const element: number[] = []
    this.maps = skin.listJoints().map((joint, j) => {
      const world = toAffine(joint.getWorldMatrix())
      if (!inverse || j >= inverse.getCount()) return world
      inverse.getElement(j, element)
      return multiply(world, toAffine(element))
    })
    const read = (semantic: string) => {
      const accessor = primitive.getAttribute(semantic)
      return accessor ? floats(accessor, 4) : new Float32Array(0)
    }
    this.joints = read('JOINTS_0')
    this.weights = read('WEIGHTS_0')
  }

  at(vertex: number): Affine {
    const out = new Array<number>(12).fill(0)
    let sum = 0
    for (let k = 4 * vertex; k < 4 * vertex + 4; k++) {
      const weight = this.weights[k] ?? 0
      const map = this.maps[this.joints[k] ?? 0]
      if (!(weight > 0) || !map) continue
      sum += weight
      for (let i = 0; i < 12; i++) out[i] += weight * map[i]
    }
    if (!(sum > 0)) return this.maps[0] ?? toAffine(IDENTITY_4)
    return out.map((v) => v / sum)
  }
}

/**
 * Reads glTF 2.0 (`.gltf` with its buffers and pictures from the bundle, or `.glb`). Every node with a mesh becomes a
 * part, placed by its world matrix; mirrored nodes keep their winding; instances, morph targets and skins stand as they
 * rest.
 * @throws {UnreadableFileError} naming the element and the reason.
 */
export async function readGltf(
  bundle: FileBundle,
  fileName: string,
): Promise<Model & { readonly files: string[] }> {
  const finder = new FileFinder(bundle, fileName)
  const document = await openGltf(finder)
  try {
    return { ...new GltfReading(document, finder).read(), files: finder.used }
  } catch (cause) {
    if (cause instanceof UnreadableFileError) throw cause
    throw new UnreadableFileError(fileName, 'its geometry cannot be read: an accessor is out of range', {
      cause,
    })
  }
}
