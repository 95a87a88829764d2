// One file: one mesh under construction, whose arrays every method grows.
import { plural } from '../plural'
import { smoothCornerNormals } from './smooth-normals'
import { GrowingBytes, GrowingFloats, GrowingUints } from './growing-array'
import type {
  Model,
  ModelCamera,
  ModelMaterial,
  ModelPart,
  ModelTexture,
  ModelWarning,
  PolygonMesh,
} from './polygon-mesh'
import { weldPositions } from './weld'

interface Finding {
  count: number
  part: string | null
  describe: (count: number) => string
}

/** Many faces at once, with what they look like given per vertex. */
export interface FaceBatch {
  /** Where each face's corners begin, one more than faces; null for triangles. */
  readonly starts: Uint32Array | null
  /** Vertex of each corner, counted from `base`. */
  readonly vertices: Uint32Array | Uint16Array | Uint8Array
  readonly base: number
  /** Per vertex, counted from `base`: 3 numbers, 2 numbers, 3 display values 0…255; null where there are none. */
  readonly normals: Float32Array | null
  readonly uvs: Float32Array | null
  readonly colours: Uint8Array | null
  readonly part: number
  readonly material: number
  /** Corners run the other way round: the faces were mirrored. */
  readonly turned: boolean
}

/** What one corner of a single face looks like: 3 normals, 2 uvs, 3 display values 0…255 per corner. */
export interface FaceLooks {
  readonly colours?: readonly number[] | null
  /** Faces of one group are smooth among each other, those of 0 are flat; left out, an angle decides. */
  readonly smoothing?: number
}

/**
 * What every reader builds into. Faces arrive one by one or in batches; bad ones are dropped and counted, so that one
 * warning per kind and part says how many there were, and `finish` always gives a mesh that passes `validateMesh`.
 */
export class MeshBuilder {
  readonly positions = new GrowingFloats()
  readonly parts: ModelPart[] = []
  readonly materials: ModelMaterial[] = []
  readonly textures: ModelTexture[] = []
  readonly cameras: ModelCamera[] = []
  private readonly faceStarts = new GrowingUints()
  private readonly cornerVertices = new GrowingUints()
  private readonly cornerNormals = new GrowingFloats()
  private readonly cornerUvs = new GrowingFloats()
  private readonly cornerColours = new GrowingBytes()
  private readonly faceParts = new GrowingUints()
  private readonly faceMaterials = new GrowingUints()
  /** Smoothing group of each face; used only once a face has named one. */
  private readonly faceGroups = new GrowingUints()
  private readonly findings = new Map<string, Finding>()
  private missingNormals = 0
  private hasGroups = false
  /** No two vertices are at the same place: set by a reader that saw to it. */
  areWelded = false
  /** Corners given while batching: reused. */
  private readonly corner: number[] = []

  constructor() {
    this.faceStarts.push(0)
  }

  get faces(): number {
    return this.faceParts.length
  }
  get vertexTotal(): number {
    return this.positions.length / 3
  }

  /** Counts a finding; equal code, part and thing it is about are told once, with their number. */
  warn(code: string, part: string | null, describe: (count: number) => string, by = 1, about = ''): void {
    const key = `${code}\n${part ?? ''}\n${about}`
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
    { colours = null, smoothing }: FaceLooks = {},
  ): boolean {
    const kept = this.soundCorners(vertices, vertices.length, part)
    if (!kept) return false
    for (const i of kept) {
      this.pushCorner(vertices[i])
      if (normals) this.pushNormal(normals[3 * i], normals[3 * i + 1], normals[3 * i + 2])
      else this.pushNormal(0, 0, 0)
      if (uvs) this.pushUv(uvs[2 * i], uvs[2 * i + 1])
      if (colours) this.pushColour(colours[3 * i], colours[3 * i + 1], colours[3 * i + 2])
    }
    if (smoothing !== undefined) this.hasGroups = true
    this.endFace(part, material, smoothing ?? 0)
    return true
  }

