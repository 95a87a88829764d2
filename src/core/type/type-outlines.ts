import type { PlacedGlyph, TypeLayout } from './lay-type'
import { OUTLINE, OUTLINE_NUMBERS } from './shaper'
import type { TypeStyle } from './type-style'

/** Where a block of type stands on its sheet, in sheet pixels. */
export interface TypeFrame {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /** Clockwise, about its middle. */
  readonly turnDeg: number
  /** It is stretched between these places instead, from the upper left corner clockwise. */
  readonly corners: readonly (readonly [number, number])[] | null
  /** Its first line runs along these places instead. */
  readonly path: readonly (readonly [number, number])[] | null
}

/** A place of the frame (pixels from its upper left corner) as one of the sheet. */
export type FrameMap = (x: number, y: number) => readonly [number, number]

/** Closed outlines, one after the other: points in pixels of a view. */
export interface Contours {
  /** 2·N: x, y. */
  readonly points: Float64Array
  /** Where each contour begins, and at last where the last one ends. */
  readonly starts: Uint32Array
  /** Of each contour, the number of the glyph it belongs to. */
  readonly glyphs: Uint32Array
}

/** How far a polyline may lie beside the curve it stands for. Pixels of the view. */
const TOLERANCE = 0.03
/** Straight lines that are bent are cut into pieces no longer than this. Pixels of the view. */
const BENT_PIECE = 6

/** How places of a block's frame become places of the sheet: bent, turned, stretched between corners. */
export function frameMap(frame: TypeFrame, style: TypeStyle, height: number): FrameMap {
  const bent = warpMap(style, frame.width, Math.max(1e-6, height))
  const { corners } = frame
  if (corners) {
    const project = quadMap(corners)
    return (x, y) => {
      const [u, v] = bent(x, y)
      return project(u / frame.width, v / frame.height)
    }
  }
  const angle = (frame.turnDeg * Math.PI) / 180
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  const [midX, midY] = [frame.width / 2, frame.height / 2]
  return (x, y) => {
    const [u, v] = bent(x, y)
    const [dx, dy] = [u - midX, v - midY]
    return [frame.x + midX + dx * cos - dy * sin, frame.y + midY + dx * sin + dy * cos]
  }
}

/** How a block is bent within its frame. */
function warpMap({ warp, bend }: TypeStyle, width: number, height: number): FrameMap {
  const amount = bend / 100
  if (warp === 'none' || amount === 0) return (x, y) => [x, y]
  if (warp === 'wave') return (x, y) => [x, y - 0.35 * amount * height * Math.sin((2 * Math.PI * x) / width)]
  if (warp === 'rise') return (x, y) => [x, y - amount * height * (x / width - 0.5)]
  // An arc over which the frame's middle line keeps its length: a half circle at 100 %.
  const radius = width / (Math.PI * amount)
  return (x, y) => {
    const angle = (x - width / 2) / radius
    const from = radius + height / 2 - y
    return [width / 2 + from * Math.sin(angle), height / 2 + radius - from * Math.cos(angle)]
  }
}

/** The unit square onto four corners, in perspective (Heckbert 1989, section 2.2.3). */
export function quadMap(corners: readonly (readonly [number, number])[]): FrameMap {
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners
  const [sx, sy] = [x0 - x1 + x2 - x3, y0 - y1 + y2 - y3]
  const [dx1, dy1, dx2, dy2] = [x1 - x2, y1 - y2, x3 - x2, y3 - y2]
  const det = dx1 * dy2 - dx2 * dy1
  if (Math.abs(det) < 1e-12)
    return (u, v) => [x0 + u * (x1 - x0) + v * (x3 - x0), y0 + u * (y1 - y0) + v * (y3 - y0)]
  const g = (sx * dy2 - dx2 * sy) / det
  const h = (dx1 * sy - sx * dy1) / det
  const [a, b, d, e] = [x1 - x0 + g * x1, x3 - x0 + h * x3, y1 - y0 + g * y1, y3 - y0 + h * y3]
  return (u, v) => {
    const w = 1 / Math.max(1e-6, g * u + h * v + 1)
    return [(a * u + b * v + x0) * w, (d * u + e * v + y0) * w]
  }
}

