'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { onPlane, planeCorners } from '@/data/laid-type'
import type { ProjectSheet } from '@/data/project-schema'
import { paintedSheet } from '@/data/shown-sheets'
import { useOpenProject } from '@/ui/open-project'
import { Handle, HandleBox, type Place } from '@/ui/sheet-handles'
import { changeContent } from '../sheet/layer-actions'

interface PlaneHandlesProps {
  readonly layerId: string
  readonly name: string
  readonly content: ContentOf<'type'>
  readonly page: ProjectSheet
}

/** A block that lies on a surface of the shot: its middle moves it over the surface, its side turns and widens it. */
export function PlaneHandles({ layerId, name, content, page }: PlaneHandlesProps) {
  const project = useOpenProject()
  const shot = project.shots.find(({ id }) => id === page.shotId)
  const { plane } = content
  if (!plane || !shot) return null
  const painted = paintedSheet(project, page)
  const corners = planeCorners(content, painted, shot)
  if (!corners) return null
  const change = (label: string, apply: (own: NonNullable<typeof plane>) => void, merge: string) =>
    changeContent(layerId, 'type', label, (own) => void (own.plane && apply(own.plane)), merge)
  const move = (to: Place) => {
    const at = onPlane(plane, to, painted, shot)
    if (at) change('move over a surface', (own) => void (own.at = [...at]), 'move on plane')
  }
  const middleOf = (i: number, j: number): Place => [
    (corners[i][0] + corners[j][0]) / 2,
    (corners[i][1] + corners[j][1]) / 2,
  ]
  const widen = (to: Place) => {
    const at = onPlane(plane, to, painted, shot)
    if (!at) return
    const far = Math.hypot(...at.map((v, i) => v - plane.at[i]))
    if (far > 1e-6) change('widen on a surface', (own) => void (own.width = 2 * far), 'widen on plane')
  }
  const diagonal = meeting(corners)
  const outline = corners.map(([x, y]) => `${x * page.width},${y * page.height}`).join(' ')
  return (
    <HandleBox
      width={page.width}
      height={page.height}
      label={`${name} on a surface`}
      lines={['line-under', 'line-over'].map((line) => (
        <polygon key={line} className={line} points={outline} fill="none" />
      ))}
    >
      <Handle
        label={`Move ${name} over its surface`}
        place={diagonal}
        width={page.width}
        height={page.height}
        shape="cross"
        onMove={move}
      />
      <Handle
        label="Its width"
        place={middleOf(1, 2)}
        width={page.width}
        height={page.height}
        shape="square"
        onMove={widen}
      />
    </HandleBox>
  )
}

/** Where the diagonals of four corners meet: the middle of what is seen in perspective. */
function meeting([a, b, c, d]: readonly (readonly [number, number])[]): Place {
  const [rx, ry, sx, sy] = [c[0] - a[0], c[1] - a[1], d[0] - b[0], d[1] - b[1]]
  const det = rx * sy - ry * sx
  if (Math.abs(det) < 1e-12) return [(a[0] + c[0]) / 2, (a[1] + c[1]) / 2]
  const t = ((b[0] - a[0]) * sy - (b[1] - a[1]) * sx) / det
  return [a[0] + t * rx, a[1] + t * ry]
}
