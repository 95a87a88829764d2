'use client'

import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { Bar } from 'react-chartjs-2'
import { ToneRangeStyles } from './tone-range-styles'
import { BarElement, CategoryScale, Chart, LinearScale } from 'chart.js'

Chart.register(BarElement, CategoryScale, LinearScale)

/** Nothing up to the first, all between second and third, nothing from the fourth on; rising. */
export type Range4 = readonly [number, number, number, number]

const NAMES = ['nothing below', 'all from', 'all up to', 'nothing above'] as const
/** Steps from one end to the other. */
const STEPS = 100

interface ToneRangeProps {
  readonly label: string
  readonly value: Range4
  /** How much there is of each tone, from black to white; null while it is not known. */
  readonly histogram?: readonly number[] | null
  /** The ends of the scale; 0 and 1 where left out. */
  readonly min?: number
  readonly max?: number
  /** What lies beneath the handles: from black to white where left out. */
  readonly scale?: string
  readonly onChange: (value: Range4) => void
}

/** A range of brightness with soft ends: four handles under a histogram. */
export function ToneRange({
  label,
  value,
  histogram = null,
  min = 0,
  max = 1,
  scale,
  onChange,
}: ToneRangeProps) {
  const step1 = (max - min) / STEPS
  const boxRef = useRef<HTMLDivElement>(null)
  const move = (handle: number, to: number) => {
    const low = value[handle - 1] ?? min
    const high = value[handle + 1] ?? max
    const at = Math.min(high, Math.max(low, Number((Math.round(to / step1) * step1).toFixed(6))))
    const edge = (i: number) => (i === handle ? at : value[i])
    if (at !== value[handle]) onChange([edge(0), edge(1), edge(2), edge(3)])
  }
  const drag = (handle: number) => (e: PointerEvent<HTMLButtonElement>) => {
    const box = boxRef.current?.getBoundingClientRect()
    if (box && e.currentTarget.hasPointerCapture(e.pointerId))
      move(handle, min + ((max - min) * (e.clientX - box.left)) / box.width)
  }
  const step = (handle: number) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -step1, ArrowDown: -step1, ArrowRight: step1, ArrowUp: step1 }[e.key]
    if (by === undefined) return
    e.preventDefault()
    e.stopPropagation()
    move(handle, value[handle] + by * (e.shiftKey ? 10 : 1))
  }
  const along = (v: number) => (100 * (v - min)) / (max - min)
  const percent = (v: number) => `${Math.round(100 * v)}%`
  // What is let through, as a shape over the histogram.
  const [b0, b1, w0, w1] = value.map((v) => along(v).toFixed(2))
  return (
    <div className="tone-range" role="group" aria-label={label}>
      <ToneRangeStyles />
      <div ref={boxRef} className="tone-range-box">
        {histogram && (
          <Bar
            aria-hidden="true"
            role="presentation"
            data={{
              labels: histogram.map((_, i) => i),
              datasets: [
                {
                  data: histogram.map((count) => Math.sqrt(count)),
                  backgroundColor: '#7b7b79',
                  barPercentage: 1,
                  categoryPercentage: 1,
                },
              ],
            }}
            options={{
              maintainAspectRatio: false,
              animation: false,
              events: [],
              plugins: { legend: { display: false }, tooltip: { enabled: false } },
              scales: { x: { display: false }, y: { display: false, min: 0 } },
            }}
          />
        )}
        <svg className="tone-range-shape" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
          <polygon points={`${b0},100 ${b1},4 ${w0},4 ${w1},100`} />
        </svg>
      </div>
      <div className="tone-range-scale" style={scale === undefined ? undefined : { background: scale }}>
        {value.map((v, i) => (
          <button
            key={i}
            type="button"
            className="tone-handle"
            role="slider"
            aria-label={`${label}: ${NAMES[i]}`}
            aria-valuemin={Math.round(100 * (value[i - 1] ?? min))}
            aria-valuemax={Math.round(100 * (value[i + 1] ?? max))}
            aria-valuenow={Math.round(100 * v)}
            aria-valuetext={percent(v)}
            title={`${NAMES[i]} ${percent(v)}`}
            data-soft={i === 0 || i === 3}
            style={{ left: `${along(v)}%` }}
            onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerMove={drag(i)}
            onKeyDown={step(i)}
          />
        ))}
      </div>
    </div>
  )
}
