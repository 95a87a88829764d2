'use client'

import {
  cancelRender,
  isRunning,
  moveRender,
  pauseRender,
  resumeRender,
  useRenderQueue,
  type RenderJob,
} from '@/state/render-queue'
import { timeLeft } from '@/ui/bench-shell'
import { ProgressBar } from '@/ui/progress-bar'

const stateText = ({ state, secondsLeft }: RenderJob): string => {
  if (state !== 'rendering') return state
  return secondsLeft === null ? 'starting' : `${timeLeft(secondsLeft)} left`
}

/** What is rendered now and what waits: each can be paused, put in another place, or ended. */
export function RenderQueuePanel() {
  const jobs = useRenderQueue((s) => s.jobs)
  if (jobs.length === 0) return null
  return (
    <section style={{ paddingBottom: 12 }} aria-label="Render queue">
      {jobs.map((job, i) => (
        <div key={job.id} data-testid="job" data-state={job.state}>
          <div style={{ display: 'flex', gap: 8, alignItems: 'baseline' }}>
            <b>
              {job.passIds.length} {job.passIds.length === 1 ? 'pass' : 'passes'}, {job.quality}
            </b>
            <span className="quiet">{stateText(job)}</span>
            <span className="spacer" />
            {!isRunning(job) && i > 0 && !isRunning(jobs[i - 1]) && (
              <button className="link" aria-label="Move up the queue" onClick={() => moveRender(job.id, -1)}>
                Up
              </button>
            )}
            {job.state === 'paused' ? (
              <button className="link" data-testid="resume-job" onClick={() => resumeRender(job.id)}>
                Go on
              </button>
            ) : (
              <button className="link" data-testid="pause-job" onClick={() => pauseRender(job.id)}>
                Pause
              </button>
            )}
            <button className="link" data-testid="cancel-job" onClick={() => cancelRender(job.id)}>
              Cancel
            </button>
          </div>
          {job.reason && (
            <p role="alert" style={{ margin: '2px 0 4px' }}>
              Stopped: {job.reason}. What is finished is kept.
            </p>
          )}
          <ProgressBar label="Rendered" share01={job.total > 0 ? job.done / job.total : null} />
        </div>
      ))}
    </section>
  )
}
