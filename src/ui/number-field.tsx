'use client'

import { useId, useRef, useState } from 'react'
import Slider from '@mui/material/Slider'

export interface NumberFieldProps {
  readonly label: string
  readonly value: number
  readonly min: number
  readonly max: number
  readonly step: number
  readonly unit?: string
  readonly defaultValue?: number
  readonly logarithmic?: boolean
  readonly disabled?: boolean
  /** Said behind the label for screen readers and as a tooltip. */
  readonly note?: string
  readonly onChange: (value: number) => void
}

const decimals = (step: number): number => Math.max(0, Math.min(7, Math.ceil(-Math.log10(step) - 1e-9)))

/** What a key makes of a slider's value; null for a key it has no use for. */
export function steppedValue(
  { value, min, max, step }: Pick<NumberFieldProps, 'value' | 'min' | 'max' | 'step'>,
  key: string,
  isShift: boolean,
): number | null {
  const by = (isShift ? 10 : 1) * step
  switch (key) {
    case 'ArrowRight':
    case 'ArrowUp':
      return Math.min(max, value + by)
    case 'ArrowLeft':
    case 'ArrowDown':
      return Math.max(min, value - by)
    case 'PageUp':
      return Math.min(max, value + 10 * step)
    case 'PageDown':
      return Math.max(min, value - 10 * step)
    case 'Home':
      return min
    case 'End':
      return max
    default:
      return null
  }
}

/** A number with its unit: a slider, a value to type or drag sideways, double-click for the default. */
export function NumberField(props: NumberFieldProps) {
  const {
    label,
    value,
    min,
    max,
    step,
    unit = '',
    defaultValue,
    logarithmic = false,
    disabled = false,
    onChange,
  } = props
  const id = useId()
  const [typed, setTyped] = useState<string | null>(null)
  const scrub = useRef<{ x: number; value: number; moved: boolean } | null>(null)
  const snap = (v: number) => {
    const clamped = Math.min(max, Math.max(min, v))
    return Number((Math.round(clamped / step) * step).toFixed(decimals(step)))
  }
  const set = (v: number) => {
    const next = Math.min(max, Math.max(min, snap(v)))
    if (next !== value) onChange(next)
  }
  const toShare = (v: number) =>
    !logarithmic
      ? (v - min) / (max - min)
      : min > 0
        ? Math.log(v / min) / Math.log(max / min)
        : Math.cbrt((v - min) / (max - min))
  // Powers of a number that may be 0 are none: a cube is as fine near the end.
  const fromShare = (s: number) =>
    !logarithmic ? min + s * (max - min) : min > 0 ? min * Math.pow(max / min, s) : min + (max - min) * s ** 3
  const commit = () => {
    if (typed === null) return
    const parsed = Number(typed.replace(',', '.'))
    if (typed.trim() !== '' && Number.isFinite(parsed)) set(parsed)
    setTyped(null)
  }
  const reset = () => defaultValue !== undefined && !disabled && onChange(defaultValue)
  return (
    <div
      className={`row ${value === defaultValue ? 'is-default' : ''}`}
      title={props.note}
      data-idle={disabled || undefined}
    >
      <label htmlFor={id} onDoubleClick={reset}>
        {label}
      </label>
      <span
        className="slide"
        onKeyDownCapture={(e) => {
          // The rail is in shares of its length; keys step by the value itself, whatever its scale.
          const next = steppedValue(props, e.key, e.shiftKey)
          if (next === null) return
          e.preventDefault()
          e.stopPropagation()
          set(next)
        }}
      >
        <Slider
          min={0}
          max={1}
          step={0.001}
          value={toShare(value)}
          disabled={disabled}
          onChange={(_, s) => set(fromShare(s as number))}
          onDoubleClick={reset}
          aria-label={label}
          getAriaValueText={() => `${Number(value.toFixed(decimals(step)))} ${unit}`.trim()}
          tabIndex={-1}
          sx={{ p: '6px 0' }}
        />
      </span>
      <span>
        <input
          id={id}
          className="scrub"
          inputMode="decimal"
          disabled={disabled}
          value={typed ?? Number(value.toFixed(decimals(step)))}
          onFocus={(e) => e.target.select()}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => {
            const by = (e.shiftKey ? 10 : 1) * step
            if (e.key === 'Enter') commit()
            else if (e.key === 'Escape') setTyped(null)
            else if (e.key === 'ArrowUp') set(value + by)
            else if (e.key === 'ArrowDown') set(value - by)
            else return
            if (e.key.startsWith('Arrow')) {
              setTyped(null)
              e.preventDefault()
            }
          }}
          onPointerDown={(e) => {
            if (document.activeElement === e.currentTarget) return
            scrub.current = { x: e.clientX, value, moved: false }
            e.currentTarget.setPointerCapture(e.pointerId)
          }}
          onPointerMove={(e) => {
            const s = scrub.current
            if (!s || (!s.moved && Math.abs(e.clientX - s.x) < 4)) return
            s.moved = true
            set(fromShare(Math.min(1, Math.max(0, toShare(s.value) + (e.clientX - s.x) / 240))))
          }}
          onPointerUp={(e) => {
            if (scrub.current?.moved) e.currentTarget.blur()
            scrub.current = null
          }}
          onDoubleClick={reset}
        />
        <span className="unit">{unit === '%D' ? '% D' : unit}</span>
      </span>
    </div>
  )
}
