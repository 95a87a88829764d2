'use client'

import { useMemo, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { monotoneCurve } from '@/core/math/monotone-curve'
import { CurveFieldStyles } from './curve-field-styles'

type Points = readonly (readonly [number, number])[]

interface CurveFieldProps {
  readonly label: string
  readonly value: Points
  readonly defaultValue: Points
  readonly onChange: (points: [number, number][]) => void
}

const STEP = 0.01
const MOST = 32
/** Straight pieces that the curve is drawn in. */
const PIECES = 64

const rounded = (v: number): number => Math.round(v * 1000) / 1000
const copy = (points: Points): [number, number][] => points.map(([x, y]) => [x, y])

/** A curve from the lower left to the upper right: its points are dragged, or moved by keys; a press beside them adds one. */
export function CurveField({ label, value, defaultValue, onChange }: CurveFieldProps) {
  const boxRef = useRef<HTMLDivElement>(null)
  const drawn = useMemo(() => {
    const curve = monotoneCurve(value)
    return Array.from({ length: PIECES + 1 }, (_, i) => {
      const x = i / PIECES
      return `${(100 * x).toFixed(2)},${(100 * (1 - curve(x))).toFixed(2)}`
    }).join(' ')
  }, [value])
  const move = (index: number, x: number, y: number) => {
    const next = copy(value)
    const left = index === 0 ? 0 : value[index - 1][0] + STEP
    const right = index === value.length - 1 ? 1 : value[index + 1][0] - STEP
    next[index] = [rounded(Math.min(right, Math.max(left, x))), rounded(Math.min(1, Math.max(0, y)))]
    onChange(next)
  }
  const remove = (index: number) => {
    if (value.length > 2) onChange(copy(value).filter((_, i) => i !== index))
  }
  const placeOf = (e: { clientX: number; clientY: number }): [number, number] | null => {
    const box = boxRef.current?.getBoundingClientRect()
    return box ? [(e.clientX - box.left) / box.width, 1 - (e.clientY - box.top) / box.height] : null
  }
  const add = (x: number) => {
    if (value.length >= MOST || value.some(([at]) => Math.abs(at - x) < 2 * STEP)) return
    const curve = monotoneCurve(value)
    onChange(
      [...copy(value), [rounded(x), rounded(curve(x))] as [number, number]].sort((a, b) => a[0] - b[0]),
    )
  }
  const widest = () => {
    const gaps = value.slice(1).map(([x], i) => ({ at: (x + value[i][0]) / 2, width: x - value[i][0] }))
    add(gaps.reduce((a, b) => (b.width > a.width ? b : a)).at)
  }
  const drag = (index: number) => (e: PointerEvent<HTMLButtonElement>) => {
    if (!e.currentTarget.hasPointerCapture(e.pointerId)) return
    const place = placeOf(e)
    if (place) move(index, ...place)
  }
  const key = (index: number) => (e: KeyboardEvent) => {
    if (e.key === 'Delete' || e.key === 'Backspace') {
      e.preventDefault()
      e.stopPropagation()
      remove(index)
      return
    }
    const by = STEP * (e.shiftKey ? 10 : 1)
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[e.key]
    if (!step) return
    e.preventDefault()
    e.stopPropagation()
    move(index, value[index][0] + step[0], value[index][1] + step[1])
  }
  return (
    <div className="curve-field" role="group" aria-label={label}>
      <CurveFieldStyles />
      <div className="row" style={{ gridTemplateColumns: '1fr auto auto' }}>
        <span className="label" onDoubleClick={() => onChange(copy(defaultValue))}>
          {label}
        </span>
        <button className="link" onClick={widest} disabled={value.length >= MOST}>
          Add a point
        </button>
        <button
          className="link"
          onClick={() =>
            onChange([
              [0, 0],
              [1, 1],
            ])
          }
        >
          Straighten
        </button>
      </div>
      <div
        ref={boxRef}
        className="curve-box"
        onPointerDown={(e) => {
          const place = e.target === e.currentTarget ? placeOf(e) : null
          if (place) add(place[0])
        }}
      >
        <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
          <path
            className="curve-grid"
            d="M25 0V100M50 0V100M75 0V100M0 25H100M0 50H100M0 75H100M0 100L100 0"
          />
          <polyline className="curve-line" points={drawn} />
        </svg>
        {value.map(([x, y], i) => (
          <button
            key={i}
            type="button"
            className="curve-point"
            aria-label={`${label}, point ${i + 1} of ${value.length}: ${Math.round(100 * x)} becomes ${Math.round(100 * y)}; arrow keys move it, Delete removes it`}
            title={`${Math.round(100 * x)} → ${Math.round(100 * y)}`}
            style={{ left: `${100 * x}%`, top: `${100 * (1 - y)}%` }}
            onPointerDown={(e) => {
              e.stopPropagation()
              e.currentTarget.setPointerCapture(e.pointerId)
            }}
            onPointerMove={drag(i)}
            onDoubleClick={() => remove(i)}
            onKeyDown={key(i)}
          />
        ))}
      </div>
    </div>
  )
}
