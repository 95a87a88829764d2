import { escapeXml } from '../formats/escape-xml'
import { svgLineGroups } from '../formats/svg-lines'
import { passStrokes } from '../passes/pass-picture'
import { boxInView } from '../sheet/picture-lies'
import { sheetBox } from '../sheet/contents/sheet'
import { setType, type TypeBlock } from '../sheet/contents/type'
import { passPlacement } from '../sheet/pass-placement'
import type { SheetResources } from '../sheet/sheet-resources'
import { hasContent, type NodeOf, type Sheet, type SheetNode } from '../sheet/sheet-schema'
import { layersOf } from '../sheet/sheet-tree'
import { typeContours } from '../type/type-outlines'

/** How finely letters are told: points lie no farther beside their curves than a fraction of so many parts of a pixel. */
const FINE = 8

/**
 * What of a page is drawn with edges of its own, as an SVG file (SVG 1.1) of its true size: blocks of type as outlines, and the
 * lines of the shot where they lie; for cutters, pens and other programs. Masks, effects and modes are of pixels: what they do
 * is not in it.
 * @param paper in millimetres, with its bleed; null tells pixels.
 */
export function posterSvg(
  sheet: Sheet,
  paper: { readonly widthMm: number; readonly heightMm: number; readonly bleedMm: number } | null,
  title: string,
  resources: SheetResources,
): string {
  const { width, height } = sheet
  const size = paper
    ? `width="${number(paper.widthMm + 2 * paper.bleedMm)}mm" height="${number(paper.heightMm + 2 * paper.bleedMm)}mm"`
    : `width="${width}" height="${height}"`
  const defs: string[] = []
  const body = layersOf(sheet)
    .filter(isShown)
    .flatMap((node) => {
      if (hasContent(node, 'type')) return typeGroup(node, sheet, resources, defs)
      if (hasContent(node, 'sheet')) return linesOfSheet(node, sheet, resources, defs)
      if (hasContent(node, 'pass')) return linesOf(node, sheet, resources)
      return []
    })
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" version="1.1" ${size} viewBox="0 0 ${width} ${height}">`,
    `<title>${escapeXml(title)}</title>`,
    ...(defs.length > 0 ? ['<defs>', ...defs, '</defs>'] : []),
    ...body,
    '</svg>',
    '',
  ].join('\n')
}

const isShown = ({ visible, opacity }: SheetNode): boolean => visible && opacity > 0
const number = (value: number): string => String(Number(value.toFixed(3)))
const opacityOf = ({ opacity }: SheetNode): string => (opacity < 1 ? ` opacity="${number(opacity)}"` : '')

/** A block of type: one path for all its letters, and one for a line about them. */
function typeGroup(node: NodeOf<'type'>, sheet: Sheet, resources: SheetResources, defs: string[]): string[] {
  const block = node.content
  const set = setType(block, sheet, resources)
  if (!set) return []
  const { points, starts } = typeContours(set.layout, set.frame, block, FINE)
  const path: string[] = []
  for (let c = 0; c + 1 < starts.length; c++) {
    for (let i = starts[c]; i < starts[c + 1]; i++)
      path.push(
        `${i === starts[c] ? 'M' : 'L'}${number(points[2 * i] / FINE)} ${number(points[2 * i + 1] / FINE)}`,
      )
    path.push('Z')
  }
  if (path.length === 0) return []
  const d = path.join('')
  const line =
    block.outline > 0
      ? ` stroke="${block.outlineColour}" stroke-width="${number((block.outlineAt === 'only' ? 1 : 2) * block.outline)}" stroke-linejoin="round"`
      : ''
  // A line outside of letters lies beneath them.
  const isBeneath = block.outline > 0 && block.outlineAt === 'outside'
  const fill = block.outlineAt === 'only' && block.outline > 0 ? 'none' : fillOf(node, set.frame, defs)
  return [
    `<g id="${escapeXml(idOf(node))}" data-layer="${escapeXml(node.name)}" data-text="${escapeXml(block.text)}" fill-rule="nonzero"${opacityOf(node)}>`,
    ...(isBeneath ? [`<path d="${d}" fill="none"${line}/>`] : []),
    `<path d="${d}" fill="${fill}"${isBeneath ? '' : line}/>`,
    '</g>',
  ]
}

