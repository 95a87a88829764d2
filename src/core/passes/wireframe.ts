import { z } from 'zod'
import { CoverageMask } from '../lines/coverage-mask'
import { halfWidthPx, lineLookSchema, weightParam } from '../lines/line-look'
import { parseHex } from '../math/colour'
import { colourParam, numberParam, toggleParam } from '../params'
import { projectPoint } from '../scene/camera'
import { SEEN_BY_CAMERA } from '../scene/part-role'
import type { TileContext } from './pass-kind'
import { definePass } from './pass-kind'
import { CLEARANCE } from './surface-point'

/** Pieces into which an edge is cut to ask whether it is seen, in pixels. */
const PIECE_PX = 1.5
/** Side of the grid by which edges are sorted, in pixels. */
const CELL_PX = 32
/** Side of the blocks in which it is told how dense lines are, in pixels. */
const BLOCK_PX = 8
/** Factors of the weight that lines are drawn with: between them the weight is live. */
const WEIGHTS = [0.5, 1, 2, 4] as const

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
  lookSchema: lineLookSchema.extend({
    heavier: numberParam({
      label: 'Weight',
      unit: '×',
      min: 0.5,
      max: 4,
      step: 0.05,
      default: 1,
      logarithmic: true,
    }),
    fade: numberParam({ label: 'Fade where dense', min: 0, max: 1, step: 0.01, default: 0.6 }),
    fill: numberParam({ label: 'Fill', min: 0, max: 1, step: 0.01, default: 0 }),
    fillColour: colourParam({ label: 'Fill colour', default: '#f4efe6' }),
    bySides: toggleParam({ label: 'Fill by sides', default: false }),
    triangles: colourParam({ label: 'Triangles', default: '#d77a4a' }),
    quads: colourParam({ label: 'Quads', default: '#e9e2d4' }),
    more: colourParam({ label: 'More sides', default: '#6d8fb0' }),
  }),
  channels: [
    ...['Lhalf', 'L', 'L2', 'L4'].map((name) => ({ name, format: 'unorm8' as const })),
    { name: 'K', format: 'half' },
    { name: 'S3', format: 'unorm8' },
    { name: 'S4', format: 'unorm8' },
    { name: 'S5', format: 'unorm8' },
    { name: 'F', format: 'half' },
  ],
  efforts: {
    draft: { samples: 4, rays: 1 },
    good: { samples: 8, rays: 1 },
    final: { samples: 16, rays: 2 },
  },
  layer: { mode: 'multiply', opacity: 0.5 },

  createRenderer(context, params) {
    const { scene, kernel, camera, frame, effort, shown } = context
    const { parts } = context.seen
    const baseWidth = halfWidthPx(params.weight, frame.height)
    const halfWidth = baseWidth * WEIGHTS[WEIGHTS.length - 1]
    const { edgeEnds, edgeNormals, edgeOpen, edgeParts } = scene
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
    const reach = Math.max(halfWidth + 1, BLOCK_PX)
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
      if (parts?.[edgeParts[e]] === 0 || shown?.[edgeParts[e]] === 0) continue
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
      return !kernel.isBlocked(
        x,
        y,
        z,
        dx * inverse,
        dy * inverse,
        dz * inverse,
        away,
        camera.parallel ? 1e30 : distance,
        SEEN_BY_CAMERA,
        parts,
      )
    }
    /** Space share of a picture share, for perspective. */
    const spaceShare = (t: number, depthA: number, depthB: number): number =>
      camera.parallel ? t : (t * depthA) / (depthB + t * (depthA - depthB))

    const visited = new Uint32Array(total)
    let visit = 0

    return (tileContext) => {
      const { tile, cancelled } = tileContext
      const masks = WEIGHTS.map(() => new CoverageMask(tile.x, tile.y, tile.width, tile.height))
      // Length of line in blocks of the picture, with a block more on each side than the tile needs.
      const blockX = Math.floor(tile.x / BLOCK_PX) - 1
      const blockY = Math.floor(tile.y / BLOCK_PX) - 1
      const blockColumns = Math.ceil((tile.x + tile.width) / BLOCK_PX) - blockX + 1
      const blockRows = Math.ceil((tile.y + tile.height) / BLOCK_PX) - blockY + 1
      const lengths = new Float64Array(blockColumns * blockRows)
      const addLength = (x: number, y: number, length: number) => {
        const column = Math.floor(x / BLOCK_PX) - blockX
        const row = Math.floor(y / BLOCK_PX) - blockY
        if (column >= 0 && row >= 0 && column < blockColumns && row < blockRows)
          lengths[row * blockColumns + column] += length
      }
      const box = {
        left: blockX * BLOCK_PX,
        top: blockY * BLOCK_PX,
        right: (blockX + blockColumns) * BLOCK_PX,
        bottom: (blockY + blockRows) * BLOCK_PX,
      }
      visit++
      const c0 = Math.max(0, Math.floor(box.left / CELL_PX))
      const c1 = Math.min(cellColumns - 1, Math.floor(box.right / CELL_PX))
      const r0 = Math.max(0, Math.floor(box.top / CELL_PX))
      const r1 = Math.min(cellRows - 1, Math.floor(box.bottom / CELL_PX))
      for (let cell = r0 * cellColumns; cell <= r1 * cellColumns; cell += cellColumns) {
        if (cancelled()) break
        for (let n = cellStarts[cell + c0]; n < cellStarts[cell + c1 + 1]; n++) {
          const e = cellEdges[n]
          if (visited[e] === visit) continue
          visited[e] = visit
          drawEdge(e, box, masks, addLength)
        }
      }
      const pixels = tile.width * tile.height
      const density = new Float32Array(pixels)
      for (let p = 0; p < pixels; p++) {
        // Between the middles of four blocks.
        const x = (tile.x + (p % tile.width) + 0.5) / BLOCK_PX - blockX - 0.5
        const y = (tile.y + Math.floor(p / tile.width) + 0.5) / BLOCK_PX - blockY - 0.5
        const at = Math.floor(y) * blockColumns + Math.floor(x)
        const fx = x - Math.floor(x)
        const fy = y - Math.floor(y)
        const top = lengths[at] * (1 - fx) + lengths[at + 1] * fx
        const low = lengths[at + blockColumns] * (1 - fx) + lengths[at + blockColumns + 1] * fx
        density[p] = ((top * (1 - fy) + low * fy) * 2 * baseWidth) / (BLOCK_PX * BLOCK_PX)
      }
      return [...masks.map((mask) => mask.coverage()), density, ...sides(tileContext)]
    }

    /** How much of each pixel polygons of three, four and more sides cover, and all together. */
    function sides({ tile, hits }: TileContext): Float32Array[] {
      const pixels = tile.width * tile.height
      const planes = [0, 1, 2, 3].map(() => new Float32Array(pixels))
      for (let p = 0; p < pixels; p++) {
        const part = 1 / (hits.starts[p + 1] - hits.starts[p])
        for (let i = hits.starts[p]; i < hits.starts[p + 1]; i++) {
          const slot = hits.slots[i]
          if (slot < 0 || shown?.[scene.tree.tags[slot] & 0xffffff] === 0) continue
          planes[Math.min(5, scene.triangleSides[scene.tree.ids[slot]]) - 3][p] += part
          planes[3][p] += part
        }
      }
      return planes
    }

    function drawEdge(
      e: number,
      box: { left: number; top: number; right: number; bottom: number },
      masks: readonly CoverageMask[],
      addLength: (x: number, y: number, length: number) => void,
    ): void {
      const x0 = ends[4 * e]
      const y0 = ends[4 * e + 1]
      const dx = ends[4 * e + 2] - x0
      const dy = ends[4 * e + 3] - y0
      const length = Math.hypot(dx, dy)
      const pieces = Math.max(1, Math.ceil(length / piecePx))
      const from = shares[2 * e]
      const span = shares[2 * e + 1] - from
      projectEnd(e, from, a)
      projectEnd(e, from + span, b)
      const depthA = a[2]
      const depthB = b[2]
      // Only the pieces whose stroke can touch the tile, or that count for how dense lines are about it.
      const range = clipShare(
        x0,
        y0,
        dx,
        dy,
        box.left - reach,
        box.top - reach,
        box.right + reach,
        box.bottom + reach,
      )
      if (!range) return
      const first = Math.max(0, Math.floor(range[0] * pieces))
      const last = Math.min(pieces - 1, Math.floor(range[1] * pieces))
      let runStart = -1
      for (let k = first; k <= last + 1; k++) {
        const middle = (k + 0.5) / pieces
        const visible =
          k <= last && (params.seeThrough || seen(e, from + span * spaceShare(middle, depthA, depthB)))
        if (visible) addLength(x0 + dx * middle, y0 + dy * middle, length / pieces)
        if (visible && runStart < 0) runStart = k
        if (!visible && runStart >= 0) {
          const t0 = runStart / pieces
          const t1 = k / pieces
          WEIGHTS.forEach((weight, w) =>
            masks[w].stroke(x0 + dx * t0, y0 + dy * t0, x0 + dx * t1, y0 + dy * t1, baseWidth * weight),
          )
          runStart = -1
        }
      }
    }
  },

  look({ count, planes }, params, out) {
    const [r, g, b] = parseHex(params.colour)
    const fills = [params.triangles, params.quads, params.more].map(parseHex)
    const plain = parseHex(params.fillColour)
    // Weights lie a factor of two apart: between two of them, a share of each.
    const octave = Math.min(3, Math.max(0, Math.log2(params.heavier / WEIGHTS[0])))
    const low = Math.min(WEIGHTS.length - 2, Math.floor(octave))
    const [thin, thick] = [planes[low], planes[low + 1]]
    const [density, s3, s4, s5, alpha] = planes.slice(WEIGHTS.length)
    for (let i = 0; i < count; i++) {
      // Where lines would cover everything they say nothing any more: they step back.
      const crowded = Math.min(1, Math.max(0, density[i] * params.heavier - 0.35) / 0.65)
      const line =
        (thin[i] + (thick[i] - thin[i]) * (octave - low)) *
        params.strength *
        (1 - params.fade * crowded * crowded * (3 - 2 * crowded))
      const under = alpha[i] * params.fill
      const all = Math.max(1e-6, s3[i] + s4[i] + s5[i])
      const total = line + under * (1 - line)
      for (let c = 0; c < 3; c++) {
        const fill = params.bySides
          ? (s3[i] * fills[0][c] + s4[i] * fills[1][c] + s5[i] * fills[2][c]) / all
          : plain[c]
        const ink = c === 0 ? r : c === 1 ? g : b
        out[4 * i + c] = total > 0 ? (line * ink + under * (1 - line) * fill) / total : ink
      }
      out[4 * i + 3] = total
    }
  },
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
