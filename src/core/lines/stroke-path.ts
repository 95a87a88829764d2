import { hash32 } from '../math/sampling'
import type { LineDrawing } from './line-drawing'

/** A turn at one point from which on it is a corner, radians. */
const CORNER = 0.55

/** Smooth noise along a line, −1…1: between random values at whole numbers. */
export function noise(at: number, seed: number): number {
  const i = Math.floor(at)
  const f = at - i
  const value = (k: number) => hash32((k ^ seed) + Math.imul(k, 0x9e3779b1)) / 2147483648 - 1
  return value(i) + (value(i + 1) - value(i)) * f * f * (3 - 2 * f)
}

/** One line with points close enough for what changes along it. */
export class StrokePath {
  readonly count: number
  readonly xs: Float32Array
  readonly ys: Float32Array
  readonly depths: Float32Array
  readonly normals: Float32Array
  readonly strengths: Float32Array
  /** Length of the line up to each point. */
  readonly lengths: Float32Array

  constructor({ starts, points, depths, normals, strengths }: LineDrawing, line: number, step: number) {
    const first = starts[line]
    const last = starts[line + 1] - 1
    const piecesOf = (p: number): number =>
      Math.max(
        1,
        Math.ceil(
          Math.hypot(points[2 * p + 2] - points[2 * p], points[2 * p + 3] - points[2 * p + 1]) / step,
        ),
      )
    let count = 1
    for (let p = first; p < last; p++) count += piecesOf(p)
    this.count = count
    this.xs = new Float32Array(count)
    this.ys = new Float32Array(count)
    this.depths = new Float32Array(count)
    this.normals = new Float32Array(3 * count)
    this.strengths = new Float32Array(count)
    this.lengths = new Float32Array(count)
    let i = 0
    let along = 0
    const put = (p: number, q: number, share: number, length: number) => {
      const mix = (values: Float32Array, at: number, other: number) =>
        values[at] + (values[other] - values[at]) * share
      this.xs[i] = mix(points, 2 * p, 2 * q)
      this.ys[i] = mix(points, 2 * p + 1, 2 * q + 1)
      this.depths[i] = mix(depths, p, q)
      this.strengths[i] = mix(strengths, p, q)
      for (let axis = 0; axis < 3; axis++)
        this.normals[3 * i + axis] = mix(normals, 3 * p + axis, 3 * q + axis)
      this.lengths[i++] = length
    }
    put(first, first, 0, 0)
    for (let p = first; p < last; p++) {
      const span = Math.hypot(points[2 * p + 2] - points[2 * p], points[2 * p + 3] - points[2 * p + 1])
      const pieces = piecesOf(p)
      for (let k = 1; k <= pieces; k++) put(p, p + 1, k / pieces, along + (span * k) / pieces)
      along += span
    }
  }

  get length(): number {
    return this.lengths[this.lengths.length - 1]
  }

  /** How much the line bends at each point, 1 / picture height, evened out over a few points. */
  bends(closed: boolean): Float32Array {
    const n = this.count
    const raw = new Float32Array(n)
    for (let i = 1; i + 1 < n; i++) {
      const [ax, ay] = [this.xs[i] - this.xs[i - 1], this.ys[i] - this.ys[i - 1]]
      const [bx, by] = [this.xs[i + 1] - this.xs[i], this.ys[i + 1] - this.ys[i]]
      const turn = Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by))
      // A corner is no bend: a brush does not swell there.
      if (turn < CORNER) raw[i] = (2 * turn) / Math.max(1e-5, Math.hypot(ax, ay) + Math.hypot(bx, by))
    }
    if (closed && n > 2) raw[0] = raw[n - 1] = (raw[1] + raw[n - 2]) / 2
    const out = new Float32Array(n)
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

  /** Moves points sideways by smooth noise; ends of open lines least, so that corners still meet. */
  wobble(amplitude: number, wavelength: number, seed: number, closed: boolean): void {
    const n = this.count
    const shift = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      const along = this.lengths[i]
      const toEnd = Math.min(along, this.length - along)
      const fade = Math.min(1, toEnd / (wavelength / 2))
      shift[i] = amplitude * noise(along / wavelength, seed) * (closed ? fade : 0.3 + 0.7 * fade)
    }
    const dx = new Float64Array(n)
    const dy = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      const a = Math.max(0, i - 1)
      const b = Math.min(n - 1, i + 1)
      const [tx, ty] = [this.xs[b] - this.xs[a], this.ys[b] - this.ys[a]]
      const length = Math.hypot(tx, ty) || 1
      dx[i] = (-ty / length) * shift[i]
      dy[i] = (tx / length) * shift[i]
    }
    for (let i = 0; i < n; i++) {
      this.xs[i] += dx[i]
      this.ys[i] += dy[i]
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
