'use client'

import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { setBench, useViewStore } from '@/state/view-store'
import { CompareBySelect, OverPicture } from '@/ui/over-picture'
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

/** A side of a comparison over the proof. */
export function CompareSeam({ project, upTo, left, right, seam, look }: SeamProps) {
  return (
    <OverPicture left={left.label} right={right.label} seam={seam}>
      <ProofCanvas
        project={project}
        look={look}
        upTo={left.sheet ? Infinity : upTo}
        without={left.without}
        sheet={left.sheet}
        label={left.label}
      />
    </OverPicture>
  )
}

interface CompareBarProps {
  readonly project: Project
  readonly layer: SheetNode | undefined
}

/** Which two pictures are compared, and which way. */
export function CompareBar({ project, layer }: CompareBarProps) {
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
      {side('Compare', left, 'compareLeft')} with {side('With', right, 'compareRight')} by <CompareBySelect />
    </span>
  )
}
