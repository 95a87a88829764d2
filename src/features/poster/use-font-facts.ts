'use client'

import { useEffect, useState } from 'react'
import type { Project } from '@/data/project-schema'
import type { FontFacts } from '@/engine/sheet-requests'
import { askSheet } from '@/state/sheet-sync'

/** What a font that was brought says of itself; null until that is known. */
export function useFontFacts(project: Project, fontId: string | null): FontFacts | null {
  const [found, setFound] = useState<{ readonly id: string; readonly facts: FontFacts | null } | null>(null)
  const isKnown = found?.id === fontId
  useEffect(() => {
    if (fontId === null || isKnown) return
    let isOver = false
    askSheet(project, (worker) => worker.fontFacts(fontId))
      .then((facts) => {
        if (!isOver) setFound({ id: fontId, facts })
      })
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [project, fontId, isKnown])
  return isKnown ? (found?.facts ?? null) : null
}
