'use client'

import { useId, useState } from 'react'

interface FrameRowProps {
  readonly label: string
  /** Null where it has none. */
  readonly value: number
  readonly min?: number
  readonly max: number
  readonly step?: number
  readonly unit?: string
  readonly onChange: (value: number) => void
}

/** A number to type, with its unit: for moments and counts, which no slider is long enough for. */
export function FrameRow({ label, value, min = 0, max, step = 1, unit = '', onChange }: FrameRowProps) {
  const id = useId()
  const [typed, setTyped] = useState<string | null>(null)
  const shown = Number(value.toFixed(3))
  const set = (next: number) => {
    const own = Math.min(max, Math.max(min, Math.round(next / step) * step))
    if (Number.isFinite(own) && own !== value) onChange(Number(own.toFixed(6)))
  }
  const commit = () => {
    if (typed !== null && typed.trim() !== '') set(Number(typed.replace(',', '.')))
    setTyped(null)
  }
  return (
    <div className="row two frame-row">
      <label htmlFor={id}>{label}</label>
      <span>
        {unit === 'frame' && <span className="unit">frame</span>}
        <input
          id={id}
          className="scrub"
          style={{ width: `${Math.max(2, (typed ?? String(shown)).length) + 1}ch` }}
          inputMode="decimal"
          value={typed ?? shown}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => {
            if (e.key === 'Enter') commit()
            else if (e.key === 'Escape') setTyped(null)
            else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
              e.preventDefault()
              setTyped(null)
              set(value + (e.key === 'ArrowUp' ? 1 : -1) * (e.shiftKey ? 10 : 1) * step)
            }
          }}
        />
        {unit !== 'frame' && unit !== '' && <span className="unit">{unit}</span>}
      </span>
    </div>
  )
}
