import { inkStrokes } from '../lines/ink-strokes'
import type { HandEdit } from '../lines/hand-weights'
import { strokeLines, type Strokes } from '../lines/stroke-lines'
import type { ParamValues } from '../params'
import { decodeChannel } from '../picture/channel'
import { resizeBands, resizeWindow } from '../picture/resample'
import type { RgbaPicture } from '../picture/rgba-picture'
import { lineView } from './line-pass'
import type { Tile } from './tile'
import { namedChannels, type PassResult } from './pass-result'
import { passKind } from './registry'

const lookInput = ({ surfaces, lights, params, facts }: PassResult) => ({
  surfaces,
  lights,
  facts,
  rendered: params,
})

/** The last strokes of each drawing: looks and sizes are asked for again and again. */
const lastStrokes = new WeakMap<object, { readonly key: string; readonly strokes: Strokes }>()

/**
 * The lines of a pass, stroked as a look says and as they were changed by hand.
 * @returns null for a pass without lines.
 */
export function passStrokes(
  { kind, drawing, facts }: PassResult,
  look: ParamValues,
  edits: readonly HandEdit[] = [],
): Strokes | null {
  const { lines } = passKind(kind)
  if (!lines || !drawing) return null
  const { toLight } = facts
  const view = lineView(facts)
  const key = JSON.stringify([look, edits, toLight, view])
  const known = lastStrokes.get(drawing)
  if (known?.key === key) return known.strokes
  const context = { edits, toLight: Array.isArray(toLight) ? toLight : undefined, view }
  const strokes = strokeLines(drawing, lines.style(look), context)
  lastStrokes.set(drawing, { key, strokes })
  return strokes
}

/** Lays one straight-alpha picture over another, in place. */
function layOver(under: Float32Array, over: Float32Array): void {
  for (let i = 0; i < under.length; i += 4) {
    const own = over[i + 3]
    const rest = under[i + 3] * (1 - own)
    const alpha = own + rest
    if (alpha > 0) for (let c = i; c < i + 3; c++) under[c] = (over[c] * own + under[c] * rest) / alpha
    under[i + 3] = alpha
  }
}

/** Whether a pass with lines shows something beneath them. */
const hasFill = ({ kind }: PassResult, look: ParamValues): boolean =>
  passKind(kind).lines?.hasFill?.(look) ?? false

/** Whether a pass shows lines and nothing else. */
export const isAllLines = (result: PassResult, look: ParamValues): boolean =>
  passKind(result.kind).lines !== undefined && result.drawing !== undefined && !hasFill(result, look)

/** A size in pixels. */
interface Size {
  readonly width: number
  readonly height: number
}

/**
 * A rendered pass under a look, at any size: straight-alpha display RGBA. Lines are inked at that size, not resized.
 * @param edits what was done to its lines by hand.
 */
export function passPicture(
  result: PassResult,
  look: ParamValues,
  { width, height }: Size = result,
  edits: readonly HandEdit[] = [],
): RgbaPicture {
  const whole = { x: 0, y: 0, width, height }
  return { width, height, pixels: passWindow(result, look, { width, height }, whole, edits) }
}

/**
 * A window of {@link passPicture}: the same to the bit as that part of the whole.
 * @param size of the whole picture. @param window in its pixels, within it.
 * @returns straight-alpha display RGBA, 4·width·height of the window.
 */
export function passWindow(
  result: PassResult,
  look: ParamValues,
  size: Size,
  window: Tile,
  edits: readonly HandEdit[] = [],
): Float32Array {
  const strokes = passStrokes(result, look, edits)
  const inked = strokes && inkStrokes(strokes, window, size.height, size.width)
  if (inked && !hasFill(result, look)) return inked
  const rectOf = (rect: Tile) => channelsAtRect(result, rect, look, 1)
  const across = { pixels: result.width, origin: 0, length: size.width }
  const down = { pixels: result.height, origin: 0, length: size.height }
  const isAsRendered = size.width === result.width && size.height === result.height
  const pixels = isAsRendered ? inStrips(rectOf, window) : resizeWindow(rectOf, across, down, window)
  if (inked) layOver(pixels, inked)
  return pixels
}

