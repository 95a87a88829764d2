import { z } from 'zod'
import { CoverageMask } from '../lines/coverage-mask'
import { halfWidthPx, lineLook, lineLookSchema, weightParam } from '../lines/line-look'
import { toggleParam } from '../params'
import { projectPoint } from '../scene/camera'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import { definePass } from './pass-kind'
import { CLEARANCE } from './surface-point'

/** Pieces into which an edge is cut to ask whether it is seen, in pixels. */
const PIECE_PX = 1.5
/** Side of the grid by which edges are sorted, in pixels. */
const CELL_PX = 32

/**
 * The polygon edges as the modeller drew them (no triangle diagonals), hidden ones removed. Each edge is cut into
 * pieces; a ray to the middle of a piece decides whether it is seen; runs of seen pieces are drawn as one stroke.
 * A piece's place depends only on its edge and the camera, so tiles agree along their seams.
 */
export const wireframe = definePass({
  kind: 'wireframe',
  label: 'Wireframe',
  summary: 'The polygon edges as they were modelled, hidden lines removed.',
  renderSchema: z.object({
    weight: weightParam(0.9),
    seeThrough: toggleParam({ label: 'See through', default: false }),
  }),
  lookSchema: lineLookSchema,
  channels: [{ name: 'L', format: 'unorm8' }],
  efforts: { draft: { samples: 1, rays: 1 }, final: { samples: 1, rays: 2 } },
  layer: { mode: 'multiply', opacity: 0.5 },

  createRenderer(context, params) {
    const { scene, kernel, camera, frame, effort } = context
    const halfWidth = halfWidthPx(params.weight, frame.height)
    const { edgeEnds, edgeNormals, edgeOpen } = scene
    const total = edgeOpen.length
    const piecePx = PIECE_PX / Math.max(1, effort.rays)
    const nearest = scene.figureDiagonal * 1e-4

    // 1. Project every edge once and sort into cells of the picture: counting, then filling.
    const cellColumns = Math.ceil(frame.width / CELL_PX)
    const cellRows = Math.ceil(frame.height / CELL_PX)
    const ends = new Float32Array(4 * total)
    /** Shares of each edge between which it is before the eye. */
    const shares = new Float32Array(2 * total)
    const usable = new Uint8Array(total)
    const a = new Float64Array(3)
    const b = new Float64Array(3)
    const reach = halfWidth + 1
    /** Projects the point at share `t` of an edge. */
    const projectEnd = (e: number, t: number, out: Float64Array) => {
      const i = 6 * e
      projectPoint(
        camera,
        frame,
        edgeEnds[i] + (edgeEnds[i + 3] - edgeEnds[i]) * t,
        edgeEnds[i + 1] + (edgeEnds[i + 4] - edgeEnds[i + 1]) * t,
        edgeEnds[i + 2] + (edgeEnds[i + 5] - edgeEnds[i + 2]) * t,
        out,
      )
    }
    const cellsOf = (e: number, each: (cell: number) => void) => {
      const x0 = Math.max(0, Math.floor((Math.min(ends[4 * e], ends[4 * e + 2]) - reach) / CELL_PX))
      const x1 = Math.min(
        cellColumns - 1,
        Math.floor((Math.max(ends[4 * e], ends[4 * e + 2]) + reach) / CELL_PX),
      )
      const y0 = Math.max(0, Math.floor((Math.min(ends[4 * e + 1], ends[4 * e + 3]) - reach) / CELL_PX))
      const y1 = Math.min(
        cellRows - 1,
        Math.floor((Math.max(ends[4 * e + 1], ends[4 * e + 3]) + reach) / CELL_PX),
      )
      for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) each(y * cellColumns + x)
    }
    /** Which faces look at the camera decides early for closed parts: an edge between two backs is hidden. */
    const facesAway = (e: number, side: number): boolean => {
      const i = 6 * e + 3 * side
      const nx = edgeNormals[i]
      const ny = edgeNormals[i + 1]
      const nz = edgeNormals[i + 2]
      const { back, eye } = camera
      const toward = camera.parallel
        ? nx * back[0] + ny * back[1] + nz * back[2]
        : nx * (eye[0] - edgeEnds[6 * e]) +
          ny * (eye[1] - edgeEnds[6 * e + 1]) +
          nz * (eye[2] - edgeEnds[6 * e + 2])
      return toward <= 0
    }
    for (let e = 0; e < total; e++) {
      if (!params.seeThrough && !edgeOpen[e] && facesAway(e, 0) && facesAway(e, 1)) continue
      projectEnd(e, 0, a)
      projectEnd(e, 1, b)
      shares[2 * e + 1] = 1
      if (!camera.parallel && (a[2] < nearest || b[2] < nearest)) {
        if (a[2] < nearest && b[2] < nearest) continue
        // One end is behind the eye: keep the share before it.
        const cut = (nearest - a[2]) / (b[2] - a[2])
        shares[2 * e + (a[2] < nearest ? 0 : 1)] = cut
        projectEnd(e, shares[2 * e], a)
        projectEnd(e, shares[2 * e + 1], b)
      }
      if (Math.max(a[0], b[0]) < -reach || Math.min(a[0], b[0]) > frame.width + reach) continue
      if (Math.max(a[1], b[1]) < -reach || Math.min(a[1], b[1]) > frame.height + reach) continue
      ends[4 * e] = a[0]
      ends[4 * e + 1] = a[1]
      ends[4 * e + 2] = b[0]
      ends[4 * e + 3] = b[1]
      usable[e] = 1
    }
    const cellStarts = new Uint32Array(cellColumns * cellRows + 1)
    for (let e = 0; e < total; e++) if (usable[e]) cellsOf(e, (cell) => cellStarts[cell + 1]++)
    for (let c = 0; c < cellStarts.length - 1; c++) cellStarts[c + 1] += cellStarts[c]
    const cellEdges = new Uint32Array(cellStarts[cellStarts.length - 1])
    const fill = cellStarts.slice()
    for (let e = 0; e < total; e++) if (usable[e]) cellsOf(e, (cell) => (cellEdges[fill[cell]++] = e))

    /** Whether the point at share `t` of an edge is seen. `t` runs in space, not on the picture. */
    const seen = (e: number, t: number): boolean => {
      const i = 6 * e
      const x = edgeEnds[i] + (edgeEnds[i + 3] - edgeEnds[i]) * t
      const y = edgeEnds[i + 1] + (edgeEnds[i + 4] - edgeEnds[i + 1]) * t
      const z = edgeEnds[i + 2] + (edgeEnds[i + 5] - edgeEnds[i + 2]) * t
      const { back, eye } = camera
      let dx: number
      let dy: number
      let dz: number
      if (camera.parallel) {
        dx = back[0]
        dy = back[1]
        dz = back[2]
      } else {
        dx = eye[0] - x
        dy = eye[1] - y
        dz = eye[2] - z
      }
      const distance = Math.sqrt(dx * dx + dy * dy + dz * dz)
      const inverse = 1 / distance
      const away =
        4 * CLEARANCE * (scene.figureDiagonal + Math.max(Math.abs(x), Math.abs(y), Math.abs(z))) +
        distance * 2e-5
      return !kernel.blocked(
        x,
        y,
        z,
        dx * inverse,
        dy * inverse,
        dz * inverse,
        away,
        camera.parallel ? 1e30 : distance,
        SEEN_BY_CAMERA,
      )
    }
    /** Space share of a picture share, for perspective. */
    const spaceShare = (t: number, depthA: number, depthB: number): number =>
      camera.parallel ? t : (t * depthA) / (depthB + t * (depthA - depthB))

    const visited = new Uint32Array(total)
    let visit = 0

    return ({ tile, cancelled }) => {
      const mask = new CoverageMask(tile.x, tile.y, tile.width, tile.height)
      visit++
      const c0 = Math.floor(tile.x / CELL_PX)
      const c1 = Math.min(cellColumns - 1, Math.floor((tile.x + tile.width - 1) / CELL_PX))
      const r0 = Math.floor(tile.y / CELL_PX)
      const r1 = Math.min(cellRows - 1, Math.floor((tile.y + tile.height - 1) / CELL_PX))
      for (let cell = r0 * cellColumns; cell <= r1 * cellColumns; cell += cellColumns) {
        if (cancelled()) break
        for (let n = cellStarts[cell + c0]; n < cellStarts[cell + c1 + 1]; n++) {
          const e = cellEdges[n]
          if (visited[e] === visit) continue
          visited[e] = visit
          drawEdge(e, tile.x, tile.y, tile.x + tile.width, tile.y + tile.height, mask)
        }
      }
      return [mask.coverage()]
    }

    function drawEdge(
      e: number,
      left: number,
      top: number,
      right: number,
      bottom: number,
      mask: CoverageMask,
    ): void {
      const x0 = ends[4 * e]
      const y0 = ends[4 * e + 1]
      const dx = ends[4 * e + 2] - x0
      const dy = ends[4 * e + 3] - y0
      if (params.seeThrough) {
        mask.stroke(x0, y0, x0 + dx, y0 + dy, halfWidth)
        return
      }
      const pieces = Math.max(1, Math.ceil(Math.hypot(dx, dy) / piecePx))
      const from = shares[2 * e]
      const span = shares[2 * e + 1] - from
      projectEnd(e, from, a)
      projectEnd(e, from + span, b)
      const depthA = a[2]
      const depthB = b[2]
      // Only the pieces whose stroke can touch the tile: clip the edge to the tile grown by the stroke.
      const range = clipShare(x0, y0, dx, dy, left - reach, top - reach, right + reach, bottom + reach)
      if (!range) return
      const first = Math.max(0, Math.floor(range[0] * pieces))
      const last = Math.min(pieces - 1, Math.floor(range[1] * pieces))
      let runStart = -1
      for (let k = first; k <= last + 1; k++) {
        const visible = k <= last && seen(e, from + span * spaceShare((k + 0.5) / pieces, depthA, depthB))
        if (visible && runStart < 0) runStart = k
        if (!visible && runStart >= 0) {
          const t0 = runStart / pieces
          const t1 = k / pieces
          mask.stroke(x0 + dx * t0, y0 + dy * t0, x0 + dx * t1, y0 + dy * t1, halfWidth)
          runStart = -1
        }
      }
    }
  },

  look: lineLook,
})

/** The shares between which a segment is inside a box (Liang & Barsky 1984), or null. */
function clipShare(
  x: number,
  y: number,
  dx: number,
  dy: number,
  left: number,
  top: number,
  right: number,
  bottom: number,
): [number, number] | null {
  let from = 0
  let to = 1
  for (const [p, q] of [
    [-dx, x - left],
    [dx, right - x],
    [-dy, y - top],
    [dy, bottom - y],
  ]) {
    if (p === 0) {
      if (q < 0) return null
      continue
    }
    const share = q / p
    if (p < 0) from = Math.max(from, share)
    else to = Math.min(to, share)
    if (from > to) return null
  }
  return [from, to]
}
