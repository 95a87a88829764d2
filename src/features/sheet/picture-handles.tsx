'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { movedTo, onSheet, scaledTo, turnedTo } from '@/core/sheet/picture-box'
import { Handle, HandleBox } from '@/ui/sheet-handles'
import { BOX_CORNERS, CornerHandles } from './corner-handles'
import { changeContent } from './layer-actions'

interface PictureHandlesProps {
  readonly layerId: string
  readonly content: ContentOf<'picture'>
  readonly sheet: { readonly width: number; readonly height: number }
}

/** How far above its upper side a picture is taken to be turned, in halves of its height. */
const TURN_AT = 1.25

/** A placed picture on the proof: its middle moves it, its corners scale it, what stands above it turns it. */
export function PictureHandles({ layerId, content, sheet }: PictureHandlesProps) {
  const { width, height } = sheet
  const change = (label: string, next: Pick<typeof content, 'centre' | 'size' | 'turnDeg'>, merge: string) =>
    changeContent(
      layerId,
      'picture',
      label,
      (own) => {
        own.centre = [...next.centre]
        own.size = [...next.size]
        own.turnDeg = next.turnDeg
      },
      merge,
    )
  if (content.corners)
    return (
      <CornerHandles
        label="Stretched picture"
        corners={content.corners}
        sheet={sheet}
        onCorner={(i, to) =>
          changeContent(
            layerId,
            'picture',
            'move a corner',
            (own) => void (own.corners && (own.corners[i] = to)),
            `corner ${i}`,
          )
        }
      />
    )
  const places = BOX_CORNERS.map(({ at }) => onSheet(content, at, sheet))
  const outline = places.map(([x, y]) => `${x * width},${y * height}`).join(' ')
  const top = onSheet(content, [0, -1], sheet)
  const turn = onSheet(content, [0, -TURN_AT], sheet)
  return (
    <HandleBox
      width={width}
      height={height}
      label="Placed picture"
      lines={
        <>
          {['line-under', 'line-over'].map((name) => (
            <g key={name}>
              <polygon className={name} points={outline} />
              <line
                className={name}
                x1={top[0] * width}
                y1={top[1] * height}
                x2={turn[0] * width}
                y2={turn[1] * height}
              />
            </g>
          ))}
        </>
      }
    >
      <Handle
        label="Move the picture"
        place={content.centre}
        {...sheet}
        shape="cross"
        onMove={(to) => change('move picture', movedTo(content, to), 'move')}
      />
      {BOX_CORNERS.map(({ at, name }, i) => (
        <Handle
          key={name}
          label={name}
          place={places[i]}
          {...sheet}
          shape="square"
          onMove={(to) => change('scale picture', scaledTo(content, at, to, sheet), `scale ${i}`)}
        />
      ))}
      <Handle
        label="Turn the picture"
        place={turn}
        {...sheet}
        onMove={(to) => change('turn picture', turnedTo(content, to, sheet), 'turn')}
      />
    </HandleBox>
  )
}
