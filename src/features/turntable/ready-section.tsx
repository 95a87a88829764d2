'use client'

import { memo } from 'react'
import { useSnackbar } from 'notistack'
import { PRESENTATIONS, presentationLabels } from '@/core/turn/presentation'
import { READY_REVEALS, readyRevealLabels, type ReadyReveals } from '@/core/turn/ready-reveals'
import { BringSequence } from './sequence-section'
import { addGroundShadow, addPresentation, addReadyReveals } from '@/state/turn-actions'

const WANTS: Readonly<Record<ReadyReveals, string>> = {
  wires: 'The sheet shows no wireframe: hang that pass first.',
  drawn: 'The sheet shows no contour: hang that pass first.',
  peel: 'The sheet has one layer at the most: there is nothing to peel.',
}

const SHADOW_REFUSALS = {
  added: null,
  there: 'The sheet shows the shadow on the ground already.',
  'no ground': 'No part is the ground: give one that role at Models, or put a ground plane in.',
} as const

/** Reveals, and layers that present it, made in one press. */
export const ReadySection = memo(function ReadySection() {
  const { enqueueSnackbar } = useSnackbar()
  return (
    <>
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
      <section className="section" aria-label="Presented with">
        <div className="section-head">
          <span>Presented with</span>
        </div>
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
        <button
          className="link ready"
          data-testid="present-shadow"
          title="The shadow pass, beneath what stands on the ground"
          onClick={() => {
            const refusal = SHADOW_REFUSALS[addGroundShadow()]
            if (refusal) enqueueSnackbar(refusal, { variant: 'warning' })
          }}
        >
          Shadow on the ground
        </button>
        <BringSequence />
      </section>
    </>
  )
})
