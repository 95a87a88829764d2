'use client'

import Link from 'next/link'
import { useEffect } from 'react'
import Button from '@mui/material/Button'
import { flushSave } from '@/state/project-store'

/** Shown in place of a page that failed: what was made is saved first, then it can be opened again. */
export function PageStopped({ reason, again }: { reason: string; again: () => void }) {
  useEffect(() => {
    void flushSave()
  }, [])
  return (
    <main className="empty" role="alert">
      <h1 className="display">This page stopped</h1>
      <p>
        Something went wrong in the application ({reason}). Your projects are in this browser as you left
        them.
      </p>
      <Button variant="contained" onClick={again}>
        Open it again
      </Button>
      <Link href="/">All projects</Link>
    </main>
  )
}
