'use client'

import { useMemo } from 'react'
import { NumberField } from '../number-field'
import { useProofMark } from './proof-marks'

type Place = readonly [number, number]

const rounded = (v: number): number => Math.round(Math.min(3, Math.max(-2, v)) * 10000) / 10000

interface PointFieldProps {
  readonly label: string
  readonly value: Place
  readonly defaultValue: Place
  readonly onChange: (place: [number, number]) => void
}

/** A place on the sheet: two numbers here, a handle on the proof. */
export function PointField({ label, value, defaultValue, onChange }: PointFieldProps) {
  const mark = useMemo(
    () => ({
      label,
      places: [value],
      onMove: (_index: number, [x, y]: Place) => onChange([rounded(x), rounded(y)]),
    }),
    [label, value, onChange],
  )
  useProofMark(mark)
  return (
    <>
      {(['across', 'down'] as const).map((axis, i) => (
        <NumberField
          key={axis}
          label={`${label}, ${axis}`}
          value={Math.round(1000 * value[i]) / 10}
          min={-100}
          max={200}
          step={0.1}
          unit="%"
          defaultValue={100 * defaultValue[i]}
          onChange={(v) => onChange(i === 0 ? [v / 100, value[1]] : [value[0], v / 100])}
        />
      ))}
    </>
  )
}

interface PathFieldProps {
  readonly label: string
  readonly value: readonly Place[]
  readonly onChange: (places: [number, number][]) => void
}

/** A closed shape: its corners are handles on the proof, and can be moved, added and taken away here. */
export function PathField({ label, value, onChange }: PathFieldProps) {
  const mark = useMemo(
    () => ({
      label,
      places: value,
      onMove: (index: number, [x, y]: Place) =>
        onChange(
          value.map((own, i): [number, number] => (i === index ? [rounded(x), rounded(y)] : [...own])),
        ),
    }),
    [label, value, onChange],
  )
  useProofMark(mark)
  const copy = () => value.map((own): [number, number] => [...own])
  const add = () => {
    // In the middle of the longest side.
    const lengths = value.map(([x, y], i) => {
      const [nx, ny] = value[(i + 1) % value.length]
      return Math.hypot(nx - x, ny - y)
    })
    const i = lengths.indexOf(Math.max(...lengths))
    const [a, b] = [value[i], value[(i + 1) % value.length]]
    const next = copy()
    next.splice(i + 1, 0, [rounded((a[0] + b[0]) / 2), rounded((a[1] + b[1]) / 2)])
    onChange(next)
  }
  return (
    <div className="row" style={{ gridTemplateColumns: '1fr auto auto' }} role="group" aria-label={label}>
      <span className="label">
        {value.length} corners <span className="quiet">on the proof</span>
      </span>
      <button className="link" disabled={value.length >= 512} onClick={add}>
        Add
      </button>
      <button className="link" disabled={value.length <= 3} onClick={() => onChange(copy().slice(0, -1))}>
        Remove
      </button>
    </div>
  )
}
