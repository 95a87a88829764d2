'use client'

import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js'
import { useRef, useState } from 'react'
import { CancelledError } from '@/core/errors'
import { saveFile } from '@/ui/save-file'

/** A file that is made when its turn comes. */
export interface FileJob {
  readonly name: string
  readonly media: string
  /** @param tell how much of it is done, 0…1. */
  readonly make: (
    signal: AbortSignal,
    tell: (share01: number) => void,
  ) => Promise<Blob | Uint8Array<ArrayBuffer>>
}

/** Makes files one after the other, with progress, and says what became of them. Several leave together, in one zip. */
export function useFileExport() {
  const [busy, setBusy] = useState<string | null>(null)
  const [share, setShare] = useState<number | null>(null)
  const [told, setTold] = useState<{ readonly text: string; readonly bad: boolean } | null>(null)
  const abortRef = useRef<AbortController | null>(null)
  /** @param together what several are called together, without ending. */
  const run = async (jobs: readonly FileJob[], together: string): Promise<void> => {
    if (abortRef.current) return
    const abort = new AbortController()
    abortRef.current = abort
    setBusy('Export')
    setShare(null)
    setTold(null)
    const zip =
      jobs.length > 1 ? new ZipWriter(new BlobWriter('application/zip'), { useWebWorkers: false }) : null
    const name = zip ? `${together}.zip` : (jobs[0]?.name ?? '')
    let at = ''
    try {
      for (const [i, job] of jobs.entries()) {
        at = job.name
        const made = await job.make(abort.signal, (part) => setShare((i + part) / jobs.length))
        const file = made instanceof Blob ? made : new Blob([made], { type: job.media })
        // They are as small as they get already.
        if (zip) await zip.add(job.name, new BlobReader(file), { level: 0 })
        else saveFile(name, file, job.media)
      }
      if (zip) saveFile(name, await zip.close(), 'application/zip')
      const held = zip ? ` It holds ${jobs.map((job) => job.name).join(', ')}.` : ''
      setTold({ text: `${name} is with your downloads.${held}`, bad: false })
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error)
      setTold(
        error instanceof CancelledError
          ? { text: 'Export cancelled. Nothing was written.', bad: false }
          : {
              text: `${at} could not be made: ${why}. Nothing was written, the project is unchanged.`,
              bad: true,
            },
      )
    } finally {
      abortRef.current = null
      setBusy(null)
    }
  }
  return { busy, share, told, run, cancel: () => abortRef.current?.abort() }
}
