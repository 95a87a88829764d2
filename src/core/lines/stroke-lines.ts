import { GrowingFloats, GrowingUints } from '../geometry/growing-array'
import { parseHex } from '../math/colour'
import { hash32 } from '../math/sampling'
import { distinctPalette } from '../passes/distinct-colours'
import { drawnWeight, handWeights, type HandEdit } from './hand-weights'
import { kindNumber, LINE_KINDS } from './line-kinds'
import type { LineDrawing } from './line-drawing'
import type { LineStyle } from './line-style'
import type { LinePlaces, LineView } from './line-places'
import { StrokePath } from './stroke-path'

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
/** Lines of a cell that are not crowded yet: meshes are dense by nature. */
const WIRE_ROOM = 4
const WIRE = kindNumber('wire')
/** Bend, in 1 / picture height, at which a line has its full weight by bend. */
const FULL_BEND = 40
/** How long a dry stroke's streaks are. */
const STREAK = 0.011

/** What strokes follow besides their drawing and its style. */
export interface StrokeContext {
  /** What was done to the lines by hand. */
  readonly edits?: readonly HandEdit[]
  /** Direction to the light of the rig in camera space: right, up, towards the eye. Without it, the style's own. */
  readonly toLight?: readonly number[]
  /** From where the drawing was found. Without it what a hand does to lines belongs to places of the picture. */
  readonly view?: LineView | null
}

/**
 * Strokes every line of a drawing in a style, then what was drawn by hand. Deterministic: wobble and dryness belong to places
 * of the world and to parts, however lines happen to be cut.
 */
export function strokeLines(drawing: LineDrawing, style: LineStyle, context: StrokeContext = {}): Strokes {
  const { edits = [], view = null } = context
  const writer = new StrokeWriter()
  const crowd = style.bySpacing > 0 ? crowding(drawing, style) : null
  const [near, far] = style.byDepth === 0 ? [0, 0] : depthRange(drawing)
  const light = style.lightFrom === 'rig' && context.toLight ? context.toLight : lightDirection(style)
  const ink = parseHex(style.colour)
  const lit = parseHex(style.litColour)
  const partKeys = drawing.scene.map(({ key }) => key)
  const weightsOf = edits.length > 0 ? handWeights(edits, partKeys) : null
  const partColours = style.byPart ? coloursOfParts(drawing) : null
  const path = new StrokePath()
  let radii = new Float32Array(0)
  let colours = new Float32Array(0)
  // Looks that were stored before there was such a thing are whole.
  const drawn = (style.drawn as number | undefined) ?? 1
  const isStepped = needsSteps(style) || drawn < 1
  const isLit = style.byLight > 0 || style.twoTone
  for (let l = 0; l < drawing.count; l++) {
    const isHidden = drawing.hidden[l] > 0
    if (isHidden && (style.hidden === 'off' || drawing.hidden[l] > style.hiddenBehind)) continue
    const base =
      (style.weight / 2000) * style[LINE_KINDS[drawing.kinds[l]]] * (isHidden ? style.hiddenWeight : 1)
    if (base < THINNEST) continue
    const brushed = weightsOf?.(drawing.parts[l]) ?? weightsOf?.(drawing.otherParts[l]) ?? null
    path.load(drawing, l, brushed || isStepped ? STEP : Infinity)
    const closed = drawing.closed[l] === 1
    const room = drawing.kinds[l] === WIRE ? WIRE_ROOM : 1
    const own = hash32(drawing.parts[l])
    // Another hand draws the same lines otherwise.
    const seed = style.variation === 0 ? own : own ^ hash32(style.variation)
    const { count, length } = path
    if (style.wobble > 0 || style.dry > 0) path.place(drawing.aspect, view)
    if (radii.length < count) {
      radii = new Float32Array(2 * count)
      colours = new Float32Array(6 * count)
    }
    const colour = partColours?.get(drawing.parts[l]) ?? ink
    const bends = style.byCurvature > 0 ? path.bends(closed) : null
    const grown = drawn < 1 ? growth(path, closed, drawn) : null
    for (let i = 0; i < count; i++) {
      const along = path.lengths[i]
      let factor = path.strengths[i]
      if (far > near)
        factor *= 2 ** (1.2 * style.byDepth * (1 - (2 * (path.depths[i] - near)) / (far - near)))
      let tone = 0
      if (isLit) {
        const facing = Math.max(
          0,
          path.normals[3 * i] * light[0] +
            path.normals[3 * i + 1] * light[1] +
            path.normals[3 * i + 2] * light[2],
        )
        factor *= 1 - style.byLight * facing
        if (style.twoTone) tone = smoothStep(0.15, 0.55, facing)
      }
      for (let c = 0; c < 3; c++) colours[3 * i + c] = colour[c] + (lit[c] - colour[c]) * tone
      if (bends) factor *= 1 + style.byCurvature * (2 * Math.min(1, bends[i] / FULL_BEND) - 0.5)
      if (crowd)
        factor *= 1 / (1 + 2 * style.bySpacing * Math.max(0, crowd(path.xs[i], path.ys[i]) / room - 1))
      if (style.taper > 0 && !closed) {
        const reach = Math.min(style.taper / 1000, length / 2)
        const toEnd = Math.min(along, length - along)
        if (toEnd < reach) {
          const share = toEnd / reach
          factor *= style.taperTo + (1 - style.taperTo) * share * (2 - share)
        }
      }
      if (brushed) factor *= brushed(path.xs[i], path.ys[i])
      if (style.dry > 0) factor *= dryness(path.places, i, seed, style.dry)
      if (grown) factor *= grown(along)
      radii[i] = base * factor
    }
    if (style.wobble > 0) path.wobble(style.wobble / 1000, style.wobbleLength / 1000, seed)
    if (style.overshoot > 0 && !closed) path.overshoot(style.overshoot / 1000)
    const dash = isHidden && style.hidden === 'dashed' ? style.dash / 1000 : 0
    writer.add(path, radii, colours, dash, l)
  }
  edits.forEach((edit, i) => {
    if (edit.kind === 'line') writer.addDrawn(edit.path, edit.weight / 2000, ink, drawnWeight(edits, i))
  })
  return writer.finish(drawing.aspect)
}

