'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import type { Project, Shot } from '@/data/project-schema'
import { sheetService, syncSheet } from '@/state/sheet-sync'

/** How long the pointer rests before what is beneath it is looked up. */
const REST_MS = 90

/**
 * The part and material beneath a spot of the shot, from its ID pass; empty where there is none, or no ID pass.
 * @returns the name, and what to call when the pointer moves: shares of the whole picture, or null where it left.
 */
export function useSpotName(project: Project, shot: Shot) {
  const [name, setName] = useState('')
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  useEffect(() => () => clearTimeout(timer.current), [])
  const hasId = project.passes.some((p) => p.shotId === shot.id && p.kind === 'id' && p.rendered)
  const pointAt = useCallback(
    (place: { readonly x: number; readonly y: number } | null) => {
      clearTimeout(timer.current)
      if (!hasId || !place) {
        setName('')
        return
      }
      const look = async () => {
        await syncSheet(project)
        const { surface } = await sheetService().pick(
          shot.id,
          { ...shot.frame, fit: 'extend' },
          place.x,
          place.y,
        )
        setName(surface ? `${surface.partName} / ${surface.materialName}` : 'background')
      }
      timer.current = setTimeout(() => void look().catch(() => setName('')), REST_MS)
    },
    [project, shot.id, shot.frame, hasId],
  )
  return { name, pointAt }
}
