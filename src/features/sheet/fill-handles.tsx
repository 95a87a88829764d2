'use client'

import type { ContentOf } from '@/core/sheet/contents/registry'
import { Handle, HandleBox, type Place } from '@/ui/sheet-handles'
import { changeContent } from './layer-actions'

interface FillHandlesProps {
  readonly layerId: string
  readonly content: ContentOf<'fill'>
  readonly sheet: { readonly width: number; readonly height: number }
}

const within = (place: Place): [number, number] => [
  Math.min(9, Math.max(-8, place[0])),
  Math.min(9, Math.max(-8, place[1])),
]
const NAMES = {
  linear: ['Where the gradient begins', 'Where the gradient ends'],
  radial: ['Middle of the gradient', 'Rim of the gradient'],
  angular: ['Middle of the gradient', 'Direction it begins in'],
} as const

/** The ends of a gradient on the proof. */
export function FillHandles({ layerId, content, sheet }: FillHandlesProps) {
  const { shape, from, to } = content
  if (shape === 'even') return null
  const { width, height } = sheet
  const move = (end: 'from' | 'to') => (place: Place) =>
    changeContent(layerId, 'fill', 'move the gradient', (fill) => void (fill[end] = within(place)), end)
  const ends = {
    x1: from[0] * width,
    y1: from[1] * height,
    x2: to[0] * width,
    y2: to[1] * height,
  }
  const radius = Math.hypot(ends.x2 - ends.x1, ends.y2 - ends.y1)
  return (
    <HandleBox
      width={width}
      height={height}
      label="Gradient"
      lines={
        <>
          {['line-under', 'line-over'].map((name) => (
            <g key={name}>
              <line className={name} {...ends} />
              {shape === 'radial' && <circle className={name} cx={ends.x1} cy={ends.y1} r={radius} />}
            </g>
          ))}
        </>
      }
    >
      <Handle label={NAMES[shape][0]} place={from} {...sheet} shape="cross" onMove={move('from')} />
      <Handle label={NAMES[shape][1]} place={to} {...sheet} onMove={move('to')} />
    </HandleBox>
  )
}