  /** Adds many polygons at once. */
  addFaces(batch: FaceBatch): void {
    const { starts, vertices, base, normals, uvs, colours, part, material, turned } = batch
    const faces = starts ? starts.length - 1 : Math.floor(vertices.length / 3)
    if (this.addSoundTriangles(batch, faces)) return
    const { corner } = this
    for (let f = 0; f < faces; f++) {
      const start = starts ? starts[f] : 3 * f
      const sides = starts ? starts[f + 1] - start : 3
      corner.length = sides
      for (let i = 0; i < sides; i++) corner[i] = base + vertices[start + (turned ? sides - 1 - i : i)]
      // The usual face is sound and a triangle: it is checked without a list of its own.
      const isPlain =
        sides === 3 && corner[0] !== corner[1] && corner[1] !== corner[2] && corner[2] !== corner[0]
      const kept = isPlain && this.allSound(corner) ? PLAIN_CORNERS : this.soundCorners(corner, sides, part)
      if (!kept) continue
      for (const i of kept) {
        const v = corner[i]
        const own = v - base
        this.pushCorner(v)
        if (normals) this.pushNormal(normals[3 * own], normals[3 * own + 1], normals[3 * own + 2])
        else this.pushNormal(0, 0, 0)
        if (uvs) this.pushUv(uvs[2 * own], uvs[2 * own + 1])
        if (colours) this.pushColour(colours[3 * own], colours[3 * own + 1], colours[3 * own + 2])
      }
      this.endFace(part, material, 0)
    }
  }

  /** The usual batch has triangles only, all of them sound: it is taken as a whole. @returns whether it was. */
  private addSoundTriangles(batch: FaceBatch, faces: number): boolean {
    const { starts, vertices, base, normals, uvs, colours, part, material, turned } = batch
    if (turned || this.hasGroups || this.cornerUvs.length > 0 !== (uvs !== null && this.faces > 0))
      return false
    if (this.faces > 0 && this.cornerColours.length > 0 !== (colours !== null)) return false
    if (starts) for (let f = 0; f <= faces; f++) if (starts[f] !== 3 * f) return false
    const { allFinite, total } = this.checkedPositions()
    if (!allFinite || base < 0) return false
    const corners = 3 * faces
    for (let c = 0; c < corners; c += 3) {
      const a = vertices[c]
      const b = vertices[c + 1]
      const d = vertices[c + 2]
      if (a === b || b === d || d === a) return false
      if (!(base + a < total && base + b < total && base + d < total)) return false
    }
    const first = this.cornerVertices.length
    const numbers = vertices.length === corners ? vertices : vertices.subarray(0, corners)
    this.cornerVertices.append(numbers)
    if (base > 0) {
      const own = this.cornerVertices.view()
      for (let c = first; c < first + corners; c++) own[c] += base
    }
    if (normals)
      for (let c = 0; c < corners; c++) {
        const n = 3 * numbers[c]
        this.pushNormal(normals[n], normals[n + 1], normals[n + 2])
      }
    else {
      this.cornerNormals.padTo(3 * (first + corners))
      this.missingNormals += corners
    }
    if (uvs)
      for (let c = 0; c < corners; c++) {
        const [u, v] = [uvs[2 * numbers[c]], uvs[2 * numbers[c] + 1]]
        this.cornerUvs.push2(Number.isFinite(u) ? u : 0, Number.isFinite(v) ? v : 0)
      }
    if (colours)
      for (let c = 0; c < corners; c++) {
        const at = 3 * numbers[c]
        this.cornerColours.push3(colours[at], colours[at + 1], colours[at + 2])
      }
    const face = this.faceStarts.length - 1
    const ends = this.faceStarts.reserve(faces)
    for (let f = 0; f < faces; f++) ends[face + 1 + f] = first + 3 * (f + 1)
    this.faceStarts.length += faces
    for (const [list, value] of [
      [this.faceParts, part],
      [this.faceMaterials, material],
    ] as const) {
      list.reserve(faces).fill(value, face, face + faces)
      list.length += faces
    }
    return true
  }

