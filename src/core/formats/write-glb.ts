import {
  Accessor,
  Document,
  Logger,
  WebIO,
  type Buffer,
  type Material,
  type Node,
  type Texture,
} from '@gltf-transform/core'
import type { PolygonMesh } from '../geometry/polygon-mesh'
import { triangulate } from '../geometry/triangulate'
import { srgbToLinear } from '../math/colour'
import type { Affine } from '../scene/placement'
import type { SceneMaterial, SceneModel } from '../scene/scene-geometry'
import { UnreadableFileError } from '../errors'

/** What becomes a scene's file. */
export interface GlbScene {
  readonly name: string
  readonly models: readonly SceneModel[]
}

/**
 * A scene as binary glTF 2.0: groups and parts by their names, each model's copies as nodes that share its shape, materials in the
 * colours they have now. Parts that are off are left out. Polygons become triangles, which is all that the format has.
 * @throws {UnreadableFileError} where nothing is left.
 */
export async function writeGlb({ name, models }: GlbScene): Promise<Uint8Array> {
  const document = new Document().setLogger(new Logger(Logger.Verbosity.SILENT))
  const buffer = document.createBuffer()
  const scene = document.createScene(name)
  const tree = new GroupTree(document, scene)
  let count = 0
  for (const model of models) {
    const materials = new GlbMaterials(document, model)
    const shapes = shapesOf(model.mesh)
    for (const [p, part] of model.parts.entries()) {
      const own = shapes[p]
      if (part.role === 'off' || !own) continue
      const mesh = document.createMesh(part.name)
      for (const [material, corners] of own)
        mesh.addPrimitive(
          primitiveOf(document, buffer, model.mesh, corners).setMaterial(materials.of(material)),
        )
      const parent = tree.of(part.group ?? [])
      const stands =
        model.transforms.length === 1 ? [part.name] : model.transforms.map((_, k) => `${part.name} ${k + 1}`)
      for (const [k, transform] of model.transforms.entries()) {
        const node = document.createNode(stands[k]).setMesh(mesh).setMatrix(columns(transform))
        if (part.role !== 'subject') node.setExtras({ role: part.role })
        parent.addChild(node)
      }
      count++
    }
  }
  if (count === 0) throw new UnreadableFileError(name, 'holds no part with a shape')
  return new WebIO().writeBinary(document)
}

/** Nodes of groups, each once. */
class GroupTree {
  private readonly nodes = new Map<string, Node>()

  constructor(
    private readonly document: Document,
    private readonly scene: { addChild: (node: Node) => unknown },
  ) {}

  /** @param path names from the outermost. */
  of(path: readonly string[]): { addChild: (node: Node) => unknown } {
    if (path.length === 0) return this.scene
    const key = JSON.stringify(path)
    const known = this.nodes.get(key)
    if (known) return known
    const node = this.document.createNode(path.at(-1))
    this.of(path.slice(0, -1)).addChild(node)
    this.nodes.set(key, node)
    return node
  }
}

/** Materials of a model, as they are used. */
class GlbMaterials {
  private readonly made = new Map<number, Material>()
  private readonly textures = new Map<number, Texture | null>()

  constructor(
    private readonly document: Document,
    private readonly model: SceneModel,
  ) {}

  of(index: number): Material {
    const known = this.made.get(index)
    if (known) return known
    const own = this.model.materials[index]
    const material = this.document
      .createMaterial(own.name)
      .setBaseColorFactor([...linear(own.baseColour, this.brightness(own)), own.opacity ?? 1])
      .setMetallicFactor(0)
      .setRoughnessFactor(own.roughness ?? 1)
      .setEmissiveFactor(linear(own.emission ?? [0, 0, 0]))
    const isClear = own.alpha === 'blend' || (own.opacity ?? 1) < 1
    material.setAlphaMode(own.alpha === 'cut' ? 'MASK' : isClear ? 'BLEND' : 'OPAQUE')
    if (own.alpha === 'cut') material.setAlphaCutoff(own.alphaCut ?? 0.5)
    const texture = own.texture === null || own.texture === undefined ? null : this.texture(own.texture)
    if (texture) material.setBaseColorTexture(texture)
    this.made.set(index, material)
    return material
  }

  private brightness({ texture, textureBrightness = 1 }: SceneMaterial): number {
    return texture === null || texture === undefined ? 1 : textureBrightness
  }

