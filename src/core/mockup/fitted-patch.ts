import { quadToSquare, type Quad } from '../picture/warped-window'

/**
 * A sheet between four corners, bent by a mesh: the flat sheet in perspective, and over it a patch of cubic curves that moves its
 * places (a tensor-product Bézier patch of offsets; Farin 2002, "Curves and Surfaces for CAGD", chapter 14).
 */
export interface FittedPatch {
  /** Where a place of the sheet lies. */
  readonly place: (u: number, v: number, out: Float64Array) => void
  /** Which place of the sheet lies somewhere; false where none is found near. */
  readonly find: (x: number, y: number, out: Float64Array) => boolean
}

/** Steps of Newton's method at most; places on a bent sheet are found in three or four. */
const STEPS = 12

/**
 * @param quad corners in pixels. @param bends 16 offsets in pixels, row after row, or none.
 * @returns null for corners that enclose nothing.
 */
export function fittedPatch(quad: Quad, bends: readonly (readonly [number, number])[]): FittedPatch | null {
  const back = quadToSquare(quad)
  if (!back) return null
  // Back again, by the adjoint: what it brings is right but for a common factor.
  const [a, b, c, d, e, f, g, h, i] = back
  const there = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ]
  const across = new Float64Array(4)
  const down = new Float64Array(4)
  const place = (u: number, v: number, out: Float64Array): void => {
    const w = there[6] * u + there[7] * v + there[8]
    let x = (there[0] * u + there[1] * v + there[2]) / w
    let y = (there[3] * u + there[4] * v + there[5]) / w
    if (bends.length > 0) {
      bernstein(u, across)
      bernstein(v, down)
      for (let k = 0; k < 16; k++) {
        const weight = across[k & 3] * down[k >> 2]
        x += weight * bends[k][0]
        y += weight * bends[k][1]
      }
    }
    out[0] = x
    out[1] = y
  }
  const at = new Float64Array(2)
  const [right, below] = [new Float64Array(2), new Float64Array(2)]
  const find = (x: number, y: number, out: Float64Array): boolean => {
    const w = back[6] * x + back[7] * y + back[8]
    let u = (back[0] * x + back[1] * y + back[2]) / w
    let v = (back[3] * x + back[4] * y + back[5]) / w
    if (bends.length > 0) {
      const step = 1e-4
      let isFound = false
      // From far outside cubic curves lead nowhere.
      u = Math.min(1.5, Math.max(-0.5, u))
      v = Math.min(1.5, Math.max(-0.5, v))
      for (let k = 0; k < STEPS; k++) {
        place(u, v, at)
        const [dx, dy] = [x - at[0], y - at[1]]
        if (dx * dx + dy * dy < 1e-4) {
          isFound = true
          break
        }
        place(u + step, v, right)
        place(u, v + step, below)
        const [ux, uy] = [(right[0] - at[0]) / step, (right[1] - at[1]) / step]
        const [vx, vy] = [(below[0] - at[0]) / step, (below[1] - at[1]) / step]
        const det = ux * vy - uy * vx
        if (Math.abs(det) < 1e-12) break
        u += Math.min(0.3, Math.max(-0.3, (dx * vy - dy * vx) / det))
        v += Math.min(0.3, Math.max(-0.3, (dy * ux - dx * uy) / det))
      }
      if (!isFound) return false
    } else if (!Number.isFinite(u + v)) return false
    out[0] = u
    out[1] = v
    return true
  }
  return { place, find }
}

function bernstein(t: number, out: Float64Array): void {
  const s = 1 - t
  out[0] = s * s * s
  out[1] = 3 * s * s * t
  out[2] = 3 * s * t * t
  out[3] = t * t * t
}