/**
 * What the channels of one rectangle of a pass show under a look: straight-alpha display RGBA.
 * @param stride takes one pixel in so many, across and down.
 * @returns 4·⌈width / stride⌉·⌈height / stride⌉ of the rectangle.
 */
function channelsAtRect(result: PassResult, rect: Tile, look: ParamValues, stride: number): Float32Array {
  const pass = passKind(result.kind)
  const width = Math.ceil(rect.width / stride)
  const count = width * Math.ceil(rect.height / stride)
  const row = stride === 1 ? null : new Float32Array(rect.width)
  const planes = namedChannels(result).map((channel) => {
    const plane = new Float32Array(count)
    if (!row)
      for (let y = 0; y < rect.height; y++) {
        const from = (rect.y + y) * result.width + rect.x
        decodeChannel(channel, from, width, plane, y * width)
      }
    else
      for (let y = 0, at = 0; y < rect.height; y += stride, at += width) {
        decodeChannel(channel, (rect.y + y) * result.width + rect.x, rect.width, row)
        for (let x = 0; x < width; x++) plane[at + x] = row[x * stride]
      }
    return plane
  })
  const out = new Float32Array(4 * count)
  pass.look({ ...lookInput(result), count, planes }, look, out)
  return out
}

/**
 * One rectangle of a rendered pass under a look: straight-alpha display RGBA.
 * @param stride takes one pixel in so many, across and down, for a picture that is shown small; lines are inked small.
 * @returns 4·⌈width / stride⌉·⌈height / stride⌉ of the rectangle.
 */
export function lookAtRect(result: PassResult, rect: Tile, look: ParamValues, stride = 1): Float32Array {
  const out = channelsAtRect(result, rect, look, stride)
  const strokes = passStrokes(result, look)
  if (strokes) {
    const width = Math.ceil(rect.width / stride)
    const height = Math.ceil(rect.height / stride)
    const small = { x: rect.x / stride, y: rect.y / stride, width, height }
    layOver(out, inkStrokes(strokes, small, result.height / stride, result.width / stride))
  }
  return out
}

/** Rows whose channels are looked at together, so that a large picture is never there in all its planes. */
const STRIP_ROWS = 32

/** A rectangle, some rows at a time. */
function inStrips(rectOf: (rect: Tile) => Float32Array, { x, y, width, height }: Tile): Float32Array {
  const pixels = new Float32Array(4 * width * height)
  for (let row = 0; row < height; row += STRIP_ROWS)
    pixels.set(rectOf({ x, y: y + row, width, height: Math.min(STRIP_ROWS, height - row) }), 4 * width * row)
  return pixels
}

/** What the channels of a rectangle of a pass show under a look, at any size. */
function seenAt(result: PassResult, look: ParamValues, part: Tile, { width, height }: Size): RgbaPicture {
  const rectOf = (rect: Tile) =>
    channelsAtRect(result, { ...rect, x: part.x + rect.x, y: part.y + rect.y }, look, 1)
  if (width !== part.width || height !== part.height)
    return resizeBands(rectOf, part.width, part.height, width, height)
  return { width, height, pixels: inStrips(rectOf, { ...part, x: 0, y: 0 }) }
}

/** A rectangle of a rendered pass under a look, at any size; see {@link passPicture}. */
export function passPart(
  result: PassResult,
  look: ParamValues,
  part: Tile,
  { width, height }: Size,
  edits: readonly HandEdit[] = [],
): RgbaPicture {
  const [across, down] = [width / part.width, height / part.height]
  const strokes = passStrokes(result, look, edits)
  const rect = { x: part.x * across, y: part.y * down, width, height }
  const inked = strokes && inkStrokes(strokes, rect, result.height * down, result.width * across)
  if (inked && !hasFill(result, look)) return { width, height, pixels: inked }
  const picture = seenAt(result, look, part, { width, height })
  if (inked) layOver(picture.pixels, inked)
  return picture
}
