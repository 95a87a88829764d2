'use client'

import { memo } from 'react'
import { useSnackbar } from 'notistack'
import { PRESENTATIONS, presentationLabels } from '@/core/turn/presentation'
import { READY_REVEALS, readyRevealLabels, type ReadyReveals } from '@/core/turn/ready-reveals'
import { BringSequence } from './sequence-section'
import { addGroundLayer, GROUND_LAYERS, groundLayerLabels, type GroundLayer } from '@/state/ground-layers'
import { addPresentation, addReadyReveals } from '@/state/turn-actions'

const WANTS: Readonly<Record<ReadyReveals, string>> = {
  wires: 'The sheet shows no wireframe: hang that pass first.',
  drawn: 'The sheet shows no contour: hang that pass first.',
  peel: 'The sheet has one layer at the most: there is nothing to peel.',
}

const REFUSALS = {
  added: () => null,
  there: (label: string) => `The sheet has it already: ${label.toLowerCase()}.`,
  'no ground': () =>
    'No part is the ground: give one that role at Models, or stand the model on a ground plane there.',
} as const

/** What each is, in words. */
const GROUND_TITLES: Readonly<Record<GroundLayer, string>> = {
  shadow: 'The shadow pass, beneath what stands on the ground',
  reflection: 'The reflection pass: the ground as if it were polished',
}

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
        {GROUND_LAYERS.map((kind) => (
          <button
            key={kind}
            className="link ready"
            data-testid={`present-${kind}`}
            title={GROUND_TITLES[kind]}
            onClick={() => {
              const refusal = REFUSALS[addGroundLayer(kind)](groundLayerLabels[kind])
              if (refusal) enqueueSnackbar(refusal, { variant: 'warning' })
            }}
          >
            {groundLayerLabels[kind]}
          </button>
        ))}
        <BringSequence />
      </section>
    </>
  )
})
