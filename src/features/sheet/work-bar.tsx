'use client'

import { useLongWork } from '@/state/long-work'
import { pageStyles } from '@/ui/page-styles'
import { ProgressBar } from '@/ui/progress-bar'

/** What is under way, how far it is, and a way out; nothing while nothing is. */
export function WorkBar() {
  const work = useLongWork((s) => s.work)
  if (!work) return null
  const { label, share01, cancel } = work
  return (
    <div className="work-bar" data-testid="work-bar">
      <WorkBarStyles />
      <div style={{ display: 'flex', gap: 12 }}>
        <span role="status">
          {label}
          {share01 !== null && `, ${Math.round(100 * share01)} %`}
        </span>
        <span className="spacer" />
        <button className="link" onClick={cancel}>
          Cancel
        </button>
      </div>
      <ProgressBar label={label} share01={share01} />
    </div>
  )
}

const WorkBarStyles = pageStyles({
  '.work-bar': {
    position: 'absolute',
    left: '50%',
    bottom: 34,
    width: 340,
    maxWidth: 'calc(100% - 32px)',
    transform: 'translateX(-50%)',
    padding: '10px 14px 12px',
    background: 'var(--raised)',
    border: '1px solid var(--rule-strong)',
    borderRadius: 6,
    boxShadow: '0 4px 16px #0004',
    // What takes a moment is not announced.
    animation: 'work-bar-in 120ms 300ms both',
  },
  '.work-bar .progress': { marginTop: 8 },
  '@keyframes work-bar-in': { from: { opacity: 0 }, to: { opacity: 1 } },
})