  private finiteUpTo = 0
  private foundInfinite = false
  /** Whether all vertices so far are finite; those looked at are not looked at again. */
  private checkedPositions(): { readonly allFinite: boolean; readonly total: number } {
    const view = this.positions.view()
    for (; this.finiteUpTo < view.length; this.finiteUpTo++)
      // Only what is not finite differs from 0 times itself.
      if (view[this.finiteUpTo] * 0 !== 0) this.foundInfinite = true
    return { allFinite: !this.foundInfinite, total: view.length / 3 }
  }

  private allSound(corner: readonly number[]): boolean {
    const total = this.vertexTotal
    for (const v of corner) if (!(v >= 0 && v < total) || !this.isFinite(v)) return false
    return true
  }

  /** The corners to keep of a face, as places in its list; null where it cannot be used. */
  private soundCorners(vertices: readonly number[], sides: number, part: number): readonly number[] | null {
    const partName = this.parts[part]?.name ?? null
    const total = this.vertexTotal
    for (let i = 0; i < sides; i++) {
      const v = vertices[i]
      if (!Number.isInteger(v) || v < 0 || v >= total) {
        this.warn(
          'index-out-of-range',
          partName,
          (n) => `${plural(n, 'polygon names', 'polygons name')} a vertex that does not exist; dropped`,
        )
        return null
      }
      if (!this.isFinite(v)) {
        this.warn(
          'not-finite',
          partName,
          (n) =>
            `${plural(n, 'polygon uses', 'polygons use')} a vertex whose place is not a finite number; dropped`,
        )
        return null
      }
    }
    // Repeated neighbours make a side without length: keep one of them.
    const kept: number[] = []
    for (let i = 0; i < sides; i++) if (vertices[i] !== vertices[(i + 1) % sides]) kept.push(i)
    if (kept.length < 3) {
      this.warn(
        'degenerate-polygon',
        partName,
        (n) => `${plural(n, 'polygon')} with fewer than three distinct corners; dropped`,
      )
      return null
    }
    return kept
  }

  private pushCorner(vertex: number): void {
    this.cornerVertices.push(vertex)
  }
  private pushNormal(x: number, y: number, z: number): void {
    const len = Math.sqrt(x * x + y * y + z * z)
    if (len > 1e-12 && len < Infinity) this.cornerNormals.push3(x / len, y / len, z / len)
    else {
      this.cornerNormals.push3(0, 0, 0)
      this.missingNormals++
    }
  }
  private pushUv(u: number, v: number): void {
    this.cornerUvs.padTo(2 * (this.cornerVertices.length - 1))
    this.cornerUvs.push2(Number.isFinite(u) ? u : 0, Number.isFinite(v) ? v : 0)
  }
  private pushColour(r: number, g: number, b: number): void {
    // Corners without a colour are white: it multiplies the material's.
    const before = 3 * (this.cornerVertices.length - 1)
    while (this.cornerColours.length < before) this.cornerColours.push(255)
    this.cornerColours.push3(r, g, b)
  }
  private endFace(part: number, material: number, group: number): void {
    this.faceStarts.push(this.cornerVertices.length)
    this.faceParts.push(part)
    this.faceMaterials.push(material)
    if (this.hasGroups) {
      this.faceGroups.padTo(this.faceParts.length - 1)
      this.faceGroups.push(group)
    }
  }

  private isFinite(vertex: number): boolean {
    const i = 3 * vertex
    return Number.isFinite(this.positions.at(i) + this.positions.at(i + 1) + this.positions.at(i + 2))
  }

