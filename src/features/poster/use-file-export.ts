'use client'

import { useRef, useState } from 'react'
import { CancelledError } from '@/core/errors'

/** A file that is written when its turn comes. */
export interface FileJob {
  readonly name: string
  /** @param tell how much of it is done, 0…1. */
  readonly write: (signal: AbortSignal, tell: (share01: number) => void) => Promise<void>
}

/** Writes files one after the other, with progress, and says what became of them. */
export function useFileExport() {
  const [busy, setBusy] = useState<string | null>(null)
  const [share, setShare] = useState<number | null>(null)
  const [told, setTold] = useState<{ readonly text: string; readonly bad: boolean } | null>(null)
  const abortRef = useRef<AbortController | null>(null)
  const run = async (jobs: readonly FileJob[]): Promise<void> => {
    if (abortRef.current) return
    const abort = new AbortController()
    abortRef.current = abort
    setBusy('Export')
    setShare(null)
    setTold(null)
    const done: string[] = []
    try {
      for (const [i, job] of jobs.entries()) {
        await job.write(abort.signal, (part) => setShare((i + part) / jobs.length))
        done.push(job.name)
      }
      setTold({
        text: `${done.join(', ')} ${done.length > 1 ? 'are' : 'is'} with your downloads.`,
        bad: false,
      })
    } catch (error) {
      const kept = done.length > 0 ? ` ${done.join(', ')} had been written before.` : ''
      const why = error instanceof Error ? error.message : String(error)
      setTold(
        error instanceof CancelledError
          ? { text: `Export cancelled.${kept || ' Nothing was written.'}`, bad: false }
          : { text: `Export did not succeed: ${why}.${kept} The project is unchanged.`, bad: true },
      )
    } finally {
      abortRef.current = null
      setBusy(null)
    }
  }
  return { busy, share, told, run, cancel: () => abortRef.current?.abort() }
}
