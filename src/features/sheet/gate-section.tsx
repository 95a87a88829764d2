'use client'

import { memo, useEffect, useState } from 'react'
import type { Gate, SheetNode } from '@/core/sheet/sheet-schema'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { ToneRange, type Range4 } from '@/ui/tone-range'
import { changeLayer } from './layer-actions'

const SIDES = [
  { side: 'own', label: 'Its own tone' },
  { side: 'beneath', label: 'Tone beneath' },
] as const
type Side = (typeof SIDES)[number]['side']

const OPEN: Range4 = [0, 0, 1, 1]

/** Where a layer shows, by brightness: its own, and that of what lies beneath it. */
export const GateSection = memo(function GateSection({
  layerId,
  gate,
}: {
  readonly layerId: string
  readonly gate: SheetNode['gate']
}) {
  const set = (side: Side, range: Range4 | null, merge?: string) =>
    changeLayer(
      layerId,
      range ? 'tone gate' : 'open the tone gate',
      (l) => {
        const next: Gate = { own: null, beneath: null, ...l.gate, [side]: range && [...range] }
        l.gate = next.own || next.beneath ? next : null
      },
      merge,
    )
  return (
    <section className="section">
      <div className="section-head">
        <span>Tone gate</span>
        <span>
          {SIDES.filter(({ side }) => !gate?.[side]).map(({ side, label }) => (
            <button
              key={side}
              className="link"
              data-testid={`gate-${side}`}
              onClick={() => set(side, side === 'own' ? [0.1, 0.3, 1, 1] : [0, 0, 0.5, 0.8])}
            >
              {label}
            </button>
          ))}
        </span>
      </div>
      {!gate && <span className="quiet">Limits the layer to what is dark, or bright, with soft ends.</span>}
      {SIDES.map(({ side, label }) => {
        const range = gate?.[side]
        if (!range) return null
        return (
          <div key={side}>
            <div className="term">
              <span className="what">{label}</span>
              <button className="link" onClick={() => set(side, OPEN)}>
                Open
              </button>
              <button className="link" onClick={() => set(side, null)}>
                Remove
              </button>
            </div>
            <GateRange
              layerId={layerId}
              side={side}
              label={label}
              range={range}
              onChange={(next) => set(side, next, `gate ${side}`)}
            />
          </div>
        )
      })}
    </section>
  )
})

interface GateRangeProps {
  readonly layerId: string
  readonly side: Side
  readonly label: string
  readonly range: Range4
  readonly onChange: (range: Range4) => void
}

/** The handles over how much there is of each tone now. */
function GateRange({ layerId, side, label, range, onChange }: GateRangeProps) {
  const [histogram, setHistogram] = useState<readonly number[] | null>(null)
  const project = useProjectStore((s) => s.project)
  useEffect(() => {
    if (!project) return
    let stale = false
    const timer = setTimeout(async () => {
      try {
        const found = await askSheet(project, (worker) => worker.toneHistogram({ layerId, side }))
        if (!stale) setHistogram(found)
      } catch {
        // The proof tells of the same problem.
      }
    }, 120)
    return () => {
      stale = true
      clearTimeout(timer)
    }
  }, [project, layerId, side])
  return <ToneRange label={label} value={range} histogram={histogram} onChange={onChange} />
}
