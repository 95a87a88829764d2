'use client'

import { marginBox, toPx, trimBox } from '@/data/page-size'
import type { Page } from '@/data/project-schema'

interface PageLinesProps {
  readonly page: Page
  /** Of the page with its bleed, in pixels. */
  readonly width: number
  readonly height: number
  /** Lines that what is dragged has come to: along one axis, in shares. */
  readonly guides?: readonly { readonly axis: 'x' | 'y'; readonly at: number }[]
  readonly isGridSeen: boolean
}

/** How far marks stand off the paper, and how long they are. Millimetres. */
const [MARK_GAP, MARK_LENGTH] = [2, 7]

/** The paper's edge, its margins, columns and marks over the page. */
export function PageLines({ page, width, height, guides = [], isGridSeen }: PageLinesProps) {
  const [x0, y0, x1, y1] = scaled(trimBox(page), width, height)
  const margin = scaled(marginBox(page), width, height)
  const { bleedMm } = page
  const off = toPx(Math.max(bleedMm, MARK_GAP), page)
  const long = toPx(MARK_LENGTH, page)
  const corners = [
    [x0, y0, -1, -1],
    [x1, y0, 1, -1],
    [x1, y1, 1, 1],
    [x0, y1, -1, 1],
  ]
  return (
    <svg
      className="page-lines"
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      {isGridSeen && <Grid page={page} margin={margin} />}
      {bleedMm > 0 && (
        <>
          <rect className="trim-under" x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
          <rect className="trim" x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
        </>
      )}
      {isGridSeen && (
        <rect
          className="margin"
          x={margin[0]}
          y={margin[1]}
          width={margin[2] - margin[0]}
          height={margin[3] - margin[1]}
        />
      )}
      {page.marks.crop &&
        page.bleedMm > 0 &&
        corners.map(([x, y, dx, dy]) => (
          <g key={`${dx} ${dy}`}>
            <line className="mark" x1={x + dx * off} y1={y} x2={x + dx * (off + long)} y2={y} />
            <line className="mark" x1={x} y1={y + dy * off} x2={x} y2={y + dy * (off + long)} />
          </g>
        ))}
      {guides.map(({ axis, at }) =>
        axis === 'x' ? (
          <line key={`x${at}`} className="guide" x1={at * width} x2={at * width} y1={0} y2={height} />
        ) : (
          <line key={`y${at}`} className="guide" x1={0} x2={width} y1={at * height} y2={at * height} />
        ),
      )}
    </svg>
  )
}

const scaled = (
  [x0, y0, x1, y1]: readonly [number, number, number, number],
  width: number,
  height: number,
): readonly [number, number, number, number] => [x0 * width, y0 * height, x1 * width, y1 * height]

function Grid({ page, margin }: { readonly page: Page; readonly margin: readonly number[] }) {
  const [x0, y0, x1, y1] = margin
  const gap = toPx(page.gutterMm, page)
  const { columns } = page
  const own = (x1 - x0 - gap * (columns - 1)) / columns
  const step = toPx(page.baselineMm, page)
  const lines = step > 1 ? Math.min(400, Math.floor((y1 - y0) / step)) : 0
  return (
    <>
      {columns > 1 &&
        own > 0 &&
        Array.from({ length: columns }, (_, i) => (
          <rect key={i} className="column" x={x0 + i * (own + gap)} y={y0} width={own} height={y1 - y0} />
        ))}
      {Array.from({ length: lines }, (_, i) => (
        <line
          key={i}
          className="baseline"
          x1={x0}
          x2={x1}
          y1={y0 + (i + 1) * step}
          y2={y0 + (i + 1) * step}
        />
      ))}
    </>
  )
}
