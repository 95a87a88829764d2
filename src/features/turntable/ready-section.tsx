'use client'

import { memo } from 'react'
import { useSnackbar } from 'notistack'
import { PRESENTATIONS, presentationLabels } from '@/core/turn/presentation'
import { READY_REVEALS, readyRevealLabels, type ReadyReveals } from '@/core/turn/ready-reveals'
import { BringSequence } from './sequence-section'
import { addPresentation, addReadyReveals } from '@/state/turn-actions'

const WANTS: Readonly<Record<ReadyReveals, string>> = {
  wires: 'The sheet shows no wireframe: hang that pass first.',
  drawn: 'The sheet shows no contour: hang that pass first.',
  peel: 'The sheet has one layer at the most: there is nothing to peel.',
}

/** Reveals, and layers that present it, made in one press. */
export const ReadySection = memo(function ReadySection() {
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
      {PRESENTATIONS.map((name) => (
        <button
          key={name}
          className="link ready"
          data-testid={`present-${name}`}
          title="A layer that the still hides"
          onClick={() => addPresentation(name)}
        >
          {presentationLabels[name]}
        </button>
      ))}
      <BringSequence />
    </section>
  )
})
