'use client'

import { NumberField } from '../number-field'

type Stops = readonly (readonly [number, string])[]

interface StopsFieldProps {
  readonly label: string
  readonly value: Stops
  readonly onChange: (stops: [number, string][]) => void
}

const MOST = 64

/** Colours along a way, each with its place. */
export function StopsField({ label, value, onChange }: StopsFieldProps) {
  const copy = (): [number, string][] => value.map(([at, colour]) => [at, colour])
  const change = (index: number, at: number, colour: string) => {
    const next = copy()
    const low = value[index - 1]?.[0] ?? 0
    const high = value[index + 1]?.[0] ?? 1
    next[index] = [Math.min(high, Math.max(low, at)), colour]
    onChange(next)
  }
  const add = () => {
    const gaps = value.slice(1).map(([at], i) => at - value[i][0])
    const i = gaps.indexOf(Math.max(...gaps))
    const next = copy()
    next.splice(i + 1, 0, [(value[i][0] + value[i + 1][0]) / 2, value[i][1]])
    onChange(next)
  }
  const ramp = value.map(([at, colour]) => `${colour} ${100 * at}%`).join(', ')
  return (
    <div role="group" aria-label={label}>
      <div className="row" style={{ gridTemplateColumns: '1fr auto' }}>
        <span className="label">{label}</span>
        <button className="link" onClick={add} disabled={value.length >= MOST}>
          Add a colour
        </button>
      </div>
      <div
        aria-hidden="true"
        style={{
          height: 12,
          margin: '2px 0 6px',
          borderRadius: 2,
          background: `linear-gradient(to right, ${ramp})`,
        }}
      />
      {value.map(([at, colour], i) => (
        <div
          key={i}
          style={{ display: 'grid', gridTemplateColumns: 'auto 1fr auto', gap: 8, alignItems: 'center' }}
        >
          <input
            type="color"
            className="swatch"
            aria-label={`${label} ${i + 1}`}
            value={colour}
            onChange={(e) => change(i, at, e.target.value)}
          />
          <NumberField
            label={`At`}
            value={Math.round(100 * at)}
            min={0}
            max={100}
            step={1}
            unit="%"
            onChange={(v) => change(i, v / 100, colour)}
          />
          <button
            className="link"
            aria-label={`Remove ${label.toLowerCase()} ${i + 1}`}
            disabled={value.length <= 2}
            onClick={() => onChange(copy().filter((_, k) => k !== i))}
          >
            ×
          </button>
        </div>
      ))}
    </div>
  )
}
