import { EDGE_BORDER, EDGE_NON_MANIFOLD, meshEdges } from '../geometry/edges'
import { faceNormals } from '../geometry/face-normals'
import type { Bounds, PolygonMesh } from '../geometry/polygon-mesh'
import { triangulate } from '../geometry/triangulate'
import { InvalidValueError } from '../errors'
import type { Bvh } from '../trace/build-bvh'
import { buildBvh } from '../trace/build-bvh'
import { sharedFloat32, sharedUint32, sharedUint8 } from '../trace/shared-arrays'
import type { PointSource } from './camera'
import type { PartRole } from './part-role'
import type { Affine } from './placement'
import { mapNormal, mapPoint, normalMatrix } from './placement'
import { PART_ROLES, roleMask, SEEN_BY_CAMERA } from './part-role'

/** A part or material as the scene knows it; keys are unique in a project. */
export interface ScenePart {
  readonly key: string
  readonly name: string
  readonly role: PartRole
}
export interface SceneMaterial {
  readonly key: string
  readonly name: string
  readonly baseColour: readonly [number, number, number]
}

export interface SceneModel {
  readonly mesh: PolygonMesh
  /** Where it stands in the world, once or several times. */
  readonly transforms: readonly Affine[]
  /** In the order of the model's parts and materials. */
  readonly parts: readonly ScenePart[]
  readonly materials: readonly SceneMaterial[]
}

/**
 * What the passes render from: triangles in the order of the acceleration structure's leaves, flat arrays that can
 * be shared between workers.
 */
export interface SceneGeometry {
  readonly parts: readonly ScenePart[]
  readonly materials: readonly SceneMaterial[]
  readonly bvh: Bvh
  /** Float32Array, 9·T: unit shading normals of the three corners. */
  readonly triangleNormals: Float32Array
  /** Float32Array, 3·T: unit geometric normals. */
  readonly triangleFacing: Float32Array
  /** Uint32Array, T: scene part, scene material. */
  readonly triangleParts: Uint32Array
  readonly triangleMaterials: Uint32Array
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
    throw new InvalidValueError('scene', 'must hold at least one part that is not off', 'none')

  // 2. Triangles.
  const vertices = new Float32Array(9 * triangleTotal)
  const normals = new Float32Array(9 * triangleTotal)
  const partOf = new Uint32Array(triangleTotal)
  const materialOf = new Uint32Array(triangleTotal)
  const maskOf = new Uint8Array(triangleTotal)
  const subject = emptyBox()
  const seen = emptyBox()
  const edgeLists: EdgeList[] = []
  let t = 0
  models.forEach((model, m) => {
    const { mesh } = model
    const partBase = parts.length
    const materialBase = materials.length
    parts.push(...model.parts)
    materials.push(...model.materials)
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
        }
        partOf[t] = partBase + part
        materialOf[t] = materialBase + mesh.faceMaterials[face]
        maskOf[t] = mask
        t++
      }
    }
    edgeLists.push(...placedEdges(model, masks[m], partBase))
  })

  // 3. Acceleration structure; everything else follows its order.
  const bvh = buildBvh(vertices, maskOf)
  const order = bvh.triangleOrder
  const triangleNormals = sharedFloat32(9 * triangleTotal)
  const triangleFacing = sharedFloat32(3 * triangleTotal)
  const triangleParts = sharedUint32(triangleTotal)
  const triangleMaterials = sharedUint32(triangleTotal)
  const tri = bvh.triangles
  for (let i = 0; i < triangleTotal; i++) {
    const from = order[i]
    for (let k = 0; k < 9; k++) triangleNormals[9 * i + k] = normals[9 * from + k]
    triangleParts[i] = partOf[from]
    triangleMaterials[i] = materialOf[from]
    const ax = tri[9 * i + 3]
    const ay = tri[9 * i + 4]
    const az = tri[9 * i + 5]
    const bx = tri[9 * i + 6]
    const by = tri[9 * i + 7]
    const bz = tri[9 * i + 8]
    const x = ay * bz - az * by
    const y = az * bx - ax * bz
    const z = ax * by - ay * bx
    const len = Math.sqrt(x * x + y * y + z * z) || 1
    triangleFacing[3 * i] = x / len
    triangleFacing[3 * i + 1] = y / len
    triangleFacing[3 * i + 2] = z / len
  }

  const bounds = subject.min[0] <= subject.max[0] ? subject : seen.min[0] <= seen.max[0] ? seen : bvh.bounds
  const edges = joinEdges(edgeLists)
  return {
    parts,
    materials,
    bvh,
    triangleNormals,
    triangleFacing,
    triangleParts,
    triangleMaterials,
    ...edges,
    subjectBounds: bounds,
    figureDiagonal: Math.hypot(...bounds.max.map((v, axis) => v - bounds.min[axis])) || 1,
  }
}

/** The corners of every triangle that {@link SceneGeometry.subjectBounds} is the box of. */
export function subjectPoints(scene: SceneGeometry): PointSource {
  const roleOf = (t: number) => scene.parts[scene.triangleParts[t]].role
  const total = scene.triangleParts.length
  const has = (role: PartRole) => scene.triangleParts.some((_, t) => roleOf(t) === role)
  const roles: readonly PartRole[] = has('subject') ? ['subject'] : has('ground') ? ['ground'] : PART_ROLES
  const { triangles } = scene.bvh
  return (visit) => {
    for (let t = 0; t < total; t++) {
      if (!roles.includes(roleOf(t))) continue
      const i = 9 * t
      const [x, y, z] = [triangles[i], triangles[i + 1], triangles[i + 2]]
      visit(x, y, z)
      visit(x + triangles[i + 3], y + triangles[i + 4], z + triangles[i + 5])
      visit(x + triangles[i + 6], y + triangles[i + 7], z + triangles[i + 8])
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
