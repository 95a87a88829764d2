import type { CameraBasis } from '../scene/camera'
import { kindNumber } from './line-kinds'
import type { Chains } from './line-chains'

/** Lines at which what lies behind may appear or vanish. */
const HIDES = [kindNumber('silhouette'), kindNumber('border')]
/** Lines at which a line may dive into a surface: those lie at the same depth. */
const MEETS = kindNumber('intersection')
/** Depths that differ by no more than this share are the same. */
const SAME_DEPTH = 2e-3
const SMALLEST_CELL_PX = 2

/**
 * Where in the picture lines pass behind others that may hide them. A visible line can only change at such a crossing,
 * at a cusp of its own, or where it dives into a surface (Appel 1967, "The notion of quantitative invisibility").
 * @returns for each chain the places, as point index + share of the way to the next point, in order.
 */
export function lineCrossings(chains: Chains, camera: CameraBasis): Float64Array[] {
  const { pixels, depths, starts, kinds } = chains

  // 1. Segments of lines that hide, in cells of the picture.
  const hiding: number[] = []
  let left = Infinity
  let top = Infinity
  let right = -Infinity
  let bottom = -Infinity
  const chainOf = new Uint32Array(depths.length)
  for (let c = 0; c < chains.count; c++) {
    const isHiding = HIDES.includes(kinds[c]) || kinds[c] === MEETS
    for (let p = starts[c]; p < starts[c + 1]; p++) {
      chainOf[p] = c
      left = Math.min(left, pixels[2 * p])
      right = Math.max(right, pixels[2 * p])
      top = Math.min(top, pixels[2 * p + 1])
      bottom = Math.max(bottom, pixels[2 * p + 1])
      if (isHiding && p + 1 < starts[c + 1]) hiding.push(p)
    }
  }
  const found: number[][] = Array.from({ length: chains.count }, () => [])
  if (hiding.length === 0) return found.map((list) => Float64Array.from(list))
  const area = Math.max(1, (right - left) * (bottom - top))
  const cell = Math.max(SMALLEST_CELL_PX, Math.sqrt(area / hiding.length))
  const columns = Math.max(1, Math.ceil((right - left) / cell))
  const rows = Math.max(1, Math.ceil((bottom - top) / cell))
  const column = (x: number) => Math.min(columns - 1, Math.max(0, Math.floor((x - left) / cell)))
  const row = (y: number) => Math.min(rows - 1, Math.max(0, Math.floor((y - top) / cell)))
  /** The cells that {@link cellsOf} found last. */
  let cells = new Int32Array(256)
  /** Finds every cell a segment runs through: row by row, the columns it spans there. @returns how many. */
  const cellsOf = (p: number): number => {
    let count = 0
    const x0 = pixels[2 * p]
    const y0 = pixels[2 * p + 1]
    const x1 = pixels[2 * p + 2]
    const y1 = pixels[2 * p + 3]
    const first = row(Math.min(y0, y1))
    const last = row(Math.max(y0, y1))
    for (let r = first; r <= last; r++) {
      let from = Math.min(x0, x1)
      let to = Math.max(x0, x1)
      if (first !== last) {
        const atTop = x0 + ((x1 - x0) * (top + r * cell - y0)) / (y1 - y0)
        const atBottom = x0 + ((x1 - x0) * (top + (r + 1) * cell - y0)) / (y1 - y0)
        from = Math.max(from, Math.min(atTop, atBottom))
        to = Math.min(to, Math.max(atTop, atBottom))
      }
      const end = column(to)
      for (let c = column(from); c <= end; c++) {
        if (count === cells.length) {
          const longer = new Int32Array(2 * count)
          longer.set(cells)
          cells = longer
        }
        cells[count++] = r * columns + c
      }
    }
    return count
  }
  const cellStarts = new Uint32Array(columns * rows + 1)
  for (const p of hiding) for (let i = cellsOf(p) - 1; i >= 0; i--) cellStarts[cells[i] + 1]++
  for (let k = 0; k < columns * rows; k++) cellStarts[k + 1] += cellStarts[k]
  const members = new Uint32Array(cellStarts[columns * rows])
  const fill = cellStarts.slice()
  for (const p of hiding) for (let i = cellsOf(p) - 1; i >= 0; i--) members[fill[cells[i]]++] = p

  // 2. Every segment against those of its cells.
  const asked = new Int32Array(depths.length).fill(-1)
  for (let c = 0; c < chains.count; c++) {
    for (let p = starts[c]; p + 1 < starts[c + 1]; p++) {
      const count = cellsOf(p)
      for (let i = 0; i < count; i++) {
        const last = cellStarts[cells[i] + 1]
        for (let m = cellStarts[cells[i]]; m < last; m++) {
          const q = members[m]
          if (asked[q] === p || q === p || q === p + 1 || q === p - 1) continue
          asked[q] = p
          const share = crossing(p, q)
          if (share >= 0) found[c].push(p + share)
        }
      }
    }
  }

  /** Share of segment p at which q passes before it (or meets it); −1 for none. */
  function crossing(p: number, q: number): number {
    const ax = pixels[2 * p]
    const ay = pixels[2 * p + 1]
    const bx = pixels[2 * p + 2] - ax
    const by = pixels[2 * p + 3] - ay
    const cx = pixels[2 * q] - ax
    const cy = pixels[2 * q + 1] - ay
    const dx = pixels[2 * q + 2] - pixels[2 * q]
    const dy = pixels[2 * q + 3] - pixels[2 * q + 1]
    const det = bx * dy - by * dx
    if (det === 0) return -1
    const t = (cx * dy - cy * dx) / det
    const u = (cx * by - cy * bx) / det
    if (t < 0 || t > 1 || u < 0 || u > 1) return -1
    const mine = depthAt(p, t)
    const its = depthAt(q, u)
    const isSame = Math.abs(mine - its) <= SAME_DEPTH * mine
    if (kinds[chainOf[q]] === MEETS) return isSame ? t : -1
    return its < mine || isSame ? t : -1
  }
  /** Depths run evenly in the picture as their inverse does; in a parallel picture as they are. */
  function depthAt(p: number, share: number): number {
    const a = depths[p]
    const b = depths[p + 1]
    return camera.parallel ? a + (b - a) * share : (a * b) / (b + (a - b) * share)
  }
  return found.map((list) => Float64Array.from(list).sort())
}