/**
 * How much of a line is there at a length along it while it is being drawn: from its upper end on, of a closed one both ways from
 * its highest point. From picture to picture of something that turns, ends stay where they are while a line's order may not.
 */
function growth({ xs, ys, lengths, count, length }: StrokePath, closed: boolean, drawn: number) {
  let top = 0
  for (let i = 1; i < count; i++) if (ys[i] < ys[top] || (ys[i] === ys[top] && xs[i] < xs[top])) top = i
  const isFromEnd = ys[count - 1] < ys[0] || (ys[count - 1] === ys[0] && xs[count - 1] < xs[0])
  const from = closed ? lengths[top] : isFromEnd ? length : 0
  const reach = drawn * (closed ? length / 2 : length)
  return (along: number): number => {
    const straight = Math.abs(along - from)
    const far = closed ? Math.min(straight, length - straight) : straight
    return Math.min(1, Math.max(0, (reach - far) / STEP + 0.5))
  }
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

/** Width of a brush that runs dry: full on most of its way, thin in streaks, now and then nothing. */
function dryness(places: LinePlaces, i: number, seed: number, dry: number): number {
  places.noise(i, STREAK, seed ^ 0x51ed27)
  const long = places.found[0]
  places.noise(i, STREAK / 2.7, seed ^ 0x2f0a)
  const n = 0.6 * long + 0.4 * places.found[0]
  return Math.max(0, Math.min(1, 1 - dry * (0.25 + 1.9 * Math.max(0, n - 0.05 + 0.35 * (dry - 0.5)))))
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

  /**
   * A line drawn by hand: x, y, x, y …
   * @param weight what was brushed over it since.
   */
  addDrawn(
    path: readonly number[],
    radius: number,
    colour: readonly number[],
    weight: ((x: number, y: number) => number) | null,
  ): void {
    const put = (x: number, y: number) => {
      const own = radius * (weight?.(x, y) ?? 1)
      if (own < THINNEST) return this.end(DRAWN)
      this.points.push2(x, y)
      this.radii.push(own)
      this.colours.push3(colour[0], colour[1], colour[2])
    }
    put(path[0], path[1])
    for (let i = 2; i + 1 < path.length; i += 2) {
      const [x, y] = [path[i - 2], path[i - 1]]
      const [dx, dy] = [path[i] - x, path[i + 1] - y]
      const pieces = weight ? Math.max(1, Math.ceil(Math.hypot(dx, dy) / STEP)) : 1
      for (let k = 1; k <= pieces; k++) put(x + (dx * k) / pieces, y + (dy * k) / pieces)
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
