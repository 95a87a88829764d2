'use client'

import { cancelStudio, useStudio, type StudioWork } from '@/state/studio'
import { timeLeft } from './bench-shell'
import { ProgressBar } from './progress-bar'

/** How far the studio's machine is, in words. */
function words({ state, progress, secondsLeft }: StudioWork): string {
  if (state === 'sending') return 'At the studio: the project is sent.'
  if (state === 'waiting') return 'At the studio: it waits for its turn.'
  const left = secondsLeft === null ? '' : `, ${timeLeft(secondsLeft)} left`
  return `At the studio: ${Math.round(100 * progress)} %${left}.`
}

/** What the studio's machine makes for this tab, and why the last of it ended. @param isShown which works belong here. */
export function StudioWorks({ isShown }: { readonly isShown: (work: StudioWork) => boolean }) {
  const works = useStudio((s) => s.works).filter(isShown)
  const problem = useStudio((s) => s.problem)
  return (
    <>
      {problem && (
        <p className="problem" role="alert">
          The studio: {problem}
        </p>
      )}
      {works.map((work) => (
        <div key={work.id} data-testid="studio-work">
          <p className="idle-note" role="status" data-testid="studio-told">
            <b>{work.label}</b> {words(work)}{' '}
            <button className="link" onClick={() => cancelStudio(work.id)}>
              Give it up
            </button>
          </p>
          <ProgressBar
            label={`${work.label}, at the studio`}
            share01={work.state === 'sending' ? null : work.progress}
          />
        </div>
      ))}
    </>
  )
}
