import { marginBox, toPx, trimBox } from '@/data/page-size'
import type { Page, ProjectSheet } from '@/data/project-schema'

/** What a block that is dragged comes to: edges and middles of page, margins, columns and other blocks. Shares of the page. */

export type Box = readonly [number, number, number, number]
export interface Guide {
  readonly axis: 'x' | 'y'
  readonly at: number
}
export interface Snapped {
  readonly box: Box
  readonly guides: readonly Guide[]
}

/** Places along both axes that blocks can be aligned to. */
export function alignments(
  page: Page,
  sheet: Pick<ProjectSheet, 'width' | 'height' | 'nodes'>,
  without: string,
): { readonly x: readonly number[]; readonly y: readonly number[] } {
  const trim = trimBox(page)
  const margin = marginBox(page)
  const x = [trim[0], trim[2], margin[0], margin[2], (trim[0] + trim[2]) / 2]
  const y = [trim[1], trim[3], margin[1], margin[3], (trim[1] + trim[3]) / 2]
  const { columns } = page
  if (columns > 1) {
    const gap = toPx(page.gutterMm, page) / sheet.width
    const own = (margin[2] - margin[0] - gap * (columns - 1)) / columns
    for (let i = 0; i < columns; i++) x.push(margin[0] + i * (own + gap), margin[0] + i * (own + gap) + own)
  }
  for (const { id, content, visible } of Object.values(sheet.nodes)) {
    if (id === without || !visible || (content.kind !== 'type' && content.kind !== 'sheet')) continue
    const [left, top, width, height] = content.box
    x.push(left, left + width / 2, left + width)
    y.push(top, top + height / 2, top + height)
  }
  return { x, y }
}

/**
 * Moves a box to the nearest alignment of its edges or middle.
 * @param near how far it lets itself be drawn, along each axis.
 */
export function snapBlock(
  [x, y, width, height]: Box,
  { x: xs, y: ys }: { readonly x: readonly number[]; readonly y: readonly number[] },
  near: readonly [number, number],
): Snapped {
  const across = nearest([x, x + width / 2, x + width], xs, near[0])
  const down = nearest([y, y + height / 2, y + height], ys, near[1])
  return {
    box: [x + (across?.by ?? 0), y + (down?.by ?? 0), width, height],
    guides: [
      ...(across ? [{ axis: 'x' as const, at: across.at }] : []),
      ...(down ? [{ axis: 'y' as const, at: down.at }] : []),
    ],
  }
}

function nearest(
  own: readonly number[],
  places: readonly number[],
  near: number,
): { readonly by: number; readonly at: number } | null {
  let best: { readonly by: number; readonly at: number } | null = null
  for (const at of places)
    for (const edge of own) {
      const by = at - edge
      if (Math.abs(by) <= near && (best === null || Math.abs(by) < Math.abs(best.by))) best = { by, at }
    }
  return best
}
