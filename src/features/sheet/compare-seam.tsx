'use client'

import { useEffect, useRef, useState } from 'react'
import type { Project } from '@/data/project-schema'
import { COMPARE_BY, setBench, useViewStore, type CompareBy } from '@/state/view-store'
import { CHEQUERS } from '@/ui/picture-view'
import { ProofCanvas } from './proof-canvas'
import type { ProofLook } from './proof-look'

interface SeamProps {
  readonly project: Project
  readonly upTo: number
  readonly without: string
  readonly name: string
  readonly seam: number
  readonly look: ProofLook
}

/** How long each of two pictures is shown while they blink. Milliseconds. */
const BLINK_MS = 700

const LABELS: Readonly<Record<CompareBy, string>> = {
  seam: 'Seam',
  blink: 'Blink',
  difference: 'Difference',
}

/** The stack without a layer over the stack with it: left of a seam, in turns, or as what differs. */
export function CompareSeam({ project, upTo, without, name, seam, look }: SeamProps) {
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
        <div style={{ position: 'absolute', inset: 0, overflow: 'hidden', ...shown }}>
          <ProofCanvas
            project={project}
            look={look}
            upTo={upTo}
            without={without}
            label={`Without ${name}`}
          />
        </div>
        {by === 'blink' && (
          <span className="seam-label" style={{ left: 10 }}>
            {isOver ? `Without ${name}` : 'With'}
          </span>
        )}
        {by === 'seam' && <Seam name={name} seam={seam} onDrag={drag} />}
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
    <label style={{ pointerEvents: 'auto' }}>
      Compare by{' '}
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
    </label>
  )
}

interface SeamHandleProps {
  readonly name: string
  readonly seam: number
  readonly onDrag: (clientX: number) => void
}

function Seam({ name, seam, onDrag }: SeamHandleProps) {
  return (
    <>
      <span className="seam-label" style={{ left: 10 }}>
        Without {name}
      </span>
      <span className="seam-label" style={{ right: 10 }}>
        With
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