/** How a glyph is put on the sheet: what maps its own places (ems, y up) there. */
export function glyphMaps(
  layout: TypeLayout,
  frame: TypeFrame,
  style: TypeStyle,
): ((glyph: PlacedGlyph) => FrameMap) & { readonly isBent: boolean } {
  const toSheet = frameMap(frame, style, frame.height)
  const way = frame.path && frame.path.length > 1 ? alongWay(frame.path) : null
  const isBent = frame.corners !== null || (style.warp !== 'none' && style.bend !== 0)
  const line = layout.lines[0] as TypeLayout['lines'][number] | undefined
  const of = (glyph: PlacedGlyph): FrameMap => {
    if (!way || layout.isDown) return (x, y) => toSheet(glyph.x + x * glyph.sizeX, glyph.y - y * glyph.sizeY)
    // Along a way a letter stands upright on the middle of what it takes up.
    const share = { start: 0, middle: 0.5, end: 1, justify: 0 }[style.align]
    const shift = line ? share * (way.length - line.length) - line.from : 0
    const middle = glyph.x + glyph.advance / 2 + shift
    const [px, py, angle] = way.at(middle)
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const above = glyph.y - (line?.across ?? 0)
    return (x, y) => {
      const dx = x * glyph.sizeX - glyph.advance / 2
      const dy = above - y * glyph.sizeY
      return [px + dx * cos - dy * sin, py + dx * sin + dy * cos]
    }
  }
  return Object.assign(of, { isBent })
}

/** A way through places, by its length: a smooth curve (Catmull and Rom 1974) where there are more than two. */
export function alongWay(places: readonly (readonly [number, number])[]): {
  readonly length: number
  /** Place and direction; beyond its ends it goes straight on. */
  readonly at: (length: number) => readonly [number, number, number]
} {
  const points = smoothWay(places)
  const sums = new Float64Array(points.length)
  for (let i = 1; i < points.length; i++)
    sums[i] = sums[i - 1] + Math.hypot(points[i][0] - points[i - 1][0], points[i][1] - points[i - 1][1])
  const length = sums[points.length - 1]
  return {
    length,
    at: (along) => {
      let i = 1
      while (i < points.length - 1 && sums[i] < along) i++
      const [[x0, y0], [x1, y1]] = [points[i - 1], points[i]]
      const t = (along - sums[i - 1]) / Math.max(1e-9, sums[i] - sums[i - 1])
      return [x0 + (x1 - x0) * t, y0 + (y1 - y0) * t, Math.atan2(y1 - y0, x1 - x0)]
    },
  }
}

const WAY_PIECES = 24

function smoothWay(places: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  if (places.length < 3) return [...places]
  const out: (readonly [number, number])[] = [places[0]]
  for (let i = 0; i + 1 < places.length; i++) {
    const [p0, p1] = [places[Math.max(0, i - 1)], places[i]]
    const [p2, p3] = [places[i + 1], places[Math.min(places.length - 1, i + 2)]]
    for (let k = 1; k <= WAY_PIECES; k++) {
      const t = k / WAY_PIECES
      const at = (c: 0 | 1) =>
        0.5 *
        (2 * p1[c] +
          (p2[c] - p0[c]) * t +
          (2 * p0[c] - 5 * p1[c] + 4 * p2[c] - p3[c]) * t * t +
          (3 * p1[c] - p0[c] - 3 * p2[c] + p3[c]) * t * t * t)
      out.push([at(0), at(1)])
    }
  }
  return out
}

/**
 * The outlines of a block as polylines. @param scale pixels of the view per pixel of the sheet.
 */
