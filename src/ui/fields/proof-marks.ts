'use client'

import { useEffect, useId } from 'react'
import { create } from 'zustand'

/** Places that an open parameter has on the sheet: they are dragged on the proof. */
export interface ProofMark {
  readonly label: string
  /** In shares of the sheet's width and height. Three or more are corners of a closed shape. */
  readonly places: readonly (readonly [number, number])[]
  readonly onMove: (index: number, place: readonly [number, number]) => void
}

export const useProofMarks = create<{ readonly marks: Readonly<Record<string, ProofMark>> }>(() => ({
  marks: {},
}))

/** Shows places on the proof for as long as their field is open. */
export function useProofMark(mark: ProofMark): void {
  const id = useId()
  useEffect(() => {
    useProofMarks.setState(({ marks }) => ({ marks: { ...marks, [id]: mark } }))
  }, [id, mark])
  useEffect(
    () => () =>
      useProofMarks.setState(({ marks }) => {
        const { [id]: _gone, ...rest } = marks
        return { marks: rest }
      }),
    [id],
  )
}
