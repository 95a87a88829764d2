import { GrowingFloats, GrowingUints } from '../geometry/growing-array'
import { parseHex } from '../math/colour'
import { hash32 } from '../math/sampling'
import { distinctPalette } from '../passes/distinct-colours'
import { handWeights, type HandEdit } from './hand-weights'
import { LINE_KINDS } from './line-kinds'
import type { LineDrawing } from './line-drawing'
import type { LineStyle } from './line-style'

/**
 * Strokes: lines with a width at every point. Points of stroke s: starts[s] … starts[s + 1] − 1; lengths are shares of
 * the picture's height. Between two points a stroke is the hull of the two discs.
 */
export interface Strokes {
  readonly aspect: number
  readonly count: number
  /** Uint32Array, S + 1. */
  readonly starts: Uint32Array
  /** Float32Array, 2·P. */
  readonly points: Float32Array
  /** Float32Array, P: half the width. */
  readonly radii: Float32Array
  /** Float32Array, 3·P: display red, green, blue. */
  readonly colours: Float32Array
  /** Uint32Array, S: the drawing's line each comes from; {@link DRAWN} where it was drawn by hand. */
  readonly lines: Uint32Array
}

/** Stands for the line of a stroke that was drawn by hand. */
export const DRAWN = 0xffffffff

/** Farthest apart two points of a stroke are where its width or place changes along it. */
const STEP = 0.004
/** Thinner than this a stroke is not there: it ends. */
const THINNEST = 2e-5
/** Side of the cells in which it is told how crowded lines are. */
const CROWD_CELL = 0.008
/** Bend, in 1 / picture height, at which a line has its full weight by bend. */
const FULL_BEND = 40
/** A turn at one point from which on it is a corner, radians. */
const CORNER = 0.55
/** How long a dry stroke's streaks are. */
const STREAK = 0.011

/** What was done to the lines of a drawing by hand, and the keys of its scene's parts. */
export interface ByHand {
  readonly edits: readonly HandEdit[]
  readonly partKeys: readonly string[]
}

/**
 * Strokes every line of a drawing in a style, then what was drawn by hand. Deterministic: wobble and dryness follow the
 * line, not the picture.
 */
export function strokeLines(drawing: LineDrawing, style: LineStyle, byHand?: ByHand): Strokes {
  const writer = new StrokeWriter()
  const crowd = style.bySpacing > 0 ? crowding(drawing, style) : null
  const [near, far] = depthRange(drawing)
  const light = lightDirection(style)
  const ink = parseHex(style.colour)
  const lit = parseHex(style.litColour)
  const weightsOf = byHand && handWeights(byHand.edits, byHand.partKeys)
  const partColours = style.byPart ? coloursOfParts(drawing) : null
  for (let l = 0; l < drawing.count; l++) {
    const isHidden = drawing.hidden[l] > 0
    if (isHidden && style.hidden === 'off') continue
    const base =
      (style.weight / 2000) * style[LINE_KINDS[drawing.kinds[l]]] * (isHidden ? style.hiddenWeight : 1)
    if (base < THINNEST) continue
    const brushed = weightsOf?.(drawing.parts[l]) ?? weightsOf?.(drawing.otherParts[l]) ?? null
    const path = new StrokePath(drawing, l, brushed || needsSteps(style) ? STEP : Infinity)
    const closed = drawing.closed[l] === 1
    const seed = hash32(drawing.kinds[l] * 8191 + drawing.parts[l] * 131 + drawing.otherParts[l])
    const { count, length } = path
    const radii = new Float32Array(count)
    const tones = new Float32Array(count)
    const bends = style.byCurvature > 0 ? path.bends(closed) : null
    for (let i = 0; i < count; i++) {
      const along = path.lengths[i]
      let factor = path.strengths[i]
      const nearness = far > near ? 1 - (2 * (path.depths[i] - near)) / (far - near) : 0
      factor *= 2 ** (1.2 * style.byDepth * nearness)
      const facing = Math.max(
        0,
        path.normals[3 * i] * light[0] +
          path.normals[3 * i + 1] * light[1] +
          path.normals[3 * i + 2] * light[2],
      )
      factor *= 1 - style.byLight * facing
      tones[i] = style.twoTone ? smoothStep(0.15, 0.55, facing) : 0
      if (bends) factor *= 1 + style.byCurvature * (2 * Math.min(1, bends[i] / FULL_BEND) - 0.5)
      if (crowd) factor *= 1 / (1 + 2 * style.bySpacing * Math.max(0, crowd(path.xs[i], path.ys[i]) - 1))
      if (style.taper > 0 && !closed) {
        const reach = Math.min(style.taper / 1000, length / 2)
        const toEnd = Math.min(along, length - along)
        if (toEnd < reach) {
          const share = toEnd / reach
          factor *= style.taperTo + (1 - style.taperTo) * share * (2 - share)
        }
      }
      if (brushed) factor *= brushed(path.xs[i], path.ys[i])
      if (style.dry > 0) factor *= dryness(along, seed, style.dry)
      radii[i] = base * factor
    }
    if (style.wobble > 0) path.wobble(style.wobble / 1000, style.wobbleLength / 1000, seed, closed)
    if (style.overshoot > 0 && !closed) path.overshoot(style.overshoot / 1000)
    const dash = isHidden && style.hidden === 'dashed' ? style.dash / 1000 : 0
    const colour = partColours?.get(drawing.parts[l]) ?? ink
    const colours = new Float32Array(3 * count)
    for (let i = 0; i < count; i++)
      for (let c = 0; c < 3; c++) colours[3 * i + c] = colour[c] + (lit[c] - colour[c]) * tones[i]
    writer.add(path, radii, colours, dash, l)
  }
  for (const edit of byHand?.edits ?? [])
    if (edit.kind === 'line') writer.addDrawn(edit.path, edit.weight / 2000, ink)
  return writer.finish(drawing.aspect)
}

