import { EDGE_BORDER, EDGE_NON_MANIFOLD, meshEdges } from '../geometry/edges'
import { faceNormals } from '../geometry/face-normals'
import type { PolygonMesh } from '../geometry/polygon-mesh'
import type { Bounds } from '../geometry/bounds'
import { triangulate } from '../geometry/triangulate'
import { InvalidValueError } from '../errors'
import { readTexture } from '../formats/read-texture'
import { buildRayTree, EMPTY_SLOT, type CutoutPicture, type Cutouts, type RayTree } from '../trace/ray-tree'
import { sharedFloat32, sharedUint32, sharedUint8 } from '../trace/shared-arrays'
import type { PointSource } from './camera'
import type { SceneTexture } from './scene-texture'
import type { PartRole } from './part-role'
import type { Affine } from './placement'
import { mapNormal, mapPoint, normalMatrix } from './placement'
import { PART_ROLES, roleMask, SEEN_BY_CAMERA, SOLID } from './part-role'

/** A part or material as the scene knows it; keys are unique in a project. */
export interface ScenePart {
  readonly key: string
  readonly name: string
  readonly role: PartRole
  /** Names of the groups it lies in, from the outermost; none where it is in no group. */
  readonly group?: readonly string[]
}

/** What light does on a material; left out: a matte, solid one. */
export interface SceneMaterial {
  readonly key: string
  readonly name: string
  /** Display values, 0…1. */
  readonly baseColour: readonly [number, number, number]
  /** 0 is a mirror, 1 is chalk. */
  readonly roughness?: number
  /** How strong the highlight is, 0…1. */
  readonly highlight?: number
  /** 1 is solid, 0 lets everything through. */
  readonly opacity?: number
  /** Display values of what it gives off by itself. */
  readonly emission?: readonly [number, number, number]
  /** Index into the model's textures; null for none. */
  readonly texture?: number | null
  /** Factor of the texture's display values. */
  readonly textureBrightness?: number
  readonly alpha?: 'opaque' | 'cut' | 'blend'
  /** Threshold of `cut`, 0…1. */
  readonly alphaCut?: number
}

export interface SceneModel {
  readonly mesh: PolygonMesh
  /** Where it stands in the world, once or several times. */
  readonly transforms: readonly Affine[]
  /** In the order of the model's parts and materials. */
  readonly parts: readonly ScenePart[]
  readonly materials: readonly SceneMaterial[]
  /** Pictures of the materials, decoded or as files (PNG, JPEG); null where one is missing. */
  readonly textures?: readonly (SceneTexture | Uint8Array | null)[]
}

/**
 * What the passes render from: flat arrays that can be shared between workers. The kernel's hits name slots of `tree`;
 * `tree.ids` turns a slot into a triangle, `tree.tags` into a part; `tree.normals` are the corners' shading normals.
 */
export interface SceneGeometry {
  readonly parts: readonly ScenePart[]
  readonly materials: readonly SceneMaterial[]
  readonly tree: RayTree
  readonly triangleCount: number
  /** Uint32Array, T: scene material. */
  readonly triangleMaterials: Uint32Array
  /** Uint8Array, T: sides of the polygon it was cut from; 255 is that many or more. */
  readonly triangleSides: Uint8Array
  /** Float32Array, 6·T: texture coordinates of the three corners; null where no material has a texture. */
  readonly triangleUvs: Float32Array | null
  /** Pictures of the materials, by {@link SceneMaterial.texture} counted through all models. */
  readonly textures: readonly (SceneTexture | null)[]
  /** Float32Array, 6·E: the two ends of every polygon edge of a seen part. */
  readonly edgeEnds: Float32Array
  /** Float32Array, 6·E: unit normals of the two faces beside it; the second is 0 on a border. */
  readonly edgeNormals: Float32Array
  /** Uint8Array, E: 1 where both sides of its surface may be looked at (open or not manifold). */
  readonly edgeOpen: Uint8Array
  /** Uint32Array, E: scene part. */
  readonly edgeParts: Uint32Array
  /** Box of the subject (of everything seen, where nothing is subject). */
  readonly subjectBounds: Bounds
  /** D: the diagonal of that box, the natural unit of reaches and radii. */
  readonly figureDiagonal: number
}

/**
 * Joins the models of a scene into one geometry and builds its acceleration structure. Parts that are off are left
 * out.
 * @throws {InvalidValueError} when nothing is left to see.
 */
