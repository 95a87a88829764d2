import { escapeXml } from './escape-xml'
import type { LineDrawing } from '../lines/line-drawing'
import { LINE_KINDS } from '../lines/line-kinds'
import { DRAWN, type Strokes } from '../lines/stroke-lines'

export interface SvgLineOptions {
  /** Pixels of the picture: the coordinates of the file. */
  readonly width: number
  readonly height: number
  /** Height on paper in millimetres: gives the file its true size; without it, pixels. */
  readonly heightMm?: number
}

/** What of a drawing its file tells. */
type Drawn = Pick<LineDrawing, 'scene' | 'kinds' | 'hidden' | 'parts' | 'otherParts' | 'closed'>

/** Sides of the polygon that stands for a round end, over half a turn. */
const END_SIDES = 6
/** Turns from which on a stroke has a corner, radians. */
const GENTLE = 0.5

/**
 * Writes strokes as an SVG file (SVG 1.1): one group for each kind of line, part and whether it is seen, named by
 * `data-kind`, `data-part` and `data-visible`. A stroke of one width is a stroked path, others are filled outlines.
 * @param drawing that they are strokes of; null where all were drawn by hand.
 */
export function writeSvgLines(drawing: Drawn | null, strokes: Strokes, options: SvgLineOptions): string {
  const { width, height, heightMm } = options
  const size = heightMm
    ? `width="${number((heightMm * width) / height)}mm" height="${number(heightMm)}mm"`
    : `width="${width}" height="${height}"`
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" version="1.1" ${size} viewBox="0 0 ${width} ${height}">`,
    ...svgLineGroups(drawing, strokes, height),
    '</svg>',
    '',
  ].join('\n')
}

/** Strokes as groups of an SVG file, as {@link writeSvgLines} has them. @param height of their picture, in the file's units. */
export function svgLineGroups(drawing: Drawn | null, strokes: Strokes, height: number): string[] {
  const groups = new Map<string, { kind: string; part: string; isSeen: boolean; paths: string[] }>()
  for (let s = 0; s < strokes.count; s++) {
    const line = strokes.lines[s]
    const { kind, part, isSeen, isClosed } = line === DRAWN || !drawing ? BY_HAND : factsOf(drawing, line)
    const key = `${kind} ${part} ${isSeen}`
    let group = groups.get(key)
    if (!group) groups.set(key, (group = { kind, part, isSeen, paths: [] }))
    group.paths.push(strokePath(strokes, s, height, isClosed))
  }
  const lines: string[] = []
  // Hidden lines lie under seen ones.
  const order = [...groups.values()].sort((p, q) => Number(p.isSeen) - Number(q.isSeen))
  for (const { kind, part, isSeen, paths } of order) {
    lines.push(
      `<g id="${escapeXml(idOf(kind, part, isSeen))}" data-kind="${kind}" data-part="${escapeXml(part)}" data-visible="${isSeen}" fill="none" stroke-linecap="round" stroke-linejoin="round">`,
      ...paths,
      '</g>',
    )
  }
  return lines
}

const BY_HAND = { kind: 'drawn', part: 'by hand', isSeen: true, isClosed: false }

function factsOf({ scene, kinds, hidden, parts, otherParts, closed }: Drawn, line: number): typeof BY_HAND {
  const [a, b] = [scene[parts[line]].name, scene[otherParts[line]].name]
  return {
    kind: LINE_KINDS[kinds[line]],
    part: parts[line] === otherParts[line] ? a : `${a} / ${b}`,
    isSeen: hidden[line] === 0,
    isClosed: closed[line] === 1,
  }
}

const idOf = (kind: string, part: string, isSeen: boolean): string =>
  `${kind}-${part}-${isSeen ? 'seen' : 'hidden'}`.replace(/[^\p{L}\p{N}._-]+/gu, '_')

/** Three decimals, without what says nothing. */
const number = (value: number): string => String(Number(value.toFixed(3)))

