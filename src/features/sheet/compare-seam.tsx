'use client'

import { useEffect, useRef, useState } from 'react'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { COMPARE_BY, setBench, useViewStore, type CompareBy } from '@/state/view-store'
import { CHEQUERS } from '@/ui/picture-view'
import { sidesOf, type ShownSide } from './compare-sides'
import { ProofCanvas } from './proof-canvas'
import type { ProofLook } from './proof-look'

interface SeamProps {
  readonly project: Project
  readonly upTo: number
  /** What lies left of the seam, and what the proof beneath shows. */
  readonly left: ShownSide
  readonly right: ShownSide
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

/** One picture over another: left of a seam, in turns, or as what differs. */
export function CompareSeam({ project, upTo, left, right, seam, look }: SeamProps) {
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
            upTo={left.sheet ? Infinity : upTo}
            without={left.without}
            sheet={left.sheet}
            label={left.label}
          />
        </div>
        {by === 'blink' && (
          <span className="seam-label" style={{ left: 10 }}>
            {isOver ? left.label : right.label}
          </span>
        )}
        {by === 'seam' && <Seam left={left.label} right={right.label} seam={seam} onDrag={drag} />}
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

interface CompareBarProps {
  readonly project: Project
  readonly layer: SheetNode | undefined
}

/** Which two pictures are compared, and which way. */
export function CompareBar({ project, layer }: CompareBarProps) {
  const by = useViewStore((s) => s.compareBy)
  const left = useViewStore((s) => s.compareLeft)
  const right = useViewStore((s) => s.compareRight)
  const sides = sidesOf(project, layer)
  const side = (label: string, value: string, name: 'compareLeft' | 'compareRight') => (
    <select
      className="plain-select"
      style={{ padding: 0, borderBottomColor: 'transparent', maxWidth: 150 }}
      aria-label={label}
      value={sides.some(({ word }) => word === value) ? value : 'now'}
      onChange={(e) => setBench({ [name]: e.target.value })}
    >
      {sides.map(({ word, label: own }) => (
        <option key={word} value={word}>
          {own}
        </option>
      ))}
    </select>
  )
  return (
    <span style={{ pointerEvents: 'auto' }}>
      {side('Compare', left, 'compareLeft')} with {side('With', right, 'compareRight')} by{' '}
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
    </span>
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