export function typeContours(
  layout: TypeLayout,
  frame: TypeFrame,
  style: TypeStyle,
  scale: number,
): Contours {
  const mapOf = glyphMaps(layout, frame, style)
  const points: number[] = []
  const starts: number[] = [0]
  const owners: number[] = []
  layout.glyphs.forEach((glyph, index) => {
    const map = mapOf(glyph)
    const at = (x: number, y: number): readonly [number, number] => {
      const [sx, sy] = map(x, y)
      return [sx * scale, sy * scale]
    }
    const piece = mapOf.isBent ? BENT_PIECE : Infinity
    drawOutline(glyph.font.outline(glyph.glyph), at, piece, points, () => {
      if (points.length / 2 - (starts.at(-1) ?? 0) >= 3) {
        starts.push(points.length / 2)
        owners.push(index)
      } else points.length = 2 * (starts.at(-1) ?? 0)
    })
  })
  return {
    points: Float64Array.from(points),
    starts: Uint32Array.from(starts),
    glyphs: Uint32Array.from(owners),
  }
}

/** Draws an outline as polylines. @param end is told when a contour is closed. */
function drawOutline(
  outline: Float32Array,
  at: FrameMap,
  longest: number,
  points: number[],
  end: () => void,
): void {
  let [x0, y0] = [0, 0]
  let isOpen = false
  for (let i = 0; i < outline.length;) {
    const what = outline[i]
    const o = i + 1
    if (what === OUTLINE.move) {
      if (isOpen) end()
      isOpen = true
      points.push(...at(outline[o], outline[o + 1]))
    } else if (what === OUTLINE.close) {
      if (isOpen) end()
      isOpen = false
    } else {
      const [nx, ny] = [outline[i + OUTLINE_NUMBERS[what] - 1], outline[i + OUTLINE_NUMBERS[what]]]
      const count = piecesOf(what, x0, y0, outline, o, at, longest)
      for (let k = 1; k < count; k++) {
        const [x, y] = pointOn(what, x0, y0, outline, o, k / count)
        points.push(...at(x, y))
      }
      points.push(...at(nx, ny))
    }
    if (what !== OUTLINE.close) {
      x0 = outline[i + OUTLINE_NUMBERS[what] - 1]
      y0 = outline[i + OUTLINE_NUMBERS[what]]
    }
    i += 1 + OUTLINE_NUMBERS[what]
  }
  if (isOpen) end()
}

/** Into how many pieces a segment is cut: a curve by how far it bends (Sederberg 1990, by second differences). */
function piecesOf(
  what: number,
  x0: number,
  y0: number,
  outline: Float32Array,
  o: number,
  at: FrameMap,
  longest: number,
): number {
  const p0 = at(x0, y0)
  const p1 = at(outline[o], outline[o + 1])
  let pieces = 1
  let length = Math.hypot(p1[0] - p0[0], p1[1] - p0[1])
  if (what !== OUTLINE.line) {
    const p2 = at(outline[o + 2], outline[o + 3])
    length += Math.hypot(p2[0] - p1[0], p2[1] - p1[1])
    let bend = Math.hypot(p0[0] - 2 * p1[0] + p2[0], p0[1] - 2 * p1[1] + p2[1])
    if (what === OUTLINE.cubic) {
      const p3 = at(outline[o + 4], outline[o + 5])
      length += Math.hypot(p3[0] - p2[0], p3[1] - p2[1])
      bend = 3 * Math.max(bend, Math.hypot(p1[0] - 2 * p2[0] + p3[0], p1[1] - 2 * p2[1] + p3[1]))
    }
    pieces = Math.ceil(Math.sqrt(bend / (4 * TOLERANCE)))
  }
  return Math.max(1, Math.min(400, Math.max(pieces, Math.ceil(length / longest))))
}

function pointOn(
  what: number,
  x0: number,
  y0: number,
  outline: Float32Array,
  o: number,
  t: number,
): readonly [number, number] {
  const s = 1 - t
  if (what === OUTLINE.line) return [s * x0 + t * outline[o], s * y0 + t * outline[o + 1]]
  if (what === OUTLINE.quadratic)
    return [
      s * s * x0 + 2 * s * t * outline[o] + t * t * outline[o + 2],
      s * s * y0 + 2 * s * t * outline[o + 1] + t * t * outline[o + 3],
    ]
  const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
  return [
    a * x0 + b * outline[o] + c * outline[o + 2] + d * outline[o + 4],
    a * y0 + b * outline[o + 1] + c * outline[o + 3] + d * outline[o + 5],
  ]
}
