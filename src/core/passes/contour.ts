import { z } from 'zod'
import { CoverageMask } from '../lines/coverage-mask'
import { halfWidthPx, lineLook, lineLookSchema, weightParam } from '../lines/line-look'
import { numberParam, toggleParam } from '../params'
import { definePass } from './pass-kind'
import { CameraRay, FAR } from './primary-hits'
import { SurfacePoint } from './surface-point'

/** Halvings with which a crossing is found between two grid points: 1/32 of their distance. */
const HALVINGS = 5
/** Marks shorter than this are specks, not lines: they are left out. In pixels, or line widths where those are larger. */
const SHORTEST_PX = 3
const SHORTEST_WIDTHS = 2
/** A depth step counts when it is this many times what the two surfaces' own slopes explain. */
const SLOPE_ALLOWANCE = 2.5

/**
 * Lines where neighbouring rays see different things: another part, a step in depth, a turn of the surface. Rays on a
 * grid find which grid sides hold a line, halving finds where on the side, and the crossings of each grid cell are
 * joined into short segments (the idea of marching squares, Lorensen & Cline 1987, on visibility), so strokes are as
 * smooth as if they had been found on the geometry.
 */
export const contour = definePass({
  kind: 'contour',
  label: 'Contour',
  summary: 'Ink lines round every part, along creases and where one form passes before another.',
  renderSchema: z.object({
    weight: weightParam(1.8),
    creaseDeg: numberParam({ label: 'Crease from', unit: '°', min: 5, max: 120, step: 1, default: 40 }),
    depthStep: numberParam({
      label: 'Depth step',
      unit: '%D',
      min: 0.05,
      max: 20,
      step: 0.05,
      default: 1.2,
      logarithmic: true,
    }),
    betweenParts: toggleParam({ label: 'Between parts', default: true }),
    creases: toggleParam({ label: 'Creases', default: true }),
  }),
  lookSchema: lineLookSchema,
  channels: [{ name: 'L', format: 'unorm8' }],
  efforts: {
    draft: { samples: 1, rays: 0 },
    good: { samples: 4, rays: 0 },
    final: { samples: 9, rays: 0 },
  },
  layer: { mode: 'multiply', opacity: 1 },

  createRenderer(context, params) {
    const { scene, kernel, camera, frame, effort, seen, shown } = context
    const halfWidth = halfWidthPx(params.weight, frame.height)
    /** Grid points per pixel along one side. */
    const density = Math.max(1, Math.round(Math.sqrt(effort.samples)))
    const shortest = Math.max(SHORTEST_PX, SHORTEST_WIDTHS * 2 * halfWidth)
    // Wide enough that a speck which reaches into a tile lies whole within the tile's grid: tiles agree on it.
    const margin = Math.ceil(halfWidth + shortest) + 1
    const creaseCosine = Math.cos((params.creaseDeg * Math.PI) / 180)
    const depthStep = (params.depthStep / 100) * scene.figureDiagonal
    const ray = new CameraRay(camera, frame)
    const point = new SurfacePoint(scene)

    /** One look through a picture point. Fields of grid points are kept in flat arrays, 8 numbers each. */
    const FIELDS = 8
    const look = (pixelX: number, pixelY: number, out: Float64Array, at: number): void => {
      ray.aim(pixelX, pixelY)
      const { mask, parts } = seen
      const isHit = kernel.closest(ray.ox, ray.oy, ray.oz, ray.dx, ray.dy, ray.dz, 0, FAR, mask, parts)
      const part = isHit ? scene.tree.tags[kernel.slot] & 0xffffff : -1
      if (part < 0 || shown?.[part] === 0) {
        out[at] = -1
        return
      }
      const { slot, u: second, v: third } = kernel
      out[at] = part
      out[at + 1] = kernel.distance
      point.load(slot, second, third, ray.dx, ray.dy, ray.dz)
      out[at + 2] = point.nx
      out[at + 3] = point.ny
      out[at + 4] = point.nz
      // How fast depth may change across the picture here: 1 / cos of the angle between surface and ray.
      out[at + 5] = 1 / Math.max(0.02, -(point.gx * ray.dx + point.gy * ray.dy + point.gz * ray.dz))
      out[at + 6] = slot
    }

    /** Whether a line runs between two looks `gapPx` pixels apart. */
    const pixelAtOne = (2 * camera.halfHeight) / frame.height
    const differs = (a: Float64Array, i: number, b: Float64Array, j: number, gapPx: number): boolean => {
      if (a[i] < 0 || b[j] < 0) return a[i] !== b[j]
      if (a[i + 6] === b[j + 6]) return false
      if (params.betweenParts && a[i] !== b[j]) return true
      const worldGap = gapPx * pixelAtOne * (camera.parallel ? 1 : Math.min(a[i + 1], b[j + 1]))
      const step = Math.abs(a[i + 1] - b[j + 1])
      if (step > depthStep && step > SLOPE_ALLOWANCE * worldGap * Math.max(a[i + 5], b[j + 5])) return true
      if (!params.creases) return false
      return a[i + 2] * b[j + 2] + a[i + 3] * b[j + 3] + a[i + 4] * b[j + 4] < creaseCosine
    }

    /** How unlike two looks are, to decide on which side of a line a point between them lies. */
    const unlike = (a: Float64Array, i: number, b: Float64Array, j: number): number => {
      if (a[i] < 0 || b[j] < 0) return a[i] === b[j] ? 0 : 4
      const turn = 1 - (a[i + 2] * b[j + 2] + a[i + 3] * b[j + 3] + a[i + 4] * b[j + 4])
      const step = Math.min(1, Math.abs(a[i + 1] - b[j + 1]) / depthStep)
      return (a[i] === b[j] ? 0 : 2) + turn + step
    }
    const probe = new Float64Array(FIELDS)
    /** Share of the way from look i to look j at which the line runs. */
    const crossing = (
      looks: Float64Array,
      i: number,
      j: number,
      x0: number,
      y0: number,
      x1: number,
      y1: number,
    ): number => {
      let low = 0
      let high = 1
      for (let k = 0; k < HALVINGS; k++) {
        const middle = (low + high) / 2
        look(x0 + (x1 - x0) * middle, y0 + (y1 - y0) * middle, probe, 0)
        if (unlike(looks, i, probe, 0) <= unlike(looks, j, probe, 0)) low = middle
        else high = middle
      }
      return (low + high) / 2
    }

    return ({ tile, cancelled }) => {
      const x0 = tile.x - margin
      const y0 = tile.y - margin
      const columns = (tile.width + 2 * margin) * density + 1
      const rows = (tile.height + 2 * margin) * density + 1
      const looks = new Float64Array(columns * rows * FIELDS)
      const mask = new CoverageMask(tile.x, tile.y, tile.width, tile.height)
      const gridX = (column: number) => x0 + column / density
      const gridY = (row: number) => y0 + row / density

      // 1. Look through every grid point.
      for (let row = 0; row < rows; row++) {
        if (cancelled()) return [mask.coverage()]
        for (let column = 0; column < columns; column++) {
          look(gridX(column), gridY(row), looks, (row * columns + column) * FIELDS)
        }
      }

      // 2. Crossings on the grid's sides: to the right of and below each point. −1 is none.
      const rightOf = new Float32Array(columns * rows).fill(-1)
      const below = new Float32Array(columns * rows).fill(-1)
      const gap = 1 / density
      for (let row = 0; row < rows; row++) {
        if (cancelled()) return [mask.coverage()]
        for (let column = 0; column < columns; column++) {
          const p = row * columns + column
          const i = p * FIELDS
          if (column + 1 < columns && differs(looks, i, looks, i + FIELDS, gap)) {
            const x = gridX(column)
            rightOf[p] = crossing(looks, i, i + FIELDS, x, gridY(row), x + gap, gridY(row))
          }
          const j = i + columns * FIELDS
          if (row + 1 < rows && differs(looks, i, looks, j, gap)) {
            const y = gridY(row)
            below[p] = crossing(looks, i, j, gridX(column), y, gridX(column), y + gap)
          }
        }
      }

      // 3. Which runs of cells are too short to be lines.
      const speck = specks(columns, rows, rightOf, below, Math.ceil(shortest * density))

      // 4. Join the crossings of each cell: two directly, more through their middle.
      const xs = [0, 0, 0, 0]
      const ys = [0, 0, 0, 0]
      for (let row = 0; row + 1 < rows; row++) {
        for (let column = 0; column + 1 < columns; column++) {
          const p = row * columns + column
          if (speck[p]) continue
          let n = 0
          const put = (x: number, y: number) => {
            xs[n] = gridX(column) + x * gap
            ys[n++] = gridY(row) + y * gap
          }
          if (rightOf[p] >= 0) put(rightOf[p], 0)
          if (rightOf[p + columns] >= 0) put(rightOf[p + columns], 1)
          if (below[p] >= 0) put(0, below[p])
          if (below[p + 1] >= 0) put(1, below[p + 1])
          if (n === 2) mask.stroke(xs[0], ys[0], xs[1], ys[1], halfWidth)
          else if (n > 2) {
            let mx = 0
            let my = 0
            for (let k = 0; k < n; k++) {
              mx += xs[k] / n
              my += ys[k] / n
            }
            for (let k = 0; k < n; k++) mask.stroke(xs[k], ys[k], mx, my, halfWidth)
          }
        }
      }
      return [mask.coverage()]
    }
  },

  look: lineLook,
})

