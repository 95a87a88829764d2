import { z } from 'zod'
import { inkStrokes } from '../../lines/ink-strokes'
import { DRAWN, type Strokes } from '../../lines/stroke-lines'
import { parseHex } from '../../math/colour'
import type { Tile } from '../../passes/tile'
import { layType, type TypeLayout } from '../../type/lay-type'
import { pathCoverage } from '../../type/path-coverage'
import type { FontFile } from '../../type/shaper'
import { typeContours, type Contours, type TypeFrame } from '../../type/type-outlines'
import { typeStyleSchema, type TypeStyle } from '../../type/type-style'
import type { RenderSize, SheetResources } from '../sheet-resources'
import { defineContent } from './content-kind'

const place = () => z.number().min(-8).max(9)
const vector = () => z.tuple([z.number(), z.number(), z.number()])
const point = () => z.tuple([place(), place()])

/** The most characters of a block, and places of a way that it runs along. */
export const MOST_TYPE_LENGTH = 8000
export const MOST_WAY_POINTS = 32

const typeShape = {
  ...typeStyleSchema.shape,
  text: z.string().max(MOST_TYPE_LENGTH),
  fontId: z.string(),
  /** Places along the axes of a variable font, by tag. */
  axes: z.record(z.string().regex(/^[\x20-\x7e]{4}$/), z.number()).default({}),
  /** Distances of pairs of characters that were set by hand, in ‰ of an em. */
  pairs: z
    .array(z.object({ pair: z.string().min(2).max(8), by: z.number().min(-1000).max(1000) }))
    .max(400)
    .default([]),
  /** Its frame, in shares of the sheet: left, top, width, height. */
  box: z.tuple([place(), place(), z.number().min(0.001).max(16), z.number().min(0.001).max(16)]),
  /** Clockwise, about the middle of its frame. */
  turnDeg: z.number().min(-360).max(360).default(0),
  /** Stretched between these places of the sheet instead, from the upper left corner clockwise. */
  corners: z.tuple([point(), point(), point(), point()]).optional(),
  /**
   * It lies on a surface of the shot, as wide as so many world units: its corners follow from that wherever it is painted.
   */
  plane: z
    .object({ at: vector(), normal: vector(), width: z.number().positive(), turnDeg: z.number() })
    .optional(),
  /** The style that it was set in; what differs from it was changed by hand. */
  styleId: z.string().optional(),
  /** Its first line runs along these places of the sheet instead. */
  way: z.array(point()).min(2).max(MOST_WAY_POINTS).optional(),
}
export type TypeBlock = z.infer<z.ZodObject<typeof typeShape>>

/** A block of type, shaped and set by its font. */
export const typeContent = defineContent({
  kind: 'type',
  version: 1,
  label: 'Type',
  summary: 'A block of type: letters as outlines, sharp at any size.',
  schema: typeStyleSchema,
  shape: typeShape,
  uses: ({ fontId }) => [fontId],
  paint(content, { window, view, sheet, resources }) {
    const set = setType(content, sheet, resources)
    if (!set) return null
    const scale = view.width / sheet.width
    const { contours, outline } = contoursAt(content, set, scale)
    return paintType(content, set, contours, outline, window, scale)
  },
})

/** A block as it is set: what of it does not depend on how large it is seen. */
export interface SetType {
  readonly layout: TypeLayout
  readonly frame: TypeFrame
  readonly files: readonly FontFile[]
  readonly sheet: RenderSize
}

const known = new WeakMap<TypeBlock, SetType>()

/** Sets a block for a sheet of some size; null where its font is not there. */
export function setType(
  block: TypeBlock,
  sheet: RenderSize,
  resources: Pick<SheetResources, 'font'>,
): SetType | null {
  const files = resources.font(block.fontId)
  if (!files) return null
  const held = known.get(block)
  if (held?.files === files && held.sheet.width === sheet.width && held.sheet.height === sheet.height)
    return held
  const frame = typeFrame(block, sheet)
  // Along a way it is one line, however long.
  const measure = frame.path ? { ...frame, width: null } : frame
  const layout = layType(block, block, measure, files)
  const made = { layout, frame, files, sheet: { width: sheet.width, height: sheet.height } }
  known.set(block, made)
  return made
}

/** A block's frame in pixels of its sheet. */
export function typeFrame(
  { box, turnDeg, corners, way }: Pick<TypeBlock, 'box' | 'turnDeg' | 'corners' | 'way'>,
  { width, height }: RenderSize,
): TypeFrame {
  const at = ([u, v]: readonly [number, number]) => [u * width, v * height] as const
  return {
    x: box[0] * width,
    y: box[1] * height,
    width: box[2] * width,
    height: box[3] * height,
    turnDeg,
    corners: corners?.map(at) ?? null,
    path: way?.map(at) ?? null,
  }
}

interface Drawn {
  readonly scale: number
  readonly contours: Contours
  readonly outline: Outlines | null
}
interface Outlines {
  /** How far it reaches to either side of the letters' edges, in pixels of the view. */
  readonly strokes: (radiusPx: number) => Strokes
}
const drawn = new WeakMap<SetType, Drawn[]>()
/** Scales of which the outlines are kept: the proof, its drafts, a card. */
const KEPT_SCALES = 5

function contoursAt(block: TypeBlock, set: SetType, scale: number): Drawn {
  let held = drawn.get(set)
  if (!held) drawn.set(set, (held = []))
  const found = held.find((own) => own.scale === scale)
  if (found) return found
  const contours = typeContours(set.layout, set.frame, block, scale)
  const hasEdge = block.outline > 0 || block.inset > 0
  const made = { scale, contours, outline: hasEdge ? edgesOf(contours) : null }
  held.unshift(made)
  held.length = Math.min(held.length, KEPT_SCALES)
  return made
}

