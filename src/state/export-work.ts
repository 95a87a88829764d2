import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import { useProjectStore } from './project-store'

/** What is being written: one thing at a time. It goes on where another step is opened meanwhile. */
interface ExportWork {
  /** What it is called, or null. */
  readonly busy: string | null
  /** How much of it is done, 0…1; null: not known. */
  readonly share01: number | null
  /** How the last one ended. */
  readonly told: { readonly text: string; readonly bad: boolean } | null
}
export const useExportWork = create<ExportWork>(() => ({ busy: null, share01: null, told: null }))

let abort: AbortController | null = null

/** What went wrong, in words that tell what to do. */
function problemIn(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return /allocation|out of memory|invalid array length/i.test(text)
    ? 'this tab has not enough memory for a picture of that size. Choose a smaller one.'
    : `${text}.`
}

/** Does it unless something is written already. @param action gives what is told at its end, empty for nothing. */
export async function attemptExport(
  what: string,
  action: (signal: AbortSignal) => Promise<string>,
): Promise<void> {
  // Keys and buttons alike: one thing is written at a time.
  if (abort) return
  const own = new AbortController()
  abort = own
  useExportWork.setState({ busy: what, share01: null, told: null })
  let told: ExportWork['told']
  try {
    const text = await action(own.signal)
    told = text ? { text, bad: false } : null
  } catch (error) {
    told =
      error instanceof CancelledError
        ? { text: `${what} cancelled. Nothing was written.`, bad: false }
        : { text: `${what} did not succeed: ${problemIn(error)} The project is unchanged.`, bad: true }
  }
  abort = null
  useExportWork.setState({ busy: null, told })
}

export const tellExport = (share01: number): void => useExportWork.setState({ share01 })

export function cancelExport(): void {
  abort?.abort()
}

/** What was told is no longer of interest. */
export const forgetExport = (): void => useExportWork.setState({ told: null })

// What was told of one project is nothing that another wants to hear.
useProjectStore.subscribe((now, before) => {
  if (now.project?.id !== before.project?.id) forgetExport()
})
