'use client'

import { useEffect, useRef, useState } from 'react'
import type { Content } from '@/core/sheet/contents/registry'
import type { Project } from '@/data/project-schema'
import type { SeenType } from '@/engine/sheet-requests'
import { askSheet } from '@/state/sheet-sync'

/**
 * How a block of type is set now; what it was last until that is known. Null where it is none, or its font is not there.
 * @param content of the block, null where the layer is none: it is asked for again when that has changed, or the page's size.
 */
export function useTypeLayout(
  project: Project,
  layerId: string | null,
  content: Content | null,
  size: string,
): SeenType | null {
  const [found, setFound] = useState<{ readonly id: string; readonly set: SeenType | null } | null>(null)
  const latest = useRef(project)
  useEffect(() => {
    latest.current = project
  })
  useEffect(() => {
    if (layerId === null || content === null) return
    let isOver = false
    askSheet(latest.current, (worker) => worker.typeLayout(layerId))
      .then((set) => {
        if (!isOver) setFound({ id: layerId, set })
      })
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [layerId, content, size])
  return found?.id === layerId ? found.set : null
}
