'use client'

import { useEffect, useRef } from 'react'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { goInHistory, useProjectStore } from '@/state/project-store'
import { setBench } from '@/state/view-store'
import { SheetThumbnail } from './sheet-thumbnail'

interface Step {
  readonly key: string
  readonly label: string
  /** How many steps it is from now: below zero it was before. */
  readonly from: number
  readonly project: Project
}

/** All that was done and can be taken back, the newest first, each with how the sheet was after it. */
export function HistoryPanel({ project }: { readonly project: Project }) {
  const past = useProjectStore((s) => s.past)
  const future = useProjectStore((s) => s.future)
  const nowRef = useRef<HTMLButtonElement>(null)
  const count = past.length
  // A step holds how the project was before it: how it was after it is what the next one holds.
  const steps: Step[] = [
    ...future.map(({ label, project: own }, i) => ({
      key: `after ${i}`,
      label,
      from: future.length - i,
      project: own,
    })),
    ...past
      .map(({ label }, i) => ({
        key: `past ${i}`,
        label,
        from: i + 1 - count,
        project: past[i + 1]?.project ?? project,
      }))
      .reverse(),
    { key: 'first', label: 'As far back as it goes', from: -count, project: past[0]?.project ?? project },
  ]
  useEffect(() => {
    nowRef.current?.scrollIntoView({ block: 'nearest' })
  }, [count])
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">History</h2>
        <button className="link" onClick={() => setBench({ panel: null })}>
          Close
        </button>
      </div>
      <ol className="history-list" reversed>
        {steps.map(({ key, label, from, project: own }) => (
          <li key={key}>
            <button
              ref={from === 0 ? nowRef : undefined}
              aria-current={from === 0 ? 'step' : undefined}
              data-undone={from > 0}
              onClick={() => goInHistory(from)}
            >
              <SheetThumbnail project={project} sheet={activeSheet(own)} />
              <span>
                {label}
                {from === 0 && <b> now</b>}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </>
  )
}
