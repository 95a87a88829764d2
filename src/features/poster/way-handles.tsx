'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { alongWay } from '@/core/type/type-outlines'
import { Handle, HandleBox } from '@/ui/sheet-handles'
import { withinReach } from '../sheet/corner-handles'
import { changeContent } from '../sheet/layer-actions'

interface WayHandlesProps {
  readonly layerId: string
  readonly way: NonNullable<ContentOf<'type'>['way']>
  readonly sheet: { readonly width: number; readonly height: number }
}

const PIECES = 64

/** The places of a way that a line of type runs along, each dragged by itself. */
export function WayHandles({ layerId, way, sheet }: WayHandlesProps) {
  const line = alongWay(way.map(([x, y]) => [x * sheet.width, y * sheet.height] as const))
  const points = Array.from({ length: PIECES + 1 }, (_, i) => line.at((i / PIECES) * line.length))
    .map(([x, y]) => `${x},${y}`)
    .join(' ')
  return (
    <HandleBox
      {...sheet}
      label="Way of the type"
      lines={['line-under', 'line-over'].map((name) => (
        <polyline key={name} className={name} points={points} fill="none" />
      ))}
    >
      {way.map((place, i) => (
        <Handle
          key={i}
          label={`Place ${i + 1} of the way`}
          place={place}
          {...sheet}
          onMove={(to) =>
            changeContent(
              layerId,
              'type',
              'move a place of the way',
              (own) => void (own.way && (own.way[i] = withinReach(to))),
              `way ${i}`,
            )
          }
        />
      ))}
    </HandleBox>
  )
}