export function buildSceneGeometry(models: readonly SceneModel[]): SceneGeometry {
  const parts: ScenePart[] = []
  const materials: SceneMaterial[] = []

  // 1. Count, so that every array is made once.
  const cut = models.map((model) => triangulate(model.mesh))
  const masks = models.map((model) => model.parts.map((part) => roleMask(part.role)))
  let triangleTotal = 0
  models.forEach((model, m) => {
    let kept = 0
    for (const face of cut[m].faces) if (masks[m][model.mesh.faceParts[face]] !== 0) kept++
    triangleTotal += kept * model.transforms.length
  })
  if (triangleTotal === 0)
    throw new InvalidValueError('scene', 'must hold a part with an area that is not off', 'none')

  // 2. Triangles.
  const vertices = new Float32Array(9 * triangleTotal)
  const normals = new Float32Array(9 * triangleTotal)
  const triangleMaterials = sharedUint32(triangleTotal)
  const tags = new Uint32Array(triangleTotal)
  const textures: (SceneTexture | null)[] = []
  const isTextured = models.some(({ materials: list }) => list.some((m) => (m.texture ?? null) !== null))
  const triangleUvs = isTextured ? sharedFloat32(6 * triangleTotal) : null
  const triangleSides = sharedUint8(triangleTotal)
  const subject = emptyBox()
  const seen = emptyBox()
  const edgeLists: EdgeList[] = []
  let t = 0
  models.forEach((model, m) => {
    const { mesh } = model
    const partBase = parts.length
    const materialBase = materials.length
    parts.push(...model.parts)
    const textureBase = textures.length
    for (const material of model.materials)
      materials.push(
        (material.texture ?? null) === null
          ? material
          : { ...material, texture: textureBase + (material.texture as number) },
      )
    textures.push(...(model.textures ?? []).map(toTexture))
    const { corners, faces } = cut[m]
    const point = [0, 0, 0]
    for (const transform of model.transforms) {
      const turn = normalMatrix(transform)
      for (let i = 0; i < faces.length; i++) {
        const face = faces[i]
        const part = mesh.faceParts[face]
        const mask = masks[m][part]
        if (mask === 0) continue
        const isSubject = model.parts[part].role === 'subject'
        for (let k = 0; k < 3; k++) {
          const c = 3 * corners[3 * i + k]
          const v = 3 * mesh.cornerVertices[corners[3 * i + k]]
          const at = 9 * t + 3 * k
          const { positions, cornerNormals } = mesh
          mapPoint(transform, positions[v], positions[v + 1], positions[v + 2], point)
          for (let axis = 0; axis < 3; axis++) vertices[at + axis] = point[axis]
          if (mask & SEEN_BY_CAMERA) growBox(seen, point)
          if (isSubject) growBox(subject, point)
          mapNormal(turn, cornerNormals[c], cornerNormals[c + 1], cornerNormals[c + 2], point)
          for (let axis = 0; axis < 3; axis++) normals[at + axis] = point[axis]
          if (triangleUvs && mesh.cornerUvs) {
            const corner = corners[3 * i + k]
            triangleUvs[6 * t + 2 * k] = mesh.cornerUvs[2 * corner]
            // Meshes count v upwards, rows of pictures run down.
            triangleUvs[6 * t + 2 * k + 1] = 1 - mesh.cornerUvs[2 * corner + 1]
          }
        }
        const material = materialBase + mesh.faceMaterials[face]
        triangleMaterials[t] = material
        triangleSides[t] = Math.min(255, mesh.faceStarts[face + 1] - mesh.faceStarts[face])
        const isSolid = (materials[material].opacity ?? 1) >= OPAQUE
        tags[t] = (((isSolid ? mask : mask & ~(SOLID.camera | SOLID.light)) << 24) | (partBase + part)) >>> 0
        t++
      }
    }
    edgeLists.push(...placedEdges(model, masks[m], partBase))
  })

  // 3. Acceleration structure.
  const tree = buildRayTree(vertices, tags, {
    normals,
    cutouts: cutoutsOf(materials, textures, triangleMaterials, triangleUvs),
  })

  const bounds = subject.min[0] <= subject.max[0] ? subject : seen.min[0] <= seen.max[0] ? seen : tree.bounds
  const edges = joinEdges(edgeLists)
  return {
    parts,
    materials,
    tree,
    triangleCount: triangleTotal,
    triangleMaterials,
    triangleSides,
    triangleUvs,
    textures,
    ...edges,
    subjectBounds: bounds,
    figureDiagonal: Math.hypot(...bounds.max.map((v, axis) => v - bounds.min[axis])) || 1,
  }
}

/** Which of the scene's parts a list of keys names: 1 for each; null for all. */
export function partFlags(
  scene: Pick<SceneGeometry, 'parts'>,
  keys: readonly string[] | null,
): Uint8Array | null {
  if (!keys) return null
  const wanted = new Set(keys)
  return Uint8Array.from(scene.parts, (part) => (wanted.has(part.key) ? 1 : 0))
}

/** From this opacity on a material is solid. */
export const OPAQUE = 0.999

const toTexture = (given: SceneTexture | Uint8Array | null): SceneTexture | null => {
  const texture = given instanceof Uint8Array ? readTexture(given) : given
  if (!texture) return null
  const rgba = sharedUint8(texture.rgba.length)
  rgba.set(texture.rgba)
  return { ...texture, rgba }
}

