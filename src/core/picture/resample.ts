import type { Tile } from '../passes/tile'
import type { RgbaPicture } from './rgba-picture'
import { withScratch } from './scratch-kernel'

/** Where a source of so many pixels lies along one axis of a target: from `origin`, `length` pixels long. */
export interface Laid {
  readonly pixels: number
  readonly origin: number
  readonly length: number
}
/** A source that covers a target from end to end. */
const covering = (pixels: number, length: number): Laid => ({ pixels, origin: 0, length })

export interface FilterTable {
  /** For each target place, the first source place, and the weights from there on. */
  readonly starts: Int32Array
  readonly weights: Float32Array
  readonly taps: number
  /** The source places that are read: from `first` to before `end`. */
  readonly first: number
  readonly end: number
}

/** A triangle filter as wide as the step, for the target places from `from` on. */
export function filterTable({ pixels, origin, length }: Laid, from: number, count: number): FilterTable {
  const step = pixels / length
  const radius = Math.max(1, step)
  const taps = Math.ceil(radius * 2) + 1
  const starts = new Int32Array(count)
  const weights = new Float32Array(count * taps)
  for (let i = 0; i < count; i++) {
    const centre = (from + i + 0.5 - origin) * step - 0.5
    const start = Math.ceil(centre - radius)
    starts[i] = start
    let sum = 0
    for (let k = 0; k < taps; k++) {
      const weight = Math.max(0, 1 - Math.abs(start + k - centre) / radius)
      weights[i * taps + k] = weight
      sum += weight
    }
    for (let k = 0; k < taps; k++) weights[i * taps + k] /= sum
  }
  const within = (place: number) => Math.min(pixels - 1, Math.max(0, place))
  return { starts, weights, taps, first: within(starts[0]), end: within(starts[count - 1] + taps - 1) + 1 }
}

/** A filter whose places all lie within the source: what it would read beyond the border counts for the border. */
interface Inner {
  readonly starts: Int32Array
  readonly weights: Float32Array
  readonly taps: number
}

/** @param pixels of the source. @returns starts from the first place that is read. */
function innerFilter(table: FilterTable, pixels: number): Inner {
  const count = table.starts.length
  const taps = Math.min(table.taps, table.end - table.first)
  const starts = new Int32Array(count)
  const weights = new Float32Array(count * taps)
  for (let i = 0; i < count; i++) {
    const start = Math.min(Math.max(table.starts[i], table.first), table.end - taps)
    starts[i] = start - table.first
    for (let k = 0; k < table.taps; k++) {
      const place = Math.min(pixels - 1, Math.max(0, table.starts[i] + k))
      const weight = table.weights[i * table.taps + k]
      if (weight !== 0) weights[i * taps + place - start] += weight
    }
  }
  return { starts, weights, taps }
}

/** Rows of a source that are asked for at a time. */
const BAND_ROWS = 32
/** What is made of a picture at a time, between its filters and after them. Bytes each. */
const MOST_MIDDLE = 8 * 2 ** 20

/**
 * A window of a resized picture of interleaved planes, by a separable triangle filter; places beyond the border repeat it.
 * Every value depends on its place alone, so that windows fit together to the bit.
 * @param rectOf the numbers of a rectangle of the source, straight where it has alpha: read before the next is asked for.
 * @param window in pixels of the target.
 * @param planes 4 are RGBA: colours are weighted by alpha.
 * @returns planes·width·height of the window; straight.
 */
