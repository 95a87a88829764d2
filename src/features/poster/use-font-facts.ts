'use client'

import { useEffect, useState } from 'react'
import type { FontFacts } from '@/engine/sheet-requests'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'

/** What a font that was brought says of itself; null until that is known. */
export function useFontFacts(projectId: string, fontId: string | null): FontFacts | null {
  const [found, setFound] = useState<{ readonly id: string; readonly facts: FontFacts | null } | null>(null)
  const isKnown = found?.id === fontId
  useEffect(() => {
    if (fontId === null || isKnown) return
    let isOver = false
    const { project } = useProjectStore.getState()
    if (project?.id !== projectId) return
    askSheet(project, (worker) => worker.fontFacts(fontId))
      .then((facts) => {
        if (!isOver) setFound({ id: fontId, facts })
      })
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [projectId, fontId, isKnown])
  return isKnown ? (found?.facts ?? null) : null
}
