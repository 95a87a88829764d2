import { smoothCornerNormals } from './face-normals'
import { GrowingFloats, GrowingUints } from './growing-array'
import type { Model, ModelMaterial, ModelPart, ModelWarning, PolygonMesh } from './polygon-mesh'
import { weldPositions } from './weld'

interface Finding {
  count: number
  part: string | null
  describe: (count: number) => string
}

/**
 * What every reader builds into. Faces arrive one by one; bad ones are dropped and counted, so that one warning per
 * kind and part says how many there were, and `finish` always gives a mesh that passes `validateMesh`.
 */
export class MeshBuilder {
  readonly positions = new GrowingFloats()
  readonly parts: ModelPart[] = []
  readonly materials: ModelMaterial[] = []
  private readonly faceStarts = new GrowingUints()
  private readonly cornerVertices = new GrowingUints()
  private readonly cornerNormals = new GrowingFloats()
  private readonly cornerUvs = new GrowingFloats()
  private readonly faceParts = new GrowingUints()
  private readonly faceMaterials = new GrowingUints()
  private readonly findings = new Map<string, Finding>()
  private missingNormals = 0
  private uvs = 0

  constructor() {
    this.faceStarts.push(0)
  }

  get faces(): number {
    return this.faceParts.length
  }

  /** Counts a finding; equal code and part are told once, with their number. */
  warn(code: string, part: string | null, describe: (count: number) => string, by = 1): void {
    const key = `${code}\n${part ?? ''}`
    const found = this.findings.get(key)
    if (found) found.count += by
    else this.findings.set(key, { count: by, part, describe })
  }

  /**
   * Adds one polygon.
   * @param vertices vertex numbers, counter-clockwise.
   * @param normals 3 numbers per corner, or null where the file gives none for this face.
   * @param uvs 2 numbers per corner, or null.
   * @returns false where the polygon was dropped (with a warning).
   */
  addFace(
    vertices: readonly number[],
    normals: readonly number[] | null,
    uvs: readonly number[] | null,
    part: number,
    material: number,
  ): boolean {
    const partName = this.parts[part]?.name ?? null
    const total = this.positions.length / 3
    for (const v of vertices) {
      if (!Number.isInteger(v) || v < 0 || v >= total) {
        this.warn(
          'index-out-of-range',
          partName,
          (n) => `${n} polygon(s) name a vertex that does not exist; dropped`,
        )
        return false
      }
      if (!this.isFinite(v)) {
        this.warn(
          'not-finite',
          partName,
          (n) => `${n} polygon(s) use a vertex whose place is not a finite number; dropped`,
        )
        return false
      }
    }
    // Repeated neighbours make a side without length: keep one of them.
    const kept: number[] = []
    for (let i = 0; i < vertices.length; i++) {
      if (vertices[i] !== vertices[(i + 1) % vertices.length]) kept.push(i)
    }
    if (kept.length < 3) {
      this.warn(
        'degenerate-polygon',
        partName,
        (n) => `${n} polygon(s) with fewer than three distinct corners; dropped`,
      )
      return false
    }
    for (const i of kept) {
      this.cornerVertices.push(vertices[i])
      let x = normals ? normals[3 * i] : 0
      let y = normals ? normals[3 * i + 1] : 0
      let z = normals ? normals[3 * i + 2] : 0
      const len = Math.sqrt(x * x + y * y + z * z)
      if (len > 1e-12 && Number.isFinite(len)) {
        x /= len
        y /= len
        z /= len
      } else {
        x = y = z = 0
        this.missingNormals++
      }
      this.cornerNormals.push3(x, y, z)
      if (uvs) this.uvs++
      this.cornerUvs.push2(uvs ? uvs[2 * i] : 0, uvs ? uvs[2 * i + 1] : 0)
    }
    this.faceStarts.push(this.cornerVertices.length)
    this.faceParts.push(part)
    this.faceMaterials.push(material)
    return true
  }

  private isFinite(vertex: number): boolean {
    const i = 3 * vertex
    return Number.isFinite(this.positions.at(i) + this.positions.at(i + 1) + this.positions.at(i + 2))
  }

  /** Closes the mesh: makes missing normals, drops parts and materials nobody uses. */
  finish(name: string): Model {
    const positions = this.positions.toArray()
    // No polygon uses these any more; as numbers they do no harm to what goes over all vertices.
    for (let i = 0; i < positions.length; i++) if (!Number.isFinite(positions[i])) positions[i] = 0
    const faceStarts = this.faceStarts.toArray()
    const cornerVertices = this.cornerVertices.toArray()
    const cornerNormals = this.cornerNormals.toArray()
    if (this.missingNormals > 0) {
      const { welded, count } = weldPositions(positions)
      const made = smoothCornerNormals(
        { positions, faceStarts, cornerVertices },
        cornerVertices.map((v) => welded[v]),
        count,
      )
      for (let c = 0; c < cornerVertices.length; c++) {
        if (cornerNormals[3 * c] === 0 && cornerNormals[3 * c + 1] === 0 && cornerNormals[3 * c + 2] === 0) {
          cornerNormals.set(made.subarray(3 * c, 3 * c + 3), 3 * c)
        }
      }
      this.warn(
        'normals-made',
        null,
        (n) => `${n} corner(s) had no normal; made from the faces around them`,
        this.missingNormals,
      )
    }
    const mesh: PolygonMesh = {
      positions,
      faceStarts,
      cornerVertices,
      cornerNormals,
      cornerUvs: this.uvs > 0 ? this.cornerUvs.toArray() : null,
      faceParts: this.faceParts.toArray(),
      faceMaterials: this.faceMaterials.toArray(),
    }
    const warnings: ModelWarning[] = [...this.findings].map(([key, finding]) => ({
      code: key.split('\n')[0],
      message: finding.describe(finding.count),
      part: finding.part,
    }))
    return compact({ name, parts: this.parts, materials: this.materials, mesh, warnings })
  }
}

/** Drops parts without faces (and without children that have some) and unused materials; renumbers the rest. */
function compact(model: Model): Model {
  const usedParts = new Uint8Array(model.parts.length)
  const usedMaterials = new Uint8Array(model.materials.length)
  for (const part of model.mesh.faceParts) usedParts[part] = 1
  for (const material of model.mesh.faceMaterials) usedMaterials[material] = 1
  for (let i = 0; i < model.parts.length; i++) {
    if (!usedParts[i]) continue
    for (let up = model.parts[i].parent; up >= 0 && !usedParts[up]; up = model.parts[up].parent)
      usedParts[up] = 1
  }
  const renumber = (used: Uint8Array) => {
    let next = 0
    return Array.from(used, (flag) => (flag ? next++ : -1))
  }
  const partOf = renumber(usedParts)
  const materialOf = renumber(usedMaterials)
  return {
    ...model,
    parts: model.parts
      .filter((_, i) => usedParts[i])
      .map((part) => ({ ...part, parent: part.parent < 0 ? -1 : partOf[part.parent] })),
    materials: model.materials.filter((_, i) => usedMaterials[i]),
    mesh: {
      ...model.mesh,
      faceParts: model.mesh.faceParts.map((p) => partOf[p]),
      faceMaterials: model.mesh.faceMaterials.map((m) => materialOf[m]),
    },
  }
}
