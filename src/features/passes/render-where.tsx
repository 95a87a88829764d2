'use client'

import { useEffect } from 'react'
import type { Project, ProjectPass } from '@/data/project-schema'
import { findStudio, useStudio } from '@/state/studio'
import { timeNeeded } from '@/state/studio-passes'
import { setBench, useViewStore } from '@/state/view-store'
import { timeLeft } from '@/ui/bench-shell'
import { useActions } from '@/state/actions'

const about = (seconds: number | null): string =>
  seconds === null ? 'not known yet' : `about ${timeLeft(seconds)}`

/** Where passes are rendered, and about how long all of them take at either place; nothing where there is no studio. */
export function RenderWhere({
  project,
  passes,
}: {
  readonly project: Project
  readonly passes: readonly ProjectPass[]
}) {
  const health = useStudio((s) => s.health)
  const renderAt = useViewStore((s) => s.renderAt)
  useEffect(() => void findStudio(), [])
  useActions('Passes', [
    {
      id: 'where',
      label: renderAt === 'here' ? 'Render passes at the studio' : 'Render passes here',
      run: () => health && setBench({ renderAt: renderAt === 'here' ? 'studio' : 'here' }),
    },
  ])
  if (!health) return null
  const threads = Math.max(1, navigator.hardwareConcurrency)
  const { here, there } = timeNeeded(project, passes, 'good', health.raysPerSecond, threads)
  const places = [
    ['here', 'Here', here],
    ['studio', 'At the studio', there],
  ] as const
  return (
    <div role="radiogroup" aria-label="Where it is rendered" className="render-where">
      {places.map(([place, label, seconds]) => (
        <label key={place}>
          <input
            type="radio"
            name="render-where"
            checked={renderAt === place}
            onChange={() => setBench({ renderAt: place })}
            data-testid={`where-${place}`}
          />
          <span>{label}</span>
          <span className="quiet" data-testid={`time-${place}`}>
            {about(seconds)}
          </span>
        </label>
      ))}
      <p className="quiet">All passes, good, by what they took last.</p>
    </div>
  )
}
