import { create } from 'zustand'

/** What is looked at: not part of the project, not undone. */
interface ViewState {
  readonly layerId: string | null
  readonly passId: string | null
  readonly partKeys: readonly string[]
  /** How many layers from the back are shown; Infinity when nothing is peeled. */
  readonly peel: number
  /** Seam of the comparison, 0…1 of the picture's width; null when not comparing. */
  readonly seam: number | null
  /** Grey around pictures, 0…1. */
  readonly ground: number
  readonly finderOpen: boolean
  readonly shortcutsOpen: boolean
}

export const useViewStore = create<ViewState>(() => ({
  layerId: null,
  passId: null,
  partKeys: [],
  peel: Infinity,
  seam: null,
  ground: 0.48,
  finderOpen: false,
  shortcutsOpen: false,
}))
export const setBench = (patch: Partial<ViewState>): void => useViewStore.setState(patch)