/**
 * Marks the grid cells whose line, followed from cell to cell, crosses fewer than `fewest` cells and ends inside the
 * grid.
 * @returns Uint8Array, columns × rows: 1 for a cell of such a speck.
 */
function specks(
  columns: number,
  rows: number,
  rightOf: Float32Array,
  below: Float32Array,
  fewest: number,
): Uint8Array {
  const out = new Uint8Array(columns * rows)
  const seen = new Uint8Array(columns * rows)
  const run: number[] = []
  const isCrossed = (p: number) =>
    rightOf[p] >= 0 || rightOf[p + columns] >= 0 || below[p] >= 0 || below[p + 1] >= 0
  for (let start = 0; start < (rows - 1) * columns; start++) {
    if (seen[start] || start % columns === columns - 1 || !isCrossed(start)) continue
    run.length = 0
    run.push(start)
    seen[start] = 1
    let leaves = false
    for (let at = 0; at < run.length; at++) {
      const p = run[at]
      const column = p % columns
      const visit = (next: number, inside: boolean) => {
        if (!inside) leaves = true
        else if (!seen[next]) {
          seen[next] = 1
          run.push(next)
        }
      }
      if (rightOf[p] >= 0) visit(p - columns, p >= columns)
      if (rightOf[p + columns] >= 0) visit(p + columns, p + columns < (rows - 1) * columns)
      if (below[p] >= 0) visit(p - 1, column > 0)
      if (below[p + 1] >= 0) visit(p + 1, column + 2 < columns)
    }
    if (!leaves && run.length < fewest) for (const p of run) out[p] = 1
  }
  return out
}
