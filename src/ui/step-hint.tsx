'use client'

import { useEffect } from 'react'
import { useActions } from '@/state/actions'
import { loadHints, readHint, recallHints, useHints } from '@/state/hints'
import { setBench } from '@/state/view-store'
import { guidePageAt } from './guide/guide-dialog'
import { stepLabels, type Step } from './steps'

/** What is good to know at the first visit of a step. */
const HINTS: Readonly<Record<Step, string>> = {
  models: 'Drop a model anywhere here. What the report lists first shows in pictures; one press mends it.',
  shot: 'Drag to walk round it. Once it stands, lock the shot: all its passes fall onto each other.',
  passes: 'Draft all takes seconds. Press a pass to see what it is rendered with; then render it good.',
  sheet: 'Layers hang from the back, left, to the front. Drag the peel on the rack to see what each adds.',
  poster: 'Press where type shall stand. Lengths are those of the paper; the bleed lies outside the line.',
  turntable:
    'Drag along the strip: it turns at once. Press above a lane to set a key; frames are rendered after.',
  export: 'What is seen here is what is written. Many files in one press: the table below, or M.',
}

/** A line at the first visit of a step, until it is put away. */
export function StepHint({ step, projectId }: { readonly step: Step; readonly projectId: string }) {
  const read = useHints((s) => s.read)
  useEffect(() => void loadHints(), [])
  useActions('General', [{ id: 'hints', label: 'Show the first hints again', run: recallHints }])
  if (read === null || read.includes(step)) return null
  return (
    <aside className="step-hint" aria-label="Hint">
      <p>
        <b>{stepLabels[step]}.</b> {HINTS[step]}
      </p>
      <button
        className="link"
        onClick={() => setBench({ guide: guidePageAt(`/project/${projectId}/${step}`) })}
      >
        More in the guide
      </button>
      <button className="link" onClick={() => readHint(step)} data-testid="hint-read">
        Put away
      </button>
    </aside>
  )
}
