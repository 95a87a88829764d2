'use client'

import { useEffect, useRef, useState, type ReactNode } from 'react'
import { COMPARE_BY, setBench, useViewStore, type CompareBy } from '@/state/view-store'
import { OverPictureStyles } from './over-picture-styles'
import { CHEQUERS } from './picture-view'

interface OverPictureProps {
  /** What is over, and what the picture beneath shows. */
  readonly left: string
  readonly right: string
  /** Where the seam stands, 0…1 from the left. */
  readonly seam: number
  /** The picture that lies over the other. */
  readonly children: ReactNode
}

/** How long each of two pictures is shown while they blink. Milliseconds. */
const BLINK_MS = 700

const LABELS: Readonly<Record<CompareBy, string>> = {
  seam: 'Seam',
  blink: 'Blink',
  difference: 'Difference',
}

/** One picture over another: left of a seam, in turns, or as what differs. */
export function OverPicture({ left, right, seam, children }: OverPictureProps) {
  const by = useViewStore((s) => s.compareBy)
  const boxRef = useRef<HTMLDivElement>(null)
  const [isOver, setOver] = useState(true)
  useEffect(() => {
    if (by !== 'blink') return
    const timer = setInterval(() => setOver((over) => !over), BLINK_MS)
    return () => clearInterval(timer)
  }, [by])
  const drag = (clientX: number) => {
    const box = boxRef.current?.getBoundingClientRect()
    if (box) setBench({ seam: Math.min(1, Math.max(0, (clientX - box.left) / box.width)) })
  }
  const shown: React.CSSProperties =
    by === 'seam'
      ? { clipPath: `inset(0 ${(1 - seam) * 100}% 0 0)`, background: CHEQUERS }
      : by === 'blink'
        ? { visibility: isOver ? 'visible' : 'hidden', background: CHEQUERS }
        : // What is the same is black; what differs is brought out.
          { mixBlendMode: 'difference' }
  return (
    <>
      <OverPictureStyles />
      <div
        ref={boxRef}
        style={{
          position: 'absolute',
          inset: 0,
          ...(by === 'difference' && { mixBlendMode: 'difference' as const }),
        }}
        data-testid="compare"
        data-by={by}
      >
        <div style={{ position: 'absolute', inset: 0, overflow: 'hidden', ...shown }}>{children}</div>
        {by === 'blink' && (
          <span className="seam-label" style={{ left: 10 }}>
            {isOver ? left : right}
          </span>
        )}
        {by === 'seam' && <Seam left={left} right={right} seam={seam} onDrag={drag} />}
      </div>
      {by === 'difference' && (
        <div
          aria-hidden="true"
          style={{ position: 'absolute', inset: 0, backdropFilter: 'brightness(4)', pointerEvents: 'none' }}
        />
      )}
    </>
  )
}

/** Which way two pictures are compared. */
export function CompareBySelect() {
  const by = useViewStore((s) => s.compareBy)
  return (
    <select
      className="plain-select"
      style={{ padding: 0, borderBottomColor: 'transparent' }}
      aria-label="Compare by"
      value={by}
      onChange={(e) => setBench({ compareBy: e.target.value as CompareBy })}
    >
      {COMPARE_BY.map((own) => (
        <option key={own} value={own}>
          {LABELS[own]}
        </option>
      ))}
    </select>
  )
}

interface SeamHandleProps {
  readonly left: string
  readonly right: string
  readonly seam: number
  readonly onDrag: (clientX: number) => void
}

function Seam({ left, right, seam, onDrag }: SeamHandleProps) {
  return (
    <>
      <span className="seam-label" style={{ left: 10 }}>
        {left}
      </span>
      <span className="seam-label" style={{ right: 10 }}>
        {right}
      </span>
      <button
        className="seam"
        role="slider"
        aria-label="Seam"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(seam * 100)}
        style={{ left: `${seam * 100}%` }}
        onPointerDown={(e) => {
          e.stopPropagation()
          e.currentTarget.setPointerCapture(e.pointerId)
        }}
        onPointerMove={(e) => e.buttons > 0 && onDrag(e.clientX)}
        onKeyDown={(e) => {
          const step = e.key === 'ArrowLeft' ? -0.02 : e.key === 'ArrowRight' ? 0.02 : 0
          if (step === 0) return
          e.stopPropagation()
          e.preventDefault()
          setBench({ seam: Math.min(1, Math.max(0, seam + step)) })
        }}
      />
    </>
  )
}