  /** Only a picture that is there as its file goes along. */
  private texture(index: number): Texture | null {
    const known = this.textures.get(index)
    if (known !== undefined) return known
    const bytes = this.model.textures?.[index]
    const isFile = bytes instanceof Uint8Array
    const made = isFile
      ? this.document
          .createTexture(`texture ${index + 1}`)
          .setImage(new Uint8Array(bytes))
          .setMimeType(bytes[0] === 0x89 ? 'image/png' : 'image/jpeg')
      : null
    this.textures.set(index, made)
    return made
  }
}

const linear = (display: readonly [number, number, number], by = 1): [number, number, number] => [
  srgbToLinear(Math.min(1, display[0] * by)),
  srgbToLinear(Math.min(1, display[1] * by)),
  srgbToLinear(Math.min(1, display[2] * by)),
]

/** Corners of triangles, by part and material. */
function shapesOf(mesh: PolygonMesh): (Map<number, number[]> | undefined)[] {
  const { corners, faces } = triangulate(mesh)
  const parts: (Map<number, number[]> | undefined)[] = []
  for (let t = 0; t < faces.length; t++) {
    const [part, material] = [mesh.faceParts[faces[t]], mesh.faceMaterials[faces[t]]]
    const own = (parts[part] ??= new Map<number, number[]>())
    const list = own.get(material) ?? []
    list.push(corners[3 * t], corners[3 * t + 1], corners[3 * t + 2])
    own.set(material, list)
  }
  return parts
}

/** Triangles with every corner that is alike kept once. */
function primitiveOf(document: Document, buffer: Buffer, mesh: PolygonMesh, corners: readonly number[]) {
  const { positions, cornerVertices, cornerNormals, cornerUvs } = mesh
  /** Of each vertex the corners that stand for it so far, and the numbers they have. */
  const found = new Map<number, { readonly corner: number; readonly number: number }[]>()
  const kept: number[] = []
  const isAlike = (a: number, b: number) =>
    cornerNormals[3 * a] === cornerNormals[3 * b] &&
    cornerNormals[3 * a + 1] === cornerNormals[3 * b + 1] &&
    cornerNormals[3 * a + 2] === cornerNormals[3 * b + 2] &&
    (!cornerUvs || (cornerUvs[2 * a] === cornerUvs[2 * b] && cornerUvs[2 * a + 1] === cornerUvs[2 * b + 1]))
  const indices = Uint32Array.from(corners, (corner) => {
    const vertex = cornerVertices[corner]
    const there = found.get(vertex) ?? []
    const alike = there.find((own) => isAlike(own.corner, corner))
    if (alike) return alike.number
    const number = kept.push(corner) - 1
    found.set(vertex, [...there, { corner, number }])
    return number
  })
  const attribute = (type: 'VEC3' | 'VEC2', size: number, value: (corner: number, axis: number) => number) =>
    document
      .createAccessor()
      .setType(Accessor.Type[type])
      .setArray(
        Float32Array.from({ length: size * kept.length }, (_, i) =>
          value(kept[Math.floor(i / size)], i % size),
        ),
      )
      .setBuffer(buffer)
  const primitive = document
    .createPrimitive()
    .setAttribute(
      'POSITION',
      attribute('VEC3', 3, (c, axis) => positions[3 * cornerVertices[c] + axis]),
    )
    .setAttribute(
      'NORMAL',
      attribute('VEC3', 3, (c, axis) => cornerNormals[3 * c + axis]),
    )
    .setIndices(
      document
        .createAccessor()
        .setType(Accessor.Type.SCALAR)
        .setArray(kept.length > 65_535 ? indices : Uint16Array.from(indices))
        .setBuffer(buffer),
    )
  if (cornerUvs)
    // Ours grow upwards, the format's downwards.
    primitive.setAttribute(
      'TEXCOORD_0',
      attribute('VEC2', 2, (c, axis) => (axis === 0 ? cornerUvs[2 * c] : 1 - cornerUvs[2 * c + 1])),
    )
  return primitive
}

/** Three rows of four as four columns of four. */
const columns = (m: Affine): Parameters<Node['setMatrix']>[0] =>
  // prettier-ignore
  [
    m[0], m[4], m[8], 0,
    m[1], m[5], m[9], 0,
    m[2], m[6], m[10], 0,
    m[3], m[7], m[11], 1,
  ]
