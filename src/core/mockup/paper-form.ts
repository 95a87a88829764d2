import { seededRandom } from '../math/sampling'
import { cloudNoise } from '../math/noise'
import type { PolygonMesh } from '../geometry/polygon-mesh'

/** A sheet of paper as a surface: folded, creased, curled, with a corner rolled up. The longer side is 1. */

export const FOLDS = ['none', 'half', 'letter', 'quarters', 'eighths'] as const
export const CORNERS = ['none', 'lower right', 'lower left', 'upper right', 'upper left'] as const

export interface PaperForm {
  readonly folds: (typeof FOLDS)[number]
  /** How far the folds stand open from flat. */
  readonly foldDeg: number
  /** 0 is smooth, 1 was crumpled and smoothed out again. */
  readonly creases: number
  /** Soft unevenness, 0…1. */
  readonly waves: number
  /** −1…1: its sides bend back or forward. */
  readonly curl: number
  readonly curlAcross: boolean
  readonly corner: (typeof CORNERS)[number]
  /** Share of the shorter side that the corner is rolled up from. */
  readonly cornerRoll: number
  readonly seed: number
}

/** What a stand makes of a form. */
export interface PaperHold {
  /** How much of all relief is left: what is pasted lies flat. */
  readonly relief: number
  /** How far each place may rise, as a factor of its relief; left out: 1 everywhere. @param x, y from the middle. */
  readonly loose?: (x: number, y: number) => number
  /** How far the lowest place stands off what it lies on. */
  readonly gap: number
  /** Bends that are added to all others: towards the viewer, by places. */
  readonly sag?: (x: number, y: number) => number
}

/** Where folds lie, in shares of a side. */
const foldPlaces: Readonly<
  Record<PaperForm['folds'], { readonly across: number[]; readonly down: number[] }>
> = {
  none: { across: [], down: [] },
  half: { across: [], down: [0.5] },
  letter: { across: [], down: [1 / 3, 2 / 3] },
  quarters: { across: [0.5], down: [0.5] },
  eighths: { across: [0.5], down: [0.25, 0.5, 0.75] },
}

/** Half the breadth over which a fold is round. */
const FOLD_ROUND = 0.0022
/** Half the breadth over which a fold changes its side where another crosses it. */
const TURN = 0.03
/** How far from a fold paper lies flat again. */
const FOLD_REACH = 0.16
const CREASES = 26

type Point = [number, number, number]

/** The form of a sheet. @param width, height the longer is 1. @returns where a place of it lies, and what folds it has. */
function surfaceOf(
  form: PaperForm,
  width: number,
  height: number,
  hold: PaperHold,
): (x: number, y: number, out: Point) => void {
  const { across, down } = foldPlaces[form.folds]
  const slope = Math.tan((form.foldDeg * Math.PI) / 360)
  const random = seededRandom(form.seed + 1)
  const creases = Array.from({ length: form.creases > 0 ? CREASES : 0 }, () => {
    const angle = random() * Math.PI
    return {
      x: (random() - 0.5) * width,
      y: (random() - 0.5) * height,
      dx: Math.cos(angle),
      dy: Math.sin(angle),
      reach: 0.1 + 0.32 * random() * random() + 0.08 * random(),
      rise: (random() < 0.5 ? -1 : 1) * (0.3 + 0.7 * random()),
      round: 0.0015 + 0.005 * random() * random(),
    }
  })
  /** Which side folds across turn to, beyond the folds that were made before them. */
  const side = (v: number, places: readonly number[], length: number): number => {
    let sign = 1
    for (const place of places) {
      const t = Math.min(1, Math.max(-1, (v - (place - 0.5) * length) / TURN))
      sign *= -t * (1.5 - 0.5 * t * t)
    }
    return places.length === 0 ? 1 : sign
  }
  const tents = (v: number, places: readonly number[], length: number): number =>
    places.reduce(
      (sum, place, i) =>
        sum +
        (i % 2 === 0 ? 1 : -1) *
          slope *
          FOLD_REACH *
          Math.exp(-rounded(v - (place - 0.5) * length) / FOLD_REACH),
      0,
    )
  const rounded = (d: number): number => Math.hypot(d, FOLD_ROUND) - FOLD_ROUND
  const relief = (x: number, y: number): number => {
    let z = tents(y, down, height) + tents(x, across, width) * side(y, down, height)
    for (const crease of creases) {
      const px = x - crease.x
      const py = y - crease.y
      const along = (px * crease.dx + py * crease.dy) / crease.reach
      const off = px * crease.dy - py * crease.dx
      const far = along * along + (off / crease.reach) ** 2
      if (far > 6) continue
      const fade = Math.exp(-far)
      z += form.creases * 0.13 * crease.rise * fade * (Math.hypot(off, crease.round) - 0.4 * crease.reach)
    }
    if (form.creases > 0) z += form.creases * 0.006 * (cloudNoise(x * 9, y * 9, form.seed + 31, 3) - 0.5)
    if (form.waves > 0) z += form.waves * 0.05 * (cloudNoise(x * 2.2, y * 2.2, form.seed + 7, 2) - 0.5)
    return z * hold.relief * (hold.loose?.(x, y) ?? 1)
  }
  const roll = rollOf(form, width, height)
  const bend = form.curl * 1.9
  return (x, y, out) => {
    let z = relief(x, y) + (hold.sag?.(x, y) ?? 0)
    let [px, py] = [x, y]
    if (roll) {
      const beyond = x * roll.ex + y * roll.ey - roll.from
      if (beyond > 0) {
        const angle = beyond / roll.radius
        const [s, c] = [Math.sin(angle), Math.cos(angle)]
        const along = roll.radius * s - z * s - beyond
        px += along * roll.ex
        py += along * roll.ey
        z = roll.radius * (1 - c) + z * c
      }
    }
    if (bend !== 0) {
      const v = form.curlAcross ? px : py
      const [s, c] = [Math.sin(v * bend), Math.cos(v * bend)]
      const bent = (1 / bend - z) * s
      if (form.curlAcross) px = bent
      else py = bent
      z = 1 / bend - (1 / bend - z) * c
    }
    out[0] = px
    out[1] = py
    out[2] = z
  }
}