const needsSteps = (style: LineStyle): boolean =>
  style.byLight > 0 ||
  style.byCurvature > 0 ||
  style.bySpacing > 0 ||
  style.taper > 0 ||
  style.wobble > 0 ||
  style.dry > 0 ||
  style.twoTone

const smoothStep = (from: number, to: number, x: number): number => {
  const t = Math.min(1, Math.max(0, (x - from) / (to - from)))
  return t * t * (3 - 2 * t)
}

/** Where the light of a style comes from, in camera space: right, up, towards the eye. */
function lightDirection({ lightAzimuth, lightHeight }: LineStyle): readonly [number, number, number] {
  const azimuth = (lightAzimuth * Math.PI) / 180
  const height = (lightHeight * Math.PI) / 180
  return [Math.sin(azimuth) * Math.cos(height), Math.sin(height), Math.cos(azimuth) * Math.cos(height)]
}

/** Depths of what is seen, without the outermost hundredths. */
function depthRange({ depths, starts, hidden, count }: LineDrawing): [number, number] {
  const seen: number[] = []
  for (let l = 0; l < count; l++)
    if (hidden[l] === 0) for (let p = starts[l]; p < starts[l + 1]; p++) seen.push(depths[p])
  if (seen.length === 0) return [0, 0]
  const sorted = Float64Array.from(seen).sort()
  return [sorted[Math.floor(0.02 * (sorted.length - 1))], sorted[Math.ceil(0.98 * (sorted.length - 1))]]
}

function coloursOfParts({ parts, count }: LineDrawing): Map<number, readonly number[]> {
  const all = [...new Set(parts.subarray(0, count))].sort((a, b) => a - b)
  const colours = distinctPalette(all.length)
  return new Map(all.map((part, i) => [part, colours[i % colours.length]]))
}

/** Number of lines that run through each cell of the picture, between cells, as a function of the place. */
function crowding(drawing: LineDrawing, style: LineStyle): (x: number, y: number) => number {
  const columns = Math.ceil(drawing.aspect / CROWD_CELL) + 1
  const rows = Math.ceil(1 / CROWD_CELL) + 1
  const lengths = new Float32Array(columns * rows)
  const { starts, points, hidden, kinds } = drawing
  for (let l = 0; l < drawing.count; l++) {
    if (hidden[l] > 0 || style[LINE_KINDS[kinds[l]]] === 0) continue
    for (let p = starts[l]; p + 1 < starts[l + 1]; p++) {
      const [x, y] = [points[2 * p], points[2 * p + 1]]
      const [dx, dy] = [points[2 * p + 2] - x, points[2 * p + 3] - y]
      const length = Math.hypot(dx, dy)
      const pieces = Math.max(1, Math.ceil(length / (CROWD_CELL / 2)))
      for (let k = 0; k < pieces; k++) {
        const column = Math.floor((x + (dx * (k + 0.5)) / pieces) / CROWD_CELL)
        const row = Math.floor((y + (dy * (k + 0.5)) / pieces) / CROWD_CELL)
        if (column >= 0 && row >= 0 && column < columns && row < rows)
          lengths[row * columns + column] += length / pieces / CROWD_CELL
      }
    }
  }
  return (x, y) => {
    const cx = Math.min(columns - 2, Math.max(0, x / CROWD_CELL - 0.5))
    const cy = Math.min(rows - 2, Math.max(0, y / CROWD_CELL - 0.5))
    const at = Math.floor(cy) * columns + Math.floor(cx)
    const fx = cx - Math.floor(cx)
    const fy = cy - Math.floor(cy)
    const top = lengths[at] * (1 - fx) + lengths[at + 1] * fx
    const low = lengths[at + columns] * (1 - fx) + lengths[at + columns + 1] * fx
    return top * (1 - fy) + low * fy
  }
}

