'use client'

import { ProgressBar } from '@/ui/progress-bar'

const BUSY_TEXT: Readonly<Record<string, string>> = {
  Export: 'Writing the sheet',
  Archive: 'Packing the archive',
  Lines: 'Finding the lines',
  Separations: 'Separating the parts',
  Passes: 'Writing the passes',
  Scene: 'Writing the scene',
}

interface ExportProgressProps {
  /** What is written. */
  readonly busy: string
  readonly share01: number | null
  readonly onCancel: () => void
}

/** How far the writing of a file is. */
export function ExportProgress({ busy, share01: share, onCancel }: ExportProgressProps) {
  return (
    <div style={{ paddingTop: 4 }}>
      <div style={{ display: 'flex', gap: 8 }}>
        <span role="status">
          {BUSY_TEXT[busy] ?? busy}
          {share !== null && `, ${Math.round(share * 100)} %`}
        </span>
        <span className="spacer" />
        <button className="link" onClick={onCancel}>
          Cancel
        </button>
      </div>
      <ProgressBar label={busy} share01={share} />
    </div>
  )
}