/** Which corner is rolled, and from where on; null where none is. */
function rollOf({ corner, cornerRoll }: PaperForm, width: number, height: number) {
  if (corner === 'none' || cornerRoll <= 0) return null
  const sx = corner.endsWith('right') ? 1 : -1
  const sy = corner.startsWith('upper') ? 1 : -1
  const length = cornerRoll * Math.min(width, height)
  // Steeper than the diagonal: nobody rolls a corner evenly.
  const [ex, ey] = [sx * 0.8, sy * 0.6]
  const reach = (Math.abs(ex) * width + Math.abs(ey) * height) / 2
  return { ex, ey, from: reach - length, radius: Math.max(0.012, length * 0.27) }
}

/** Lines of a grid along a side of a length: evenly, and closer about folds. */
function gridLines(length: number, perUnit: number, folds: readonly number[]): Float64Array {
  const count = Math.max(8, Math.round(length * perUnit))
  const lines = Array.from({ length: count + 1 }, (_, i) => (i / count - 0.5) * length)
  for (const place of folds)
    for (const off of [-4, -2, -1, -0.5, 0, 0.5, 1, 2, 4])
      lines.push((place - 0.5) * length + off * FOLD_ROUND)
  lines.sort((a, b) => a - b)
  const least = 0.2 * FOLD_ROUND
  const kept = lines.filter((v, i) => i === 0 || i === lines.length - 1 || v - lines[i - 1] > least)
  return Float64Array.from(kept)
}

/**
 * A sheet as a mesh of quads that face +Z, with smooth normals; its picture's upper left corner lies at u 0, v 1.
 * @param aspect width over height. @param perUnit quads along the longer side.
 * @returns the mesh, and where the four corners of the sheet lie, from the upper left clockwise.
 */
export function paperMesh(
  form: PaperForm,
  aspect: number,
  hold: PaperHold,
  perUnit: number,
): { readonly mesh: PolygonMesh; readonly place: (u: number, v: number) => Point } {
  const [width, height] = aspect >= 1 ? [1, 1 / aspect] : [aspect, 1]
  const surface = surfaceOf(form, width, height, hold)
  const folds = foldPlaces[form.folds]
  const xs = gridLines(width, perUnit, folds.across)
  const ys = gridLines(height, perUnit, folds.down)
  const [nx, ny] = [xs.length, ys.length]
  const positions = new Float32Array(3 * nx * ny)
  const point: Point = [0, 0, 0]
  let lowest = Infinity
  for (let j = 0, at = 0; j < ny; j++)
    for (let i = 0; i < nx; i++, at += 3) {
      surface(xs[i], ys[j], point)
      positions.set(point, at)
      if (point[2] < lowest) lowest = point[2]
    }
  const lift = hold.gap - lowest
  for (let at = 2; at < positions.length; at += 3) positions[at] += lift
  const normals = gridNormals(positions, nx, ny)
  const faces = (nx - 1) * (ny - 1)
  const faceStarts = Uint32Array.from({ length: faces + 1 }, (_, f) => 4 * f)
  const cornerVertices = new Uint32Array(4 * faces)
  const cornerNormals = new Float32Array(12 * faces)
  const cornerUvs = new Float32Array(8 * faces)
  let corner = 0
  for (let j = 0; j + 1 < ny; j++)
    for (let i = 0; i + 1 < nx; i++)
      for (const [a, b] of QUAD) {
        const vertex = (j + b) * nx + i + a
        cornerVertices[corner] = vertex
        for (let k = 0; k < 3; k++) cornerNormals[3 * corner + k] = normals[3 * vertex + k]
        cornerUvs[2 * corner] = xs[i + a] / width + 0.5
        cornerUvs[2 * corner + 1] = ys[j + b] / height + 0.5
        corner++
      }
  const mesh = {
    positions,
    faceStarts,
    cornerVertices,
    cornerNormals,
    cornerUvs,
    cornerColours: null,
    faceParts: new Uint32Array(faces),
    faceMaterials: new Uint32Array(faces),
  }
  const place = (u: number, v: number): Point => {
    const out: Point = [0, 0, 0]
    surface((u - 0.5) * width, (0.5 - v) * height, out)
    out[2] += lift
    return out
  }
  return { mesh, place }
}

const QUAD = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const

/** Normals of a grid's vertices: across the lines to the neighbours. */
function gridNormals(positions: Float32Array, nx: number, ny: number): Float32Array {
  const normals = new Float32Array(positions.length)
  const at = (i: number, j: number) => 3 * (j * nx + i)
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) {
      const [left, right] = [at(Math.max(0, i - 1), j), at(Math.min(nx - 1, i + 1), j)]
      const [below, above] = [at(i, Math.max(0, j - 1)), at(i, Math.min(ny - 1, j + 1))]
      const [ux, uy, uz] = [0, 1, 2].map((k) => positions[right + k] - positions[left + k])
      const [vx, vy, vz] = [0, 1, 2].map((k) => positions[above + k] - positions[below + k])
      const x = uy * vz - uz * vy
      const y = uz * vx - ux * vz
      const z = ux * vy - uy * vx
      const length = Math.hypot(x, y, z) || 1
      normals.set([x / length, y / length, z / length], at(i, j))
    }
  return normals
}
