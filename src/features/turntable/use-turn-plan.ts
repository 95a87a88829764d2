'use client'

import { useEffect, useState } from 'react'
import type { Turn } from '@/core/turn/turn-schema'
import type { Project } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { planTurn, type TurnPlan } from '@/state/turn-plan'

/** A hand that goes on moving is not planned for. Milliseconds. */
const REST_MS = 140

/** What the frames of a turntable are made from, as soon as it is worked out; null before. The last one while a newer is. */
export function useTurnPlan(project: Project, turn: Turn): TurnPlan | null {
  const [plan, setPlan] = useState<TurnPlan | null>(null)
  const meshes = useMeshStore((s) => s.models)
  const { name, models, groups, rigs, passes, sheets, shots, pictures, sequences } = project
  useEffect(() => {
    const abort = new AbortController()
    const timer = setTimeout(() => {
      planTurn(project, turn, abort.signal)
        .then((made) => {
          if (!abort.signal.aborted) setPlan(made)
        })
        .catch(() => undefined)
    }, REST_MS)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what else the project holds changes no frame
  }, [name, models, groups, rigs, passes, sheets, shots, pictures, sequences, meshes, turn])
  return plan?.stage.turn.id === turn.id ? plan : null
}