const idOf = ({ id }: SheetNode): string => `layer-${id.replace(/[^\p{L}\p{N}._-]+/gu, '_')}`

/** What letters are filled with: a colour, or a gradient that is put among the definitions. */
function fillOf(
  node: NodeOf<'type'>,
  frame: {
    readonly x: number
    readonly y: number
    readonly width: number
    readonly height: number
    readonly turnDeg: number
  },
  defs: string[],
): string {
  const block: TypeBlock = node.content
  if (block.fill === 'even') return block.colour
  const id = `fill-${idOf(node)}`
  const stops = block.stops.map(([at, colour]) => `<stop offset="${number(at)}" stop-color="${colour}"/>`)
  const [mx, my] = [frame.x + frame.width / 2, frame.y + frame.height / 2]
  if (block.fill === 'radial')
    defs.push(
      `<radialGradient id="${id}" gradientUnits="userSpaceOnUse" cx="0" cy="0" r="1" gradientTransform="translate(${number(mx)} ${number(my)}) scale(${number(frame.width / 2)} ${number(frame.height / 2)})">`,
      ...stops,
      '</radialGradient>',
    )
  else {
    const angle = ((block.fillDeg + frame.turnDeg) * Math.PI) / 180
    const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
    const half = (Math.abs(frame.width * dx) + Math.abs(frame.height * dy)) / 2
    defs.push(
      `<linearGradient id="${id}" gradientUnits="userSpaceOnUse" x1="${number(mx - half * dx)}" y1="${number(my - half * dy)}" x2="${number(mx + half * dx)}" y2="${number(my + half * dy)}">`,
      ...stops,
      '</linearGradient>',
    )
  }
  return `url(#${id})`
}

/** The lines of a pass where its picture lies on a sheet. */
function linesOf(node: NodeOf<'pass'>, sheet: Sheet, resources: SheetResources): string[] {
  const result = resources.pass(node.content.passId)
  const strokes = result && passStrokes(result, node.content.look, node.content.byHand ?? [])
  if (!result || !strokes) return []
  const placed = passPlacement(result, sheet, sheet)
  return [
    `<g id="${escapeXml(idOf(node))}" data-layer="${escapeXml(node.name)}" transform="translate(${placed.x} ${placed.y})"${opacityOf(node)}>`,
    ...svgLineGroups(result.drawing ?? null, strokes, placed.height),
    '</g>',
  ]
}

/** The lines of a sheet that lies on the page, cut to its frame. */
function linesOfSheet(
  node: NodeOf<'sheet'>,
  page: Sheet,
  resources: SheetResources,
  defs: string[],
): string[] {
  const frame = node.content
  const inner = page.shown?.[frame.sheetId]
  if (!inner) return []
  const lies = boxInView(sheetBox(frame, inner, page), page)
  const within = layersOf(inner)
    .filter((layer) => isShown(layer) && isWithinShown(inner, layer.id))
    .flatMap((layer) => (hasContent(layer, 'pass') ? linesOf(layer, inner, resources) : []))
  if (within.length === 0) return []
  const [x, y, width, height] = frame.box
  const clip = `frame-${idOf(node)}`
  defs.push(
    `<clipPath id="${clip}"><rect x="${number(x * page.width)}" y="${number(y * page.height)}" width="${number(width * page.width)}" height="${number(height * page.height)}"/></clipPath>`,
  )
  const scale = `scale(${number(lies.width / inner.width)} ${number(lies.height / inner.height)})`
  return [
    `<g id="${escapeXml(idOf(node))}" data-layer="${escapeXml(node.name)}" clip-path="url(#${clip})"${opacityOf(node)}>`,
    `<g transform="translate(${lies.x} ${lies.y}) ${scale}">`,
    ...within,
    '</g>',
    '</g>',
  ]
}

/** Whether all groups that a layer lies in are shown. */
function isWithinShown(sheet: Sheet, id: string): boolean {
  const holder = Object.values(sheet.nodes).find(
    ({ content }) => content.kind === 'group' && content.children.includes(id),
  )
  return !holder || (isShown(holder) && isWithinShown(sheet, holder.id))
}
