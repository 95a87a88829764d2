import type { Draft } from 'immer'
import type { Content } from '@/core/sheet/contents/registry'
import { resizedNode } from '@/core/sheet/resize-sheet'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { pagePixels, pageOf, trimBox } from './page-size'
import type { Page, ProjectSheet } from './project-schema'

type Place = [number, number]
/** A place of one page as a place of another, in shares of each. */
type PlaceMap = (place: readonly [number, number]) => Place

/** Places at the border of a page stay there, whatever its bleed. */
const AT_BORDER = 1e-6

/** What is so far across the trimmed paper of one page is as far across that of another. */
function placeMap(from: Page, to: Page): PlaceMap {
  const [a, b] = [trimBox(from), trimBox(to)]
  const along = (value: number, low: number, high: number, newLow: number, newHigh: number): number => {
    if (Math.abs(value) < AT_BORDER || Math.abs(value - 1) < AT_BORDER) return value
    return newLow + ((value - low) / (high - low)) * (newHigh - newLow)
  }
  return ([x, y]) => [along(x, a[0], a[2], b[0], b[2]), along(y, a[1], a[3], b[1], b[3])]
}

/** Gives a page another size, in place: what lies on it stays where it is on the paper, and lengths follow what the paper measures. */
export function resizePage(sheet: Draft<ProjectSheet>, next: Page): void {
  const before = pageOf(sheet as ProjectSheet)
  const map = placeMap(before, next)
  const size = pagePixels(next)
  const inPaper = Math.sqrt((next.widthMm * next.heightMm) / (before.widthMm * before.heightMm))
  const by = (inPaper * next.dpi) / before.dpi
  for (const node of Object.values(sheet.nodes) as SheetNode[])
    Object.assign(node, resizedNode(node, by), {
      content: movedContent(resizedNode(node, by).content, map, {
        across: sheet.width / size.width,
        down: sheet.height / size.height,
        by,
      }),
    })
  sheet.width = size.width
  sheet.height = size.height
  sheet.page = { ...next, marginsMm: [...next.marginsMm] }
}

interface Scaling {
  readonly across: number
  readonly down: number
  readonly by: number
}

/** A content with its places on another page. */
function movedContent(content: Content, map: PlaceMap, { across, down, by }: Scaling): Content {
  switch (content.kind) {
    case 'type':
    case 'sheet': {
      const [x, y, width, height] = content.box
      const [left, top] = map([x, y])
      const [right, below] = map([x + width, y + height])
      const box: typeof content.box = [left, top, Math.max(0.001, right - left), Math.max(0.001, below - top)]
      if (content.kind === 'sheet') return { ...content, box }
      return {
        ...content,
        box,
        ...(content.corners && { corners: content.corners.map(map) as typeof content.corners }),
        ...(content.way && { way: content.way.map(map) }),
      }
    }
    case 'picture':
      return {
        ...content,
        centre: map(content.centre),
        // It keeps its proportions.
        size: [content.size[0] * across * by, content.size[1] * down * by],
        ...(content.corners && { corners: content.corners.map(map) as typeof content.corners }),
      }
    case 'fill':
      return { ...content, from: map(content.from), to: map(content.to) }
    default:
      return content
  }
}