/** Where textures cut triangles away; null where none does. */
function cutoutsOf(
  materials: readonly SceneMaterial[],
  textures: readonly (SceneTexture | null)[],
  triangleMaterials: Uint32Array,
  uvs: Float32Array | null,
): Cutouts | null {
  if (!uvs) return null
  const pictures: CutoutPicture[] = []
  const pictureOf = materials.map(({ alpha = 'opaque', alphaCut = 0.5, texture = null }) => {
    const picture = texture === null ? null : textures[texture]
    if (alpha === 'opaque' || !picture) return -1
    const { width, height, rgba } = picture
    const plane = new Uint8Array(width * height)
    for (let i = 0; i < plane.length; i++) plane[i] = rgba[4 * i + 3]
    // Whole pictures cut nothing, and a test on every hit would cost for it.
    if (plane.every((value) => value === 255)) return -1
    return pictures.push({ width, height, alpha: plane, threshold: alpha === 'cut' ? alphaCut : null }) - 1
  })
  if (pictures.length === 0) return null
  return { pictures, ofTriangle: Int32Array.from(triangleMaterials, (m) => pictureOf[m]), uvs }
}

/** The corners of every triangle that {@link SceneGeometry.subjectBounds} is the box of. */
export function subjectPoints(scene: SceneGeometry): PointSource {
  const { tags, slotCount, floats } = scene.tree
  const roles = new Set<PartRole>()
  for (let slot = 0; slot < slotCount; slot++)
    if (scene.tree.ids[slot] !== EMPTY_SLOT) roles.add(scene.parts[tags[slot] & 0xffffff].role)
  const wanted: readonly PartRole[] = roles.has('subject')
    ? ['subject']
    : roles.has('ground')
      ? ['ground']
      : PART_ROLES
  return (visit) => {
    for (let slot = 0; slot < slotCount; slot++) {
      if (scene.tree.ids[slot] === EMPTY_SLOT) continue
      if (!wanted.includes(scene.parts[tags[slot] & 0xffffff].role)) continue
      const at = scene.tree.cornerBase(slot)
      for (let k = 0; k < 36; k += 12) visit(floats[at + k], floats[at + k + 4], floats[at + k + 8])
    }
  }
}

interface Box {
  min: [number, number, number]
  max: [number, number, number]
}
const emptyBox = (): Box => ({ min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] })
function growBox(box: Box, p: readonly number[]): void {
  for (let axis = 0; axis < 3; axis++) {
    if (p[axis] < box.min[axis]) box.min[axis] = p[axis]
    if (p[axis] > box.max[axis]) box.max[axis] = p[axis]
  }
}

interface EdgeList {
  readonly ends: Float32Array
  readonly normals: Float32Array
  readonly open: Uint8Array
  readonly parts: Uint32Array
}

/** The edges of a model's seen parts, one list for each place it stands in. */
function placedEdges(model: SceneModel, masks: readonly number[], partBase: number): EdgeList[] {
  const { mesh } = model
  const edges = meshEdges(mesh)
  const perFace = faceNormals(mesh)
  // A part with any open or non-manifold edge can be seen from behind.
  const openPart = new Uint8Array(model.parts.length)
  for (let e = 0; e < edges.count; e++) {
    if (edges.flags[e] & (EDGE_BORDER | EDGE_NON_MANIFOLD)) openPart[mesh.faceParts[edges.faces[2 * e]]] = 1
  }
  const kept: number[] = []
  for (let e = 0; e < edges.count; e++) {
    if (masks[mesh.faceParts[edges.faces[2 * e]]] & SEEN_BY_CAMERA) kept.push(e)
  }
  const open = new Uint8Array(kept.length)
  const parts = new Uint32Array(kept.length)
  kept.forEach((e, i) => {
    const part = mesh.faceParts[edges.faces[2 * e]]
    open[i] = openPart[part]
    parts[i] = partBase + part
  })
  return model.transforms.map((transform) => {
    const turn = normalMatrix(transform)
    const ends = new Float32Array(6 * kept.length)
    const normals = new Float32Array(6 * kept.length)
    const mapped = [0, 0, 0]
    kept.forEach((e, i) => {
      for (let k = 0; k < 2; k++) {
        const v = 3 * edges.vertices[2 * e + k]
        mapPoint(transform, mesh.positions[v], mesh.positions[v + 1], mesh.positions[v + 2], mapped)
        ends.set(mapped, 6 * i + 3 * k)
        const f = 3 * edges.faces[2 * e + k]
        if (f < 0) continue
        mapNormal(turn, perFace[f], perFace[f + 1], perFace[f + 2], mapped)
        normals.set(mapped, 6 * i + 3 * k)
      }
    })
    return { ends, normals, open, parts }
  })
}

function joinEdges(lists: readonly EdgeList[]) {
  const total = lists.reduce((sum, list) => sum + list.open.length, 0)
  const edgeEnds = sharedFloat32(6 * total)
  const edgeNormals = sharedFloat32(6 * total)
  const edgeOpen = sharedUint8(total)
  const edgeParts = sharedUint32(total)
  let at = 0
  for (const list of lists) {
    edgeEnds.set(list.ends, 6 * at)
    edgeNormals.set(list.normals, 6 * at)
    edgeOpen.set(list.open, at)
    edgeParts.set(list.parts, at)
    at += list.open.length
  }
  return { edgeEnds, edgeNormals, edgeOpen, edgeParts }
}
