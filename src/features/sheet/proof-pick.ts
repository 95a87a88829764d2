import { create } from 'zustand'
import { toHex } from '@/core/math/colour'
import { activeSheet } from '@/data/active-shot'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'

/** A press on the proof that something waits for: what it is for, and what it is told. */
export interface ProofPick {
  readonly id: string
  readonly label: string
  /** In shares of the sheet's width and height. */
  readonly take: (x01: number, y01: number) => void
}

export const useProofPick = create<{ readonly pick: ProofPick | null }>(() => ({ pick: null }))

/** Waits for one press; asked for again, no longer. */
export const waitForPick = (pick: ProofPick): void =>
  useProofPick.setState((now) => ({ pick: now.pick?.id === pick.id ? null : pick }))

export const endPick = (): void => useProofPick.setState({ pick: null })

/** The colour that is seen at a place of the sheet; null beside it, and where it is clear. */
export async function colourSeen(x01: number, y01: number): Promise<string | null> {
  const { project } = useProjectStore.getState()
  if (!project) return null
  const { width, height } = activeSheet(project)
  const found = await askSheet(project, (worker) =>
    worker.contributions(Math.floor(x01 * width), Math.floor(y01 * height)),
  )
  if (!found || found.colour[3] === 0) return null
  const [r, g, b] = found.colour
  return toHex([r, g, b])
}