/** Smooth noise along a line, −1…1: between random values at whole numbers. */
function noise(at: number, seed: number): number {
  const i = Math.floor(at)
  const f = at - i
  const value = (k: number) => hash32((k ^ seed) + Math.imul(k, 0x9e3779b1)) / 2147483648 - 1
  return value(i) + (value(i + 1) - value(i)) * f * f * (3 - 2 * f)
}

/** Width of a brush that runs dry: full on most of its way, thin in streaks, now and then nothing. */
function dryness(along: number, seed: number, dry: number): number {
  const n = 0.6 * noise(along / STREAK, seed ^ 0x51ed27) + 0.4 * noise((along / STREAK) * 2.7, seed ^ 0x2f0a)
  return Math.max(0, Math.min(1, 1 - dry * (0.25 + 1.9 * Math.max(0, n - 0.05 + 0.35 * (dry - 0.5)))))
}

/** One line with points close enough for what changes along it. */
class StrokePath {
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

class StrokeWriter {
  private readonly starts = new GrowingUints()
  private readonly points = new GrowingFloats()
  private readonly radii = new GrowingFloats()
  private readonly colours = new GrowingFloats()
  private readonly lines = new GrowingUints()
  private begun = 0

  constructor() {
    this.starts.push(0)
  }

  /**
   * Writes a path as one stroke, or as several where it is nothing between.
   * @param colours Float32Array, 3 a point.
   * @param dash length of dashes and of what is between them; 0 for none.
   */
  add(path: StrokePath, radii: Float32Array, colours: Float32Array, dash: number, line: number): void {
    const { xs, ys, lengths, count } = path
    if (dash > 0) {
      // Whole dashes, one at each end.
      const pieces = 2 * Math.max(0, Math.round((path.length / dash - 1) / 2)) + 1
      const own = path.length / pieces
      let i = 0
      for (let k = 0; k < pieces; k += 2) {
        const [from, to] = [k * own, (k + 1) * own]
        while (i + 1 < count - 1 && lengths[i + 1] <= from) i++
        this.between(path, radii, colours, i, from)
        while (i + 1 < count - 1 && lengths[i + 1] < to) {
          i++
          this.point(xs[i], ys[i], radii[i], colours, i)
        }
        this.between(path, radii, colours, i, to)
        this.end(line)
      }
      return
    }
    for (let i = 0; i < count; i++) {
      if (radii[i] < THINNEST) this.end(line)
      else this.point(xs[i], ys[i], radii[i], colours, i)
    }
    this.end(line)
  }

  /** A point at a length along the line, between point j and the next. */
  private between(
    { xs, ys, lengths }: StrokePath,
    radii: Float32Array,
    colours: Float32Array,
    j: number,
    along: number,
  ): void {
    const span = lengths[j + 1] - lengths[j]
    const share = span > 0 ? Math.min(1, Math.max(0, (along - lengths[j]) / span)) : 0
    const mix = (values: Float32Array) => values[j] + (values[j + 1] - values[j]) * share
    this.point(mix(xs), mix(ys), mix(radii), colours, j)
  }

  private point(x: number, y: number, radius: number, colours: Float32Array, i: number): void {
    this.points.push2(x, y)
    this.radii.push(radius)
    this.colours.push3(colours[3 * i], colours[3 * i + 1], colours[3 * i + 2])
  }

  /** A line drawn by hand: x, y, x, y … */
  addDrawn(path: readonly number[], radius: number, colour: readonly number[]): void {
    for (let i = 0; i + 1 < path.length; i += 2) {
      this.points.push2(path[i], path[i + 1])
      this.radii.push(radius)
      this.colours.push3(colour[0], colour[1], colour[2])
    }
    this.end(DRAWN)
  }

  /** Ends a stroke, if it has begun. */
  private end(line: number): void {
    const now = this.radii.length
    if (now === this.begun) return
    this.begun = now
    this.starts.push(now)
    this.lines.push(line)
  }

  finish(aspect: number): Strokes {
    return {
      aspect,
      count: this.lines.length,
      starts: this.starts.toArray() as Uint32Array,
      points: this.points.toArray() as Float32Array,
      radii: this.radii.toArray() as Float32Array,
      colours: this.colours.toArray() as Float32Array,
      lines: this.lines.toArray() as Uint32Array,
    }
  }
}
