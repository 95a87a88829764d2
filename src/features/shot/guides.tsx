import type { Guide } from '@/data/project-schema'
import { GuidesStyles } from './guides-styles'

/** Share of the picture kept free of what must be seen. */
const SAFE = 0.1

/** Lines to compose by, drawn over the picture in a box of its size. */
export function Guides({ guides }: { guides: readonly Guide[] }) {
  if (guides.length === 0) return null
  const line = (x1: number, y1: number, x2: number, y2: number) => (
    <line key={`${x1} ${y1} ${x2} ${y2}`} x1={`${x1}%`} y1={`${y1}%`} x2={`${x2}%`} y2={`${y2}%`} />
  )
  const third = 100 / 3
  return (
    <svg className="guides" aria-hidden="true">
      <GuidesStyles />
      {guides.includes('thirds') && [
        line(third, 0, third, 100),
        line(2 * third, 0, 2 * third, 100),
        line(0, third, 100, third),
        line(0, 2 * third, 100, 2 * third),
      ]}
      {guides.includes('centre') && [line(50, 0, 50, 100), line(0, 50, 100, 50)]}
      {guides.includes('diagonals') && [line(0, 0, 100, 100), line(0, 100, 100, 0)]}
      {guides.includes('safe') && (
        <rect
          x={`${SAFE * 50}%`}
          y={`${SAFE * 50}%`}
          width={`${100 - SAFE * 100}%`}
          height={`${100 - SAFE * 100}%`}
        />
      )}
    </svg>
  )
}
