'use client'

import { useRef } from 'react'
import { setBench } from '@/state/view-store'
import { nearestStop } from './use-peel-stops'

interface PeelProps {
  /** Where the handle stands for each number of layers that are shown. */
  readonly stops: readonly number[]
  readonly shown: number
  readonly count: number
}

/** The handle along the top of the rack that lifts the front layers off. */
export function Peel({ stops, shown, count }: PeelProps) {
  const lineRef = useRef<HTMLDivElement>(null)
  const handleAt = stops[Math.min(shown, stops.length - 1)]
  const setPeel = (wanted: number) => setBench({ peel: wanted >= count ? Infinity : Math.max(0, wanted) })
  const drag = (clientX: number) => {
    const box = lineRef.current?.getBoundingClientRect()
    if (box) setPeel(nearestStop(stops, clientX - box.left))
  }
  return (
    <div
      className="peel"
      hidden={count === 0}
      ref={lineRef}
      style={{ width: stops[stops.length - 1] }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId)
        drag(e.clientX)
      }}
      onPointerMove={(e) => e.buttons > 0 && drag(e.clientX)}
    >
      <div className="peel-rest" />
      <div className="peel-line" style={{ width: handleAt }} />
      <button
        className="peel-handle"
        style={{ left: handleAt }}
        role="slider"
        aria-label="Peel"
        aria-valuemin={0}
        aria-valuemax={count}
        aria-valuenow={shown}
        aria-valuetext={`${count - shown} of ${count} lifted`}
        onKeyDown={(e) => {
          const step = e.key === 'ArrowLeft' ? -1 : e.key === 'ArrowRight' ? 1 : 0
          if (step === 0) return
          e.preventDefault()
          e.stopPropagation()
          setPeel(shown + step)
        }}
      />
      {shown < count && (
        <span className="peel-note" style={{ left: handleAt + 16 }}>
          Peeled: {count - shown} of {count} lifted
        </span>
      )}
    </div>
  )
}
