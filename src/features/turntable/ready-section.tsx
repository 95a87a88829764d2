'use client'

import { useSnackbar } from 'notistack'
import { READY_REVEALS, readyRevealLabels, type ReadyReveals } from '@/core/turn/ready-reveals'
import { addReadyReveals } from '@/state/turn-actions'

const WANTS: Readonly<Record<ReadyReveals, string>> = {
  wires: 'The sheet shows no wireframe: hang that pass first.',
  drawn: 'The sheet shows no contour: hang that pass first.',
  peel: 'The sheet has one layer at the most: there is nothing to peel.',
}

/** Reveals that are made in one press. */
export function ReadySection() {
  const { enqueueSnackbar } = useSnackbar()
  return (
    <section className="section" aria-label="In one press">
      <div className="section-head">
        <span>In one press</span>
      </div>
      {READY_REVEALS.map((name) => (
        <button
          key={name}
          className="link ready"
          data-testid={`ready-${name}`}
          onClick={() => {
            if (!addReadyReveals(name)) enqueueSnackbar(WANTS[name], { variant: 'warning' })
          }}
        >
          {readyRevealLabels[name]}
        </button>
      ))}
    </section>
  )
}
