'use client'

import { useProofMarks } from '@/ui/fields/proof-marks'
import { Handle, HandleBox } from '@/ui/sheet-handles'

/** The places of open parameters, on the proof. */
export function ProofMarksOverlay({ width, height }: { readonly width: number; readonly height: number }) {
  const marks = useProofMarks((s) => s.marks)
  return Object.entries(marks).map(([id, { label, places, onMove }]) => {
    const points = places.map(([x, y]) => `${x * width},${y * height}`).join(' ')
    return (
      <HandleBox
        key={id}
        width={width}
        height={height}
        label={label}
        lines={
          places.length > 2 &&
          ['line-under', 'line-over'].map((name) => <polygon key={name} className={name} points={points} />)
        }
      >
        {places.map((place, i) => (
          <Handle
            key={i}
            label={places.length > 1 ? `${label}, corner ${i + 1}` : label}
            place={place}
            width={width}
            height={height}
            shape={places.length > 1 ? 'square' : 'round'}
            onMove={(to) => onMove(i, to)}
          />
        ))}
      </HandleBox>
    )
  })
}
