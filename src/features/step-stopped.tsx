'use client'

import Link from 'next/link'
import { useEffect } from 'react'
import Button from '@mui/material/Button'
import { flushSave } from '@/state/project-store'

/** Shown in place of a step that failed: what was made is saved first, then the step can be opened again. */
export function StepStopped({ reason, again }: { reason: string; again: () => void }) {
  useEffect(() => {
    void flushSave()
  }, [])
  return (
    <div className="empty" role="alert">
      <h2 className="display">This step stopped</h2>
      <p>
        Something went wrong in the application ({reason}). Your project is saved as it was before. Undo takes
        back the last change if it stops again.
      </p>
      <Button variant="contained" onClick={again}>
        Open it again
      </Button>
      <Link href="/">All projects</Link>
    </div>
  )
}
