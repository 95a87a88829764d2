import type { LineDrawing } from './line-drawing'
import { LinePlaces, type LineView } from './line-places'

/** A turn at one point from which on it is a corner, radians. */
const CORNER = 0.55

/** Lines with points close enough for what changes along them: one at a time, in arrays that are kept for the next. */
export class StrokePath {
  /** Points of the line at work; arrays go on beyond it. */
  count = 0
  xs = new Float32Array(0)
  ys = new Float32Array(0)
  depths = new Float32Array(0)
  normals = new Float32Array(0)
  strengths = new Float32Array(0)
  /** Length of the line up to each point. */
  lengths = new Float32Array(0)
  private bendsNow = new Float32Array(0)
  private turns = new Float32Array(0)
  readonly places = new LinePlaces()

  /** Takes up a line of a drawing, with a point at least every `step`. */
  load({ starts, points, depths, normals, strengths }: LineDrawing, line: number, step: number): void {
    const first = starts[line]
    const last = starts[line + 1] - 1
    this.reserve(last - first + 1)
    let i = 0
    let along = 0
    for (let p = first; p < last; p++) {
      const [x, y] = [points[2 * p], points[2 * p + 1]]
      const [dx, dy] = [points[2 * p + 2] - x, points[2 * p + 3] - y]
      const span = Math.sqrt(dx * dx + dy * dy)
      const pieces = span > step ? Math.ceil(span / step) : 1
      this.reserve(i + pieces + 1)
      for (let k = 0; k < pieces; k++, i++) {
        const share = k / pieces
        this.xs[i] = x + dx * share
        this.ys[i] = y + dy * share
        this.depths[i] = depths[p] + (depths[p + 1] - depths[p]) * share
        this.strengths[i] = strengths[p] + (strengths[p + 1] - strengths[p]) * share
        for (let axis = 0; axis < 3; axis++) {
          const from = normals[3 * p + axis]
          this.normals[3 * i + axis] = from + (normals[3 * p + 3 + axis] - from) * share
        }
        this.lengths[i] = along + span * share
      }
      along += span
    }
    this.xs[i] = points[2 * last]
    this.ys[i] = points[2 * last + 1]
    this.depths[i] = depths[last]
    this.strengths[i] = strengths[last]
    for (let axis = 0; axis < 3; axis++) this.normals[3 * i + axis] = normals[3 * last + axis]
    this.lengths[i] = along
    this.count = i + 1
  }

  /** Makes room for that many points. */
  private reserve(count: number): void {
    if (count <= this.xs.length) return
    const room = Math.max(256, 2 * count)
    const grown = (old: Float32Array, width = 1) => {
      const next = new Float32Array(width * room)
      next.set(old)
      return next
    }
    this.xs = grown(this.xs)
    this.ys = grown(this.ys)
    this.depths = grown(this.depths)
    this.normals = grown(this.normals, 3)
    this.strengths = grown(this.strengths)
    this.lengths = grown(this.lengths)
    this.bendsNow = new Float32Array(room)
    this.turns = new Float32Array(room)
  }

  get length(): number {
    return this.lengths[this.count - 1]
  }

  /** How much the line bends at each point, 1 / picture height, evened out over a few points; holds until the next line. */
  bends(closed: boolean): Float32Array {
    const n = this.count
    const { xs, ys, turns: raw, bendsNow: out } = this
    raw[0] = raw[n - 1] = 0
    for (let i = 1; i + 1 < n; i++) {
      const ax = xs[i] - xs[i - 1]
      const ay = ys[i] - ys[i - 1]
      const bx = xs[i + 1] - xs[i]
      const by = ys[i + 1] - ys[i]
      const sine = ax * by - ay * bx
      raw[i] = 0
      // Straight on, as most points between two of the drawing's are.
      if (sine === 0) continue
      const turn = Math.abs(Math.atan2(sine, ax * bx + ay * by))
      // A corner is no bend: a brush does not swell there.
      if (turn < CORNER)
        raw[i] = (2 * turn) / Math.max(1e-5, Math.sqrt(ax * ax + ay * ay) + Math.sqrt(bx * bx + by * by))
    }
    if (closed && n > 2) raw[0] = raw[n - 1] = (raw[1] + raw[n - 2]) / 2
    const reach = 4
    for (let i = 0; i < n; i++) {
      let sum = 0
      let weights = 0
      for (let k = Math.max(0, i - reach); k <= Math.min(n - 1, i + reach); k++) {
        const weight = reach + 1 - Math.abs(k - i)
        sum += raw[k] * weight
        weights += weight
      }
      out[i] = sum / weights
    }
    return out
  }

  /** Works out where the line lies in the world, for what belongs to its {@link places}. */
  place(aspect: number, view: LineView | null): void {
    this.places.load(this, aspect, view)
  }

  /** Moves points by smooth noise of their places: lines that meet still do. @param amplitude the farthest, wavelength: picture heights. */
  wobble(amplitude: number, wavelength: number, seed: number): void {
    const { xs, ys, places } = this
    for (let i = 0; i < this.count; i++) {
      places.noise(i, wavelength, seed)
      const [x, y] = places.found
      const by = amplitude / Math.max(1, Math.hypot(x, y))
      xs[i] += by * x
      ys[i] += by * y
    }
  }

  /** Lengthens both ends straight on. */
  overshoot(by: number): void {
    const n = this.count
    for (const [end, before] of [
      [0, 1],
      [n - 1, n - 2],
    ]) {
      const [dx, dy] = [this.xs[end] - this.xs[before], this.ys[end] - this.ys[before]]
      const length = Math.hypot(dx, dy)
      if (length === 0) continue
      this.xs[end] += (dx / length) * by
      this.ys[end] += (dy / length) * by
    }
  }
}
