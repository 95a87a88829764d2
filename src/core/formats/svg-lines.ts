import type { LineDrawing } from '../lines/line-drawing'
import { LINE_KINDS } from '../lines/line-kinds'
import type { Strokes } from '../lines/stroke-lines'

export interface SvgLineOptions {
  /** Pixels of the picture: the coordinates of the file. */
  readonly width: number
  readonly height: number
  /** Height on paper in millimetres: gives the file its true size; without it, pixels. */
  readonly heightMm?: number
  /** Names of the scene's parts. */
  readonly partNames: readonly string[]
}

/** Sides of the polygon that stands for a round end, over half a turn. */
const END_SIDES = 6

/**
 * Writes strokes as an SVG file (SVG 1.1): one group for each kind of line, part and whether it is seen, named by
 * `data-kind`, `data-part` and `data-visible`. A stroke of one width is a stroked path, others are filled outlines.
 */
export function writeSvgLines(drawing: LineDrawing, strokes: Strokes, options: SvgLineOptions): string {
  const { width, height, heightMm, partNames } = options
  const groups = new Map<string, { kind: string; part: string; isSeen: boolean; paths: string[] }>()
  for (let s = 0; s < strokes.count; s++) {
    const line = strokes.lines[s]
    const kind = LINE_KINDS[drawing.kinds[line]]
    const isSeen = drawing.hidden[line] === 0
    const [a, b] = [drawing.parts[line], drawing.otherParts[line]]
    const part = a === b ? partNames[a] : `${partNames[a]} / ${partNames[b]}`
    const key = `${LINE_KINDS.indexOf(kind)} ${part} ${isSeen}`
    let group = groups.get(key)
    if (!group) groups.set(key, (group = { kind, part, isSeen, paths: [] }))
    group.paths.push(strokePath(strokes, s, height, drawing.closed[line] === 1))
  }
  const size = heightMm
    ? `width="${number((heightMm * width) / height)}mm" height="${number(heightMm)}mm"`
    : `width="${width}" height="${height}"`
  const lines = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" version="1.1" ${size} viewBox="0 0 ${width} ${height}">`,
  ]
  // Hidden lines lie under seen ones.
  const order = [...groups.values()].sort((p, q) => Number(p.isSeen) - Number(q.isSeen))
  for (const { kind, part, isSeen, paths } of order) {
    lines.push(
      `<g id="${escapeXml(idOf(kind, part, isSeen))}" data-kind="${kind}" data-part="${escapeXml(part)}" data-visible="${isSeen}" fill="none" stroke-linecap="round" stroke-linejoin="round">`,
      ...paths,
      '</g>',
    )
  }
  lines.push('</svg>', '')
  return lines.join('\n')
}

const idOf = (kind: string, part: string, isSeen: boolean): string =>
  `${kind}-${part}-${isSeen ? 'seen' : 'hidden'}`.replace(/[^\p{L}\p{N}._-]+/gu, '_')

export const escapeXml = (text: string): string =>
  text
    // Characters that XML 1.0 does not allow at all.
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')

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

  /** The hull of the discs at both ends of every piece, all turned the same way, so that together they are one shape. */
  function outline(from: number, to: number): string {
    let d = ''
    for (let i = from; i < Math.max(to, from + 1); i++) {
      const j = Math.min(to, i + 1)
      const angle = Math.atan2(y(j) - y(i), x(j) - x(i))
      const [ra, rb] = [radii[i] * height, radii[j] * height]
      const corners: string[] = []
      for (let k = 0; k <= END_SIDES; k++) {
        const a = angle + Math.PI / 2 + (Math.PI * k) / END_SIDES
        corners.push(`${number(x(i) + ra * Math.cos(a))} ${number(y(i) + ra * Math.sin(a))}`)
      }
      for (let k = 0; k <= END_SIDES; k++) {
        const a = angle - Math.PI / 2 + (Math.PI * k) / END_SIDES
        corners.push(`${number(x(j) + rb * Math.cos(a))} ${number(y(j) + rb * Math.sin(a))}`)
      }
      d += `M${corners.join('L')}Z`
    }
    return d
  }
}

function hex(colours: Float32Array, i: number): string {
  const part = (c: number) =>
    Math.round(Math.min(1, Math.max(0, colours[3 * i + c])) * 255)
      .toString(16)
      .padStart(2, '0')
  return `#${part(0)}${part(1)}${part(2)}`
}
