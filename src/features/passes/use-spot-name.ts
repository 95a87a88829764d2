'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import type { Project, Shot } from '@/data/project-schema'
import { askSheet } from '@/state/sheet-sync'

/** How long the pointer rests before what is beneath it is looked up. */
const REST_MS = 90

/**
 * The part and material beneath a spot of the shot, from its ID pass; empty where there is none, or no ID pass.
 * @returns the name, and what to call when the pointer moves: shares of the whole picture, or null where it left.
 */
export function useSpotName(project: Project, shot: Shot) {
  const [name, setName] = useState('')
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined)
  const pointed = useRef<Place | null>(null)
  const hasId = project.passes.some((p) => p.shotId === shot.id && p.kind === 'id' && p.rendered)
  const ask = useCallback(() => {
    clearTimeout(timer.current)
    const place = pointed.current
    if (!hasId || !place) {
      setName('')
      return
    }
    const look = async () => {
      const frame = { ...shot.frame, fit: 'extend' as const }
      const { surface } = await askSheet(project, (worker) => worker.pick(shot.id, frame, place.x, place.y))
      if (pointed.current !== place) return
      setName(surface ? `${surface.partName} / ${surface.materialName}` : 'background')
    }
    timer.current = setTimeout(() => void look().catch(() => setName('')), REST_MS)
  }, [project, shot.id, shot.frame, hasId])
  // What is beneath a pointer at rest may change, or come to be known: a pass rendered, a part renamed.
  useEffect(() => {
    ask()
    return () => clearTimeout(timer.current)
  }, [ask])
  const pointAt = useCallback(
    (place: Place | null) => {
      pointed.current = place
      ask()
    },
    [ask],
  )
  return { name, pointAt }
}

/** A spot of the whole picture, in shares of it. */
interface Place {
  readonly x: number
  readonly y: number
}
