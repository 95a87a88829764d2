'use client'

import { useRef } from 'react'
import type { Project } from '@/data/project-schema'
import { setBench } from '@/state/view-store'
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

/** Left of the seam the stack without the layer, right of it with. */
export function CompareSeam({ project, upTo, without, name, seam, look }: SeamProps) {
  const boxRef = useRef<HTMLDivElement>(null)
  const drag = (clientX: number) => {
    const box = boxRef.current?.getBoundingClientRect()
    if (box) setBench({ seam: Math.min(1, Math.max(0, (clientX - box.left) / box.width)) })
  }
  return (
    <div ref={boxRef} style={{ position: 'absolute', inset: 0 }} data-testid="compare">
      <div
        style={{
          position: 'absolute',
          inset: 0,
          overflow: 'hidden',
          clipPath: `inset(0 ${(1 - seam) * 100}% 0 0)`,
          background: CHEQUERS,
        }}
      >
        <ProofCanvas project={project} look={look} upTo={upTo} without={without} label={`Without ${name}`} />
      </div>
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
        onPointerMove={(e) => e.buttons > 0 && drag(e.clientX)}
        onKeyDown={(e) => {
          const step = e.key === 'ArrowLeft' ? -0.02 : e.key === 'ArrowRight' ? 0.02 : 0
          if (step === 0) return
          e.stopPropagation()
          e.preventDefault()
          setBench({ seam: Math.min(1, Math.max(0, seam + step)) })
        }}
      />
    </div>
  )
}
