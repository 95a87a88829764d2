import { escapeXml } from './escape-xml'
import type { LineDrawing } from '../lines/line-drawing'
import { LINE_KINDS } from '../lines/line-kinds'
import { strokePaths, type StrokePath } from '../lines/stroke-paths'
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
    group.paths.push(strokePaths(strokes, s, height, isClosed).map(pathOf).join('\n'))
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

function pathOf(path: StrokePath): string {
  if (path.kind === 'fill') {
    const d = path.outlines.map((outline) => `M${pairs(outline).join('L')}Z`).join('')
    return `<path d="${d}" fill="${hex(path.colour)}"/>`
  }
  const [first, ...rest] = pairs(path.points)
  const d = `M${first}${rest.length === 0 ? 'h0' : rest.map((pair) => `L${pair}`).join('')}${path.isClosed ? 'Z' : ''}`
  return `<path d="${d}" stroke="${hex(path.colour)}" stroke-width="${number(path.width)}"/>`
}

function pairs(points: readonly number[]): string[] {
  const out: string[] = []
  for (let i = 0; i < points.length; i += 2) out.push(`${number(points[i])} ${number(points[i + 1])}`)
  return out
}

const hex = (colour: readonly number[]): string =>
  `#${colour.map((byte) => byte.toString(16).padStart(2, '0')).join('')}`