function resizePlanes(
  rectOf: (rect: Tile) => Float32Array,
  across: Laid,
  down: Laid,
  planes: 1 | 4,
  window: Tile,
): Float32Array {
  const { width, height } = window
  const horizontal = filterTable(across, window.x, width)
  const vertical = filterTable(down, window.y, height)
  const [inRow, inColumn] = [innerFilter(horizontal, across.pixels), innerFilter(vertical, down.pixels)]
  const { first } = horizontal
  const length = horizontal.end - first
  // Rows are multiples of four numbers.
  const row = planes === 4 ? 4 * width : Math.ceil(width / 4) * 4
  const out = new Float32Array(planes * width * height)
  for (let done = 0; done < height;) {
    // As many rows of the target as there is room for what they are made of.
    const from = inColumn.starts[done]
    let count = 1
    const rowsTo = (n: number): number => inColumn.starts[done + n - 1] + inColumn.taps - from
    while (done + count < height && 4 * row * Math.max(rowsTo(count + 1), count + 1) <= MOST_MIDDLE) count++
    const rows = rowsTo(count)
    const sizes = [
      4 * planes * length * BAND_ROWS,
      4 * row * rows,
      4 * row * count,
      inRow.starts.byteLength,
      inRow.weights.byteLength,
      4 * count,
      4 * count * inColumn.taps,
    ]
    const ofRows = inColumn.weights.subarray(done * inColumn.taps, (done + count) * inColumn.taps)
    withScratch(sizes, (room, [band, middle, made, starts, weights, rowStarts, rowWeights]) => {
      const { kernel } = room
      room.ints(starts, width).set(inRow.starts)
      room.floats(weights, inRow.weights.length).set(inRow.weights)
      const ownStarts = room.ints(rowStarts, count)
      for (let i = 0; i < count; i++) ownStarts[i] = inColumn.starts[done + i] - from
      room.floats(rowWeights, ofRows.length).set(ofRows)
      for (let top = 0; top < rows; top += BAND_ROWS) {
        const high = Math.min(BAND_ROWS, rows - top)
        const numbers = planes * length * high
        const rect = rectOf({ x: first, y: vertical.first + from + top, width: length, height: high })
        room.floats(band, numbers).set(rect.length === numbers ? rect : rect.subarray(0, numbers))
        const target = middle + 4 * row * top
        if (planes === 4) {
          kernel.premultiplyRows(band, length * high)
          kernel.resizeAcross4(band, length, target, width, high, starts, weights, inRow.taps)
        } else kernel.resizeAcross1(band, length, target, width, row, high, starts, weights, inRow.taps)
      }
      kernel.resizeDown(middle, made, row, count, rowStarts, rowWeights, inColumn.taps)
      if (planes === 4) kernel.straightenRows(made, width * count)
      const rowsMade = room.floats(made, row * count)
      if (row === planes * width) out.set(rowsMade, done * row)
      else
        for (let y = 0; y < count; y++)
          out.set(rowsMade.subarray(y * row, y * row + width), (done + y) * width)
    })
    done += count
  }
  return out
}

/** A window of a resized plane of numbers. @param rectOf numbers of a rectangle of the source. */
export const resizePlaneWindow = (
  rectOf: (rect: Tile) => Float32Array,
  across: Laid,
  down: Laid,
  window: Tile,
): Float32Array => resizePlanes(rectOf, across, down, 1, window)

/** Resizes a plane of numbers. */
export function resizePlane(
  plane: Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): Float32Array {
  if (width === toWidth && height === toHeight) return plane
  const whole = { x: 0, y: 0, width: toWidth, height: toHeight }
  const rectOf = (rect: Tile) => cut(plane, width, 1, rect)
  return resizePlanes(rectOf, covering(width, toWidth), covering(height, toHeight), 1, whole)
}

/** A rectangle of interleaved numbers, `planes` a pixel. */
function cut(source: Float32Array, width: number, planes: number, rect: Tile): Float32Array {
  if (rect.x === 0 && rect.width === width)
    return source.subarray(planes * width * rect.y, planes * width * (rect.y + rect.height))
  const out = new Float32Array(planes * rect.width * rect.height)
  for (let y = 0; y < rect.height; y++) {
    const from = planes * ((rect.y + y) * width + rect.x)
    out.set(source.subarray(from, from + planes * rect.width), planes * y * rect.width)
  }
  return out
}

/** A rectangle of a picture. Straight-alpha RGBA; perhaps a view of the picture itself. */
export const cutPicture = ({ width, pixels }: RgbaPicture, rect: Tile): Float32Array =>
  cut(pixels, width, 4, rect)

/**
 * A window of a picture at another size, made of one that is never there as a whole; colours are weighted by alpha, so that
 * transparent pixels never bleed in.
 * @param rectOf straight-alpha RGBA of a rectangle of the source.
 * @returns straight-alpha RGBA, 4·width·height of the window.
 */
export const resizeWindow = (
  rectOf: (rect: Tile) => Float32Array,
  across: Laid,
  down: Laid,
  window: Tile,
): Float32Array => resizePlanes(rectOf, across, down, 4, window)

/** A whole picture at another size; see {@link resizeWindow}. */
export function resizeBands(
  rectOf: (rect: Tile) => Float32Array,
  width: number,
  height: number,
  toWidth: number,
  toHeight: number,
): RgbaPicture {
  const whole = { x: 0, y: 0, width: toWidth, height: toHeight }
  const pixels = resizeWindow(rectOf, covering(width, toWidth), covering(height, toHeight), whole)
  return { width: toWidth, height: toHeight, pixels }
}

/** Resizes a picture; colours are weighted by alpha, so transparent pixels never bleed in. */
export function resizePicture(picture: RgbaPicture, toWidth: number, toHeight: number): RgbaPicture {
  const { width, height } = picture
  if (width === toWidth && height === toHeight) return picture
  return resizeBands((rect) => cutPicture(picture, rect), width, height, toWidth, toHeight)
}
