import type { CameraBasis } from '../scene/camera'
import type { SceneGeometry } from '../scene/scene-geometry'
import { CellLists } from './cell-lists'
import { NONE, type LineTopology } from './line-topology'
import type { SegmentList } from './segment-list'

/** Ends nearer than this are one, in figure diagonals. */
const SAME_PLACE = 1e-5
/** A place this near an edge, in weights of the corner across from it, lies on it. */
const ON_EDGE = 1e-6
/** Most texels of a triangle that are looked at one by one; of more, every second or fourth … */
const MOST_TEXELS = 1 << 22

/** A texture that cuts triangles away, as the kernel reads it: between four texels, repeated. */
interface Cutout {
  readonly width: number
  readonly height: number
  /** 0…1 at a texel, before the threshold is taken off; texels repeat. */
  readonly at: (x: number, y: number) => number
}

/** Where textures cut the triangles of a scene away. */
export class CutAway {
  private readonly cutouts: readonly (Cutout | null)[]

  private constructor(
    private readonly scene: SceneGeometry,
    private readonly uvs: Float32Array,
  ) {
    this.cutouts = scene.materials.map(({ alpha = 'opaque', alphaCut = 0.5, texture = null }) => {
      const picture = texture === null ? null : scene.textures[texture]
      if (alpha === 'opaque' || !picture) return null
      const { width, height, rgba } = picture
      const threshold = alpha === 'cut' ? alphaCut : 0.5
      const wrap = (i: number, size: number) => ((i % size) + size) % size
      return {
        width,
        height,
        at: (x, y) => rgba[4 * (wrap(y, height) * width + wrap(x, width)) + 3] / 255 - threshold,
      }
    })
  }

  /** @returns null where nothing of a scene is cut away. */
  static of(scene: SceneGeometry): CutAway | null {
    if (!scene.triangleUvs) return null
    const made = new CutAway(scene, scene.triangleUvs)
    return made.cutouts.some(Boolean) ? made : null
  }

  /** The cut-out of a triangle of the scene; null where it is whole. */
  cutoutOf(triangle: number): Cutout | null {
    return this.cutouts[this.scene.triangleMaterials[triangle]]
  }

  /** Places of a triangle's corners among the texels: x, y of each, texel middles at whole numbers. */
  texels(triangle: number, { width, height }: Cutout): number[] {
    return [0, 1, 2].flatMap((k) => [
      this.uvs[6 * triangle + 2 * k] * width - 0.5,
      this.uvs[6 * triangle + 2 * k + 1] * height - 0.5,
    ])
  }

  /** Whether a place of a triangle is there. @param b, c weights of its second and third corner. */
  isThere(triangle: number, b: number, c: number): boolean {
    const cutout = this.cutoutOf(triangle)
    if (!cutout) return true
    const [x0, y0, x1, y1, x2, y2] = this.texels(triangle, cutout)
    const a = 1 - b - c
    const x = a * x0 + b * x1 + c * x2
    const y = a * y0 + b * y1 + c * y2
    const [i, j] = [Math.floor(x), Math.floor(y)]
    const [fx, fy] = [x - i, y - j]
    const top = (1 - fx) * cutout.at(i, j) + fx * cutout.at(i + 1, j)
    const low = (1 - fx) * cutout.at(i, j + 1) + fx * cutout.at(i + 1, j + 1)
    return (1 - fy) * top + fy * low >= 0
  }
}

/**
 * The borders of what textures leave of triangles: the level of the threshold between texels, cell by cell (marching
 * squares, Lorensen & Cline 1987), cut to the triangle and laid on it.
 * @param firstNode nodes from this number on are free.
 * @returns the next free node.
 */
