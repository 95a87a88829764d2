'use client'

import { cancelExport, useExportWork } from '@/state/export-work'

/** What is being written while another step is open. */
export function ExportPill() {
  const { busy, share01 } = useExportWork()
  if (busy === null) return null
  return (
    <span className="pill" role="status" data-testid="export-pill">
      {busy}
      {share01 !== null && ` ${Math.round(100 * share01)} %`}{' '}
      <button className="link" onClick={cancelExport}>
        Cancel
      </button>
    </span>
  )
}