/** The edges of letters as strokes: lengths in pixels of the view, whose height is told as 1. */
function edgesOf({ points, starts }: Contours): Outlines {
  const count = starts.length - 1
  const total = points.length / 2 + count
  const closed = new Float32Array(2 * total)
  const ends = new Uint32Array(count + 1)
  let at = 0
  for (let c = 0; c < count; c++) {
    for (let i = starts[c]; i <= starts[c + 1]; i++, at++) {
      const from = i === starts[c + 1] ? starts[c] : i
      closed[2 * at] = points[2 * from]
      closed[2 * at + 1] = points[2 * from + 1]
    }
    ends[c + 1] = at
  }
  const made = new Map<number, Strokes>()
  return {
    strokes: (radiusPx) => {
      const held = made.get(radiusPx)
      if (held) return held
      const strokes = {
        aspect: 1,
        count,
        starts: ends,
        points: closed,
        radii: new Float32Array(total).fill(radiusPx),
        colours: new Float32Array(3 * total),
        lines: new Uint32Array(count).fill(DRAWN),
      }
      made.set(radiusPx, strokes)
      return strokes
    },
  }
}

/** How much of each pixel lies so near to the letters' edges. */
function nearEdge(outline: Outlines, radiusPx: number, window: Tile): Float32Array {
  const inked = inkStrokes(outline.strokes(radiusPx), window, 1, 1)
  return Float32Array.from({ length: window.width * window.height }, (_, i) => inked[4 * i + 3])
}

function paintType(
  block: TypeBlock,
  set: SetType,
  contours: Contours,
  outline: Outlines | null,
  window: Tile,
  scale: number,
): Float32Array | null {
  const filled = pathCoverage(contours, window)
  if (!filled && (!outline || block.outlineAt === 'inside' || block.outline === 0)) return null
  const count = window.width * window.height
  const edge =
    outline && block.outline > 0
      ? nearEdge(outline, (block.outlineAt === 'only' ? 0.5 : 1) * block.outline * scale, window)
      : null
  const rule =
    outline && block.inset > 0 && filled ? ruleInside(outline, block.inset * scale, filled, window) : null
  const colourAt = fillColour(block, set, window, scale)
  const line = parseHex(block.outlineColour)
  const out = new Float32Array(4 * count)
  const rgb: [number, number, number] = [0, 0, 0]
  for (let i = 0, at = 0; i < count; i++, at += 4) {
    const inside = filled?.[i] ?? 0
    const near = edge?.[i] ?? 0
    const ruled = rule?.[i] ?? 0
    if (inside === 0 && near === 0) continue
    colourAt(i, rgb)
    // How much of the pixel is letter and how much is line; a line inside is a part of the letter.
    let [letter, lined] = [inside, 0]
    if (block.outlineAt === 'only' && edge) [letter, lined] = [0, near]
    else if (block.outlineAt === 'inside' && edge)
      [letter, lined] = [inside - Math.min(inside, near), Math.min(inside, near)]
    else if (edge) lined = Math.max(0, Math.min(1 - inside, near))
    const cut = Math.min(letter, ruled)
    letter -= cut
    lined += cut
    const alpha = letter + lined
    if (alpha <= 0) continue
    for (let c = 0; c < 3; c++) out[at + c] = (rgb[c] * letter + line[c] * lined) / alpha
    out[at + 3] = Math.min(1, alpha)
  }
  return out
}

/** A line within the letters, so far from their edge and a third as wide. */
function ruleInside(outline: Outlines, insetPx: number, filled: Float32Array, window: Tile): Float32Array {
  const outer = nearEdge(outline, insetPx, window)
  const inner = nearEdge(outline, insetPx * 1.35, window)
  return filled.map((inside, i) => Math.min(inside, Math.max(0, inner[i] - outer[i])))
}

/** What colour a letter has at a pixel of a window. */
function fillColour(
  block: Pick<TypeStyle, 'fill' | 'colour' | 'stops' | 'fillDeg'>,
  { frame }: SetType,
  window: Tile,
  scale: number,
): (i: number, rgb: [number, number, number]) => void {
  if (block.fill === 'even') {
    const even = parseHex(block.colour)
    return (_, rgb) => void ([rgb[0], rgb[1], rgb[2]] = even)
  }
  const stops = block.stops.map(([at, hex]) => ({ at, rgb: parseHex(hex) }))
  const angle = ((block.fillDeg + frame.turnDeg) * Math.PI) / 180
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  const half = (Math.abs(frame.width * dx) + Math.abs(frame.height * dy)) / 2
  const [midX, midY] = [frame.x + frame.width / 2, frame.y + frame.height / 2]
  return (i, rgb) => {
    const x = (window.x + (i % window.width) + 0.5) / scale - midX
    const y = (window.y + Math.floor(i / window.width) + 0.5) / scale - midY
    const t =
      block.fill === 'radial'
        ? Math.hypot((2 * x) / frame.width, (2 * y) / frame.height)
        : 0.5 + (x * dx + y * dy) / (2 * half)
    let k = 0
    while (k < stops.length - 1 && t >= stops[k + 1].at) k++
    const [from, to] = [stops[k], stops[Math.min(stops.length - 1, k + 1)]]
    const share = to.at > from.at ? Math.min(1, Math.max(0, (t - from.at) / (to.at - from.at))) : 0
    for (let c = 0; c < 3; c++) rgb[c] = from.rgb[c] + (to.rgb[c] - from.rgb[c]) * share
  }
}