function strokePath(strokes: Strokes, s: number, height: number, closed: boolean): string {
  const { starts, points, radii, colours } = strokes
  const first = starts[s]
  const last = starts[s + 1] - 1
  const x = (i: number) => points[2 * i] * height
  const y = (i: number) => points[2 * i + 1] * height
  let thinnest = Infinity
  let widest = 0
  let isOneColour = true
  for (let i = first; i <= last; i++) {
    thinnest = Math.min(thinnest, radii[i])
    widest = Math.max(widest, radii[i])
    for (let c = 0; c < 3; c++)
      if (Math.abs(colours[3 * i + c] - colours[3 * first + c]) > 0.002) isOneColour = false
  }
  if (isOneColour && widest - thinnest <= 1e-3 * widest) {
    let d = `M${number(x(first))} ${number(y(first))}`
    if (first === last) d += 'h0'
    for (let i = first + 1; i <= last; i++) d += `L${number(x(i))} ${number(y(i))}`
    if (closed && x(first) === x(last) && y(first) === y(last)) d += 'Z'
    return `<path d="${d}" stroke="${hex(colours, first)}" stroke-width="${number(2 * widest * height)}"/>`
  }
  if (isOneColour) return `<path d="${outline(first, last)}" fill="${hex(colours, first)}"/>`
  // A colour that changes along the way: a path for each stretch of one colour.
  const out: string[] = []
  for (let from = first; from < last;) {
    let to = from + 1
    while (to < last && hex(colours, to) === hex(colours, from)) to++
    out.push(`<path d="${outline(from, to)}" fill="${hex(colours, from)}"/>`)
    from = to
  }
  return out.join('\n')

  /**
   * Outlines of a stroke from one point to another: one round-ended outline for each stretch that bends gently. All turn
   * the same way, so together they are one shape.
   */
  function outline(from: number, to: number): string {
    if (from === to) return stretch(from, to)
    let d = ''
    for (let start = from; start < to;) {
      let end = start + 1
      while (end < to && isGentle(end)) end++
      d += stretch(start, end)
      start = end
    }
    return d
  }

  /** Whether both sides of the stroke can follow its turn at a point: else it is an outline's end on either side. */
  function isGentle(i: number): boolean {
    const [ax, ay] = [x(i) - x(i - 1), y(i) - y(i - 1)]
    const [bx, by] = [x(i + 1) - x(i), y(i + 1) - y(i)]
    const shorter = Math.min(Math.hypot(ax, ay), Math.hypot(bx, by))
    const turn = Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by))
    return shorter > 0 && turn < GENTLE && turn * radii[i] * height < shorter / 2
  }

  function stretch(from: number, to: number): string {
    const left: string[] = []
    const right: string[] = []
    for (let i = from; i <= to; i++) {
      // Along the mean of the directions before and after.
      const [a, b] = [Math.max(from, i - 1), Math.min(to, i + 1)]
      const angle = a === b ? 0 : Math.atan2(y(b) - y(a), x(b) - x(a))
      const put = (list: string[], at: number) =>
        list.push(
          `${number(x(i) + radii[i] * height * Math.cos(at))} ${number(y(i) + radii[i] * height * Math.sin(at))}`,
        )
      // The ends from side to side, half round.
      if (i === from)
        for (let k = 0; k < END_SIDES; k++)
          put(left, angle - Math.PI / 2 - (Math.PI * (END_SIDES - k)) / END_SIDES)
      put(left, angle - Math.PI / 2)
      if (i < to) put(right, angle + Math.PI / 2)
      else for (let k = END_SIDES; k > 0; k--) put(right, angle - Math.PI / 2 + (Math.PI * k) / END_SIDES)
    }
    return `M${[...left, ...right.reverse()].join('L')}Z`
  }
}

function hex(colours: Float32Array, i: number): string {
  const part = (c: number) =>
    Math.round(Math.min(1, Math.max(0, colours[3 * i + c])) * 255)
      .toString(16)
      .padStart(2, '0')
  return `#${part(0)}${part(1)}${part(2)}`
}
