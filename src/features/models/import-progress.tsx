'use client'

import { baseName } from '@/core/formats/file-bundle'
import { cancelImport, useImportStore } from '@/state/import-models'

const stageLabels = { reading: 'Reading', repairing: 'Mending', 'looking over': 'Looking over' } as const

/** What is being read, while something is. */
export function ImportProgress() {
  const progress = useImportStore((s) => s.progress)
  if (!progress) return null
  return (
    <span role="status" className="quiet busy" data-testid="importing">
      {progress.count > 1 && `${progress.index + 1} of ${progress.count}. `}
      {stageLabels[progress.stage]} {baseName(progress.name)}, {(progress.bytes / 1e6).toFixed(1)} MB{' '}
      <button className="link" onClick={cancelImport}>
        Cancel
      </button>
      <span className="progress busy">
        <div />
      </span>
    </span>
  )
}
