'use client'

import { Handle, HandleBox, type Place } from '@/ui/sheet-handles'

/** Corners of something that lies on a sheet, from the upper left clockwise: where, in halves of its sides, and their names. */
export const BOX_CORNERS = [
  { at: [-1, -1], name: 'Upper left corner' },
  { at: [1, -1], name: 'Upper right corner' },
  { at: [1, 1], name: 'Lower right corner' },
  { at: [-1, 1], name: 'Lower left corner' },
] as const

interface CornerHandlesProps {
  readonly label: string
  readonly corners: readonly Place[]
  readonly sheet: { readonly width: number; readonly height: number }
  readonly onCorner: (corner: number, to: [number, number]) => void
}

/** A place as far beside a sheet as contents allow. */
export const withinReach = ([x, y]: Place): [number, number] => [
  Math.min(9, Math.max(-8, x)),
  Math.min(9, Math.max(-8, y)),
]

/** The corners of something that is stretched between them, each by itself. */
export function CornerHandles({ label, corners, sheet, onCorner }: CornerHandlesProps) {
  const outline = corners.map(([x, y]) => `${x * sheet.width},${y * sheet.height}`).join(' ')
  return (
    <HandleBox
      {...sheet}
      label={label}
      lines={['line-under', 'line-over'].map((name) => (
        <polygon key={name} className={name} points={outline} />
      ))}
    >
      {BOX_CORNERS.map(({ name }, i) => (
        <Handle
          key={name}
          label={name}
          place={corners[i]}
          {...sheet}
          shape="square"
          onMove={(to) => onCorner(i, withinReach(to))}
        />
      ))}
    </HandleBox>
  )
}