export function cutoutLines(
  topology: LineTopology,
  cutAway: CutAway,
  camera: CameraBasis,
  figureDiagonal: number,
  firstNode: number,
  out: SegmentList,
): number {
  const { positions, vertices, parts, faceNormals, sceneTriangles, patches } = topology
  const { sideEdges, edgeTriangles } = topology
  const places = new CellLists()
  let nodes = 0
  const nodeOf = (p: Float64Array): number => {
    const [x, y, z] = Array.from(p, (v) => Math.round(v / (SAME_PLACE * figureDiagonal)))
    const known = places.last(x, y, z)
    if (known >= 0) return firstNode + known
    nodes++
    return firstNode + places.add(x, y, z)
  }
  const ends = [new Float64Array(3), new Float64Array(3)]
  const normal = new Float64Array(3)
  for (let t = 0; t < topology.triangleCount; t++) {
    const cutout = cutAway.cutoutOf(sceneTriangles[t])
    if (!cutout) continue
    const corners = cutAway.texels(sceneTriangles[t], cutout)
    const [x0, y0, x1, y1, x2, y2] = corners
    const det = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
    if (det === 0 || !Number.isFinite(det)) continue
    const [left, right] = [Math.floor(Math.min(x0, x1, x2)), Math.ceil(Math.max(x0, x1, x2))]
    const [top, bottom] = [Math.floor(Math.min(y0, y1, y2)), Math.ceil(Math.max(y0, y1, y2))]
    let step = 1
    while (((right - left) / step) * ((bottom - top) / step) > MOST_TEXELS) step *= 2
    const v = [0, 1, 2].map((k) => 3 * vertices[3 * t + k])
    turnToEye(positions, v[0], faceNormals, 3 * t, camera, normal)
    /** Weights of the second and third corner at a place among the texels. */
    const weights = (x: number, y: number): readonly [number, number] => [
      ((x - x0) * (y2 - y0) - (x2 - x0) * (y - y0)) / det,
      ((x1 - x0) * (y - y0) - (x - x0) * (y1 - y0)) / det,
    ]
    const put = (ax: number, ay: number, bx: number, by: number) => {
      const [ab, ac] = weights(ax, ay)
      const [bb, bc] = weights(bx, by)
      // The share of the piece within the triangle: where none of the three weights is below 0.
      let from = 0
      let to = 1
      for (const [k, p, q] of [
        [0, 1 - ab - ac, 1 - bb - bc],
        [1, ab, bb],
        [2, ac, bc],
      ]) {
        if (p < 0 && q < 0) return
        if (p < 0) from = Math.max(from, p / (p - q))
        else if (q < 0) to = Math.min(to, p / (p - q))
        // Along the rim of the mesh a texture that repeats changes from one side to the other: no line of its own.
        const isRim = edgeTriangles[2 * sideEdges[3 * t + ((k + 1) % 3)] + 1] === NONE
        if (isRim && Math.max(Math.abs(p), Math.abs(q)) < ON_EDGE) return
      }
      if (from >= to) return
      ;[from, to].forEach((share, end) => {
        const b = ab + (bb - ab) * share
        const c = ac + (bc - ac) * share
        for (let axis = 0; axis < 3; axis++)
          ends[end][axis] =
            positions[v[0] + axis] * (1 - b - c) + positions[v[1] + axis] * b + positions[v[2] + axis] * c
      })
      const [nodeA, nodeB] = [nodeOf(ends[0]), nodeOf(ends[1])]
      if (nodeA === nodeB) return
      out.add('border', ends[0], ends[1], nodeA, nodeB, parts[t], parts[t], normal, 0, 1, 0, patches[t])
    }
    for (let y = top; y < bottom; y += step)
      for (let x = left; x < right; x += step) marchCell(cutout, x, y, step, put)
  }
  return firstNode + nodes
}

/** The pieces of level 0 in the cell between four texels. */
function marchCell(
  { at }: Cutout,
  x: number,
  y: number,
  step: number,
  put: (ax: number, ay: number, bx: number, by: number) => void,
): void {
  const [a, b, c, d] = [at(x, y), at(x + step, y), at(x + step, y + step), at(x, y + step)]
  if (a >= 0 === b >= 0 && b >= 0 === c >= 0 && c >= 0 === d >= 0) return
  // Crossings round the cell, from its upper left corner: above, right, below, left.
  const found: number[] = []
  if (a >= 0 !== b >= 0) found.push(x + (step * a) / (a - b), y)
  if (b >= 0 !== c >= 0) found.push(x + step, y + (step * b) / (b - c))
  if (c >= 0 !== d >= 0) found.push(x + step - (step * c) / (c - d), y + step)
  if (d >= 0 !== a >= 0) found.push(x, y + step - (step * d) / (d - a))
  if (found.length === 4) put(found[0], found[1], found[2], found[3])
  else {
    // Two corners across from each other: the middle tells which of the others belong together.
    const isJoined = a + b + c + d >= 0 === a >= 0
    const [p, q, r, s] = [0, 2, 4, 6].map((i) => [found[i], found[i + 1]] as const)
    if (isJoined) {
      put(...p, ...q)
      put(...r, ...s)
    } else {
      put(...p, ...s)
      put(...q, ...r)
    }
  }
}

/** The normal of a face, turned over where it looks away from the eye. @param at index of a point of it. */
function turnToEye(
  positions: Float32Array,
  at: number,
  normals: Float32Array,
  n: number,
  { eye, back, parallel }: CameraBasis,
  out: Float64Array,
): void {
  let facing = 0
  for (let axis = 0; axis < 3; axis++)
    facing += normals[n + axis] * (parallel ? back[axis] : eye[axis] - positions[at + axis])
  for (let axis = 0; axis < 3; axis++) out[axis] = facing < 0 ? -normals[n + axis] : normals[n + axis]
}
