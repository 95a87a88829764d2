'use client'

import { useEffect, useState } from 'react'
import type { Project } from '@/data/project-schema'
import type { SeenType } from '@/engine/sheet-requests'
import { askSheet } from '@/state/sheet-sync'

/** How a block of type is set now; what it was last until that is known. Null where it is none, or its font is not there. */
export function useTypeLayout(project: Project, layerId: string | null): SeenType | null {
  const [found, setFound] = useState<{ readonly id: string; readonly set: SeenType | null } | null>(null)
  useEffect(() => {
    if (layerId === null) return
    let isOver = false
    askSheet(project, (worker) => worker.typeLayout(layerId))
      .then((set) => {
        if (!isOver) setFound({ id: layerId, set })
      })
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [project, layerId])
  return found?.id === layerId ? found.set : null
}
