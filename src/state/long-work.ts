import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import { beginPending } from './project-store'

/** Something that takes longer than a moment, and ends in an edit: it is seen, and can be cancelled. */
export interface LongWork {
  readonly label: string
  /** How much of it is done, 0…1; null while that is not known. */
  readonly share01: number | null
  readonly cancel: () => void
}
export const useLongWork = create<{ readonly work: LongWork | null }>(() => ({ work: null }))

/**
 * Does it, seen by whoever looks on; undo cancels it before it takes anything back.
 * @param label what is done: "Pressing".
 * @returns what it gives; null when it was cancelled, or another is still under way: one at a time.
 */
export async function longWork<T>(
  label: string,
  work: (signal: AbortSignal, tell: (share01: number) => void) => Promise<T>,
): Promise<T | null> {
  if (useLongWork.getState().work) return null
  const abort = new AbortController()
  const cancel = () => abort.abort()
  const end = beginPending({ label: label.toLowerCase(), cancel })
  useLongWork.setState({ work: { label, share01: null, cancel } })
  try {
    return await work(abort.signal, (share01) => useLongWork.setState({ work: { label, share01, cancel } }))
  } catch (error) {
    if (abort.signal.aborted || error instanceof CancelledError) return null
    throw error
  } finally {
    end()
    useLongWork.setState({ work: null })
  }
}
