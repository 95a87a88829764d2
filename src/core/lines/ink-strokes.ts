import type { Tile } from '../passes/pass-kind'
import type { Strokes } from './stroke-lines'
import { halfPlaneCoverage } from './half-plane-coverage'

/**
 * Inks strokes into a rectangle of the picture. Coverage is worked out from the borders of each piece, not sampled; the
 * pieces of one stroke make one shape, and strokes lie over each other as paths of a drawing file do.
 * @param rect in pixels of a picture that is `height` pixels high.
 * @returns straight-alpha display RGBA, 4·width·height of the rectangle.
 */
export function inkStrokes(strokes: Strokes, rect: Tile, height: number): Float32Array {
  const pixels = rect.width * rect.height
  const rgba = new Float32Array(4 * pixels)
  const cover = new Float32Array(pixels)
  const red = new Float32Array(pixels)
  const green = new Float32Array(pixels)
  const blue = new Float32Array(pixels)
  const touched = new Uint32Array(pixels)
  const { starts, points, radii, colours } = strokes
  for (let s = 0; s < strokes.count; s++) {
    let count = 0
    const put = (p: number, value: number, r: number, g: number, b: number) => {
      if (value <= cover[p]) return
      if (cover[p] === 0) touched[count++] = p
      cover[p] = value
      red[p] = r
      green[p] = g
      blue[p] = b
    }
    const first = starts[s]
    const last = starts[s + 1] - 1
    for (let i = first; i <= Math.max(first, last - 1); i++) {
      const j = Math.min(last, i + 1)
      const x0 = points[2 * i] * height - rect.x
      const y0 = points[2 * i + 1] * height - rect.y
      const x1 = points[2 * j] * height - rect.x
      const y1 = points[2 * j + 1] * height - rect.y
      const r0 = radii[i] * height
      const r1 = radii[j] * height
      const most = Math.max(r0, r1) + 1
      const left = Math.max(0, Math.floor(Math.min(x0, x1) - most))
      const right = Math.min(rect.width - 1, Math.ceil(Math.max(x0, x1) + most))
      const top = Math.max(0, Math.floor(Math.min(y0, y1) - most))
      const bottom = Math.min(rect.height - 1, Math.ceil(Math.max(y0, y1) + most))
      if (left > right || top > bottom) continue
      const dx = x1 - x0
      const dy = y1 - y0
      const squared = dx * dx + dy * dy
      const length = Math.sqrt(squared)
      const inverse = squared > 0 ? 1 / squared : 0
      const nx = length > 0 ? -dy / length : 0
      const ny = length > 0 ? dx / length : 1
      const [cr, cg, cb] = [colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]]
      const [dr, dg, db] = [colours[3 * j] - cr, colours[3 * j + 1] - cg, colours[3 * j + 2] - cb]
      for (let y = top; y <= bottom; y++) {
        const py = y + 0.5 - y0
        // The columns of this row that the piece can reach.
        let from = left
        let to = right
        if (Math.abs(dy) > 1e-9 && squared > 4 * most * most) {
          const slope = dx / dy
          const low = x0 + slope * (py - most)
          const high = x0 + slope * (py + most)
          const wide = most * Math.sqrt(1 + slope * slope)
          from = Math.max(left, Math.floor(Math.min(low, high) - wide))
          to = Math.min(right, Math.ceil(Math.max(low, high) + wide))
        }
        for (let x = from; x <= to; x++) {
          const px = x + 0.5 - x0
          let along = (px * dx + py * dy) * inverse
          along = along < 0 ? 0 : along > 1 ? 1 : along
          const radius = r0 + (r1 - r0) * along
          let value: number
          if (along > 0 && along < 1) {
            // Between two parallel borders.
            const away = px * nx + py * ny
            value = halfPlaneCoverage(radius - away, nx, ny) + halfPlaneCoverage(radius + away, nx, ny) - 1
          } else {
            // Round ends: the border as its tangent, and no more than the disc's own breadth.
            const ax = px - along * dx
            const ay = py - along * dy
            const away = Math.sqrt(ax * ax + ay * ay)
            const ux = away > 1e-6 ? ax / away : 0
            const uy = away > 1e-6 ? ay / away : 1
            value = halfPlaneCoverage(radius - away, ux, uy) + halfPlaneCoverage(radius + away, ux, uy) - 1
            if (radius < 0.5) value *= Math.min(1, 2 * radius + 0.2)
          }
          if (value <= 0) continue
          put(y * rect.width + x, value, cr + dr * along, cg + dg * along, cb + db * along)
        }
      }
    }
    for (let k = 0; k < count; k++) {
      const p = touched[k]
      const own = cover[p]
      const under = rgba[4 * p + 3] * (1 - own)
      const alpha = own + under
      rgba[4 * p] = (red[p] * own + rgba[4 * p] * under) / alpha
      rgba[4 * p + 1] = (green[p] * own + rgba[4 * p + 1] * under) / alpha
      rgba[4 * p + 2] = (blue[p] * own + rgba[4 * p + 2] * under) / alpha
      rgba[4 * p + 3] = alpha
      cover[p] = 0
    }
  }
  return rgba
}
