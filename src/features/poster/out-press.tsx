'use client'

import Button from '@mui/material/Button'
import { ExportProgress } from '../export/export-progress'
import type { useFileExport } from './use-file-export'

interface OutPressProps {
  readonly out: ReturnType<typeof useFileExport>
  readonly label: string
  readonly onPress: () => void
}

/** The button that writes files, its progress, and what became of them. */
export function OutPress({ out, label, onPress }: OutPressProps) {
  return (
    <>
      {out.busy ? (
        <ExportProgress busy={out.busy} share01={out.share} onCancel={out.cancel} />
      ) : (
        <Button variant="contained" fullWidth onClick={onPress} data-testid="export-poster">
          {label}
        </Button>
      )}
      {out.told && (
        <div
          className={out.told.bad ? 'problem' : 'quiet'}
          role="status"
          data-testid="poster-told"
          style={{ marginTop: 8 }}
        >
          {out.told.text}
        </div>
      )}
    </>
  )
}
