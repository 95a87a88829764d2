'use client'

import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { Bar } from 'react-chartjs-2'
import { BarElement, CategoryScale, Chart, LinearScale } from 'chart.js'

Chart.register(BarElement, CategoryScale, LinearScale)

/** Nothing up to the first, all between second and third, nothing from the fourth on; 0…1, rising. */
export type Range4 = readonly [number, number, number, number]

const NAMES = ['nothing below', 'all from', 'all up to', 'nothing above'] as const
const STEP = 0.01

interface ToneRangeProps {
  readonly label: string
  readonly value: Range4
  /** How much there is of each tone, from black to white; null while it is not known. */
  readonly histogram: readonly number[] | null
  readonly onChange: (value: Range4) => void
}

/** A range of brightness with soft ends: four handles under a histogram. */
export function ToneRange({ label, value, histogram, onChange }: ToneRangeProps) {
  const boxRef = useRef<HTMLDivElement>(null)
  const move = (handle: number, to: number) => {
    const low = value[handle - 1] ?? 0
    const high = value[handle + 1] ?? 1
    const at = Math.min(high, Math.max(low, Math.round(to / STEP) * STEP))
    const edge = (i: number) => (i === handle ? at : value[i])
    if (at !== value[handle]) onChange([edge(0), edge(1), edge(2), edge(3)])
  }
  const drag = (handle: number) => (e: PointerEvent<HTMLButtonElement>) => {
    const box = boxRef.current?.getBoundingClientRect()
    if (box && e.currentTarget.hasPointerCapture(e.pointerId))
      move(handle, (e.clientX - box.left) / box.width)
  }
  const step = (handle: number) => (e: KeyboardEvent) => {
    const by = { ArrowLeft: -STEP, ArrowDown: -STEP, ArrowRight: STEP, ArrowUp: STEP }[e.key]
    if (by === undefined) return
    e.preventDefault()
    e.stopPropagation()
    move(handle, value[handle] + by * (e.shiftKey ? 10 : 1))
  }
  const percent = (v: number) => `${Math.round(100 * v)}%`
  // What is let through, as a shape over the histogram.
  const [b0, b1, w0, w1] = value.map((v) => `${(100 * v).toFixed(2)}`)
  return (
    <div className="tone-range" role="group" aria-label={label}>
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
      <div className="tone-range-scale">
        {value.map((v, i) => (
          <button
            key={i}
            type="button"
            className="tone-handle"
            role="slider"
            aria-label={`${label}: ${NAMES[i]}`}
            aria-valuemin={Math.round(100 * (value[i - 1] ?? 0))}
            aria-valuemax={Math.round(100 * (value[i + 1] ?? 1))}
            aria-valuenow={Math.round(100 * v)}
            aria-valuetext={percent(v)}
            title={`${NAMES[i]} ${percent(v)}`}
            data-soft={i === 0 || i === 3}
            style={{ left: percent(v) }}
            onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
            onPointerMove={drag(i)}
            onKeyDown={step(i)}
          />
        ))}
      </div>
    </div>
  )
}