  /** Closes the mesh: makes missing normals, drops parts and materials nobody uses. */
  finish(name: string): Model {
    const { allFinite } = this.checkedPositions()
    const positions = this.positions.toArray()
    // No polygon uses these any more; as numbers they do no harm to what goes over all vertices.
    if (!allFinite)
      for (let i = 0; i < positions.length; i++) if (!Number.isFinite(positions[i])) positions[i] = 0
    const faceStarts = this.faceStarts.toArray()
    const cornerVertices = this.cornerVertices.toArray()
    let cornerNormals = this.cornerNormals.toArray()
    if (this.missingNormals > 0) {
      const { welded, count } = this.areWelded
        ? { welded: null, count: positions.length / 3 }
        : weldPositions(positions)
      let groups: Uint32Array | null = null
      if (this.hasGroups) {
        this.faceGroups.padTo(this.faces)
        groups = this.faceGroups.view()
      }
      const made = smoothCornerNormals(
        { positions, faceStarts, cornerVertices },
        welded && count < welded.length ? renamed(cornerVertices, welded) : cornerVertices,
        count,
        35,
        groups,
      )
      if (this.missingNormals === cornerVertices.length) cornerNormals = made
      else
        for (let c = 0; c < cornerVertices.length; c++) {
          if (
            cornerNormals[3 * c] === 0 &&
            cornerNormals[3 * c + 1] === 0 &&
            cornerNormals[3 * c + 2] === 0
          ) {
            cornerNormals[3 * c] = made[3 * c]
            cornerNormals[3 * c + 1] = made[3 * c + 1]
            cornerNormals[3 * c + 2] = made[3 * c + 2]
          }
        }
      this.warn(
        'normals-made',
        null,
        (n) => `${plural(n, 'corner')} had no normal; made from the faces around them`,
        this.missingNormals,
      )
    }
    const corners = cornerVertices.length
    if (this.cornerUvs.length > 0) this.cornerUvs.padTo(2 * corners)
    while (this.cornerColours.length > 0 && this.cornerColours.length < 3 * corners)
      this.cornerColours.push(255)
    const mesh: PolygonMesh = {
      positions,
      faceStarts,
      cornerVertices,
      cornerNormals,
      cornerUvs: this.cornerUvs.length > 0 ? this.cornerUvs.toArray() : null,
      cornerColours: this.cornerColours.length > 0 ? this.cornerColours.toArray() : null,
      faceParts: this.faceParts.toArray(),
      faceMaterials: this.faceMaterials.toArray(),
    }
    const warnings: ModelWarning[] = [...this.findings].map(([key, finding]) => ({
      code: key.split('\n')[0],
      message: finding.describe(finding.count),
      part: finding.part,
    }))
    const { parts, materials, textures, cameras } = this
    return compact({ name, parts, materials, mesh, warnings, textures, cameras })
  }
}

const PLAIN_CORNERS = [0, 1, 2] as const

/** What a table makes of each number. */
function renamed(numbers: Uint32Array, table: Uint32Array): Uint32Array {
  const out = new Uint32Array(numbers.length)
  for (let i = 0; i < numbers.length; i++) out[i] = table[numbers[i]]
  return out
}

/** Drops parts without faces (and without children that have some) and unused materials; renumbers the rest. */
function compact(model: Model): Model {
  const usedParts = new Uint8Array(model.parts.length)
  const usedMaterials = new Uint8Array(model.materials.length)
  const { faceParts, faceMaterials } = model.mesh
  for (let f = 0; f < faceParts.length; f++) {
    usedParts[faceParts[f]] = 1
    usedMaterials[faceMaterials[f]] = 1
  }
  for (let i = 0; i < model.parts.length; i++) {
    if (!usedParts[i]) continue
    for (let up = model.parts[i].parent; up >= 0 && !usedParts[up]; up = model.parts[up].parent)
      usedParts[up] = 1
  }
  if (usedParts.every(Boolean) && usedMaterials.every(Boolean)) return model
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
      faceParts: faceParts.map((p) => partOf[p]),
      faceMaterials: faceMaterials.map((m) => materialOf[m]),
    },
  }
}
