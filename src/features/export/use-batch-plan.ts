'use client'

import { useEffect, useMemo, useState } from 'react'
import {
  batchFiles,
  choiceProblem,
  COLOURS_NOW,
  nextVersion,
  PURPOSES,
  type BatchChoice,
  type BatchFile,
  type BatchSource,
} from '@/core/batch/batch-plan'
import type { Project } from '@/data/project-schema'
import { framesThere } from '@/data/stored-frames'
import { batchBefore, batchSources, NO_FRAMES, type KnownFrames } from '@/state/batch-sources'
import { recordInProject } from '@/state/project-store'
import { planTurn } from '@/state/turn-plan'

/** The files of a project's batch, as they are chosen. */
export interface BatchPlan {
  readonly sources: readonly BatchSource[]
  readonly choice: BatchChoice
  readonly change: (patch: Partial<BatchChoice>) => void
  readonly files: readonly BatchFile[]
  /** Why nothing can be written; null: it can. */
  readonly problem: string | null
  readonly frames: KnownFrames
}

/** What is chosen at first: every sheet, for the screen. */
const firstChoice = (sources: readonly BatchSource[]): BatchChoice => ({
  ...PURPOSES.screen.choice,
  chosen: sources.filter(({ what }) => what === 'sheet').map(({ id }) => id),
  schemes: [COLOURS_NOW],
  frames: 'all',
  allowsLoss: false,
  onlyChanged: false,
  replaces: false,
  hasManifest: false,
})

/** The choice of a project without what is gone from it. */
function soundChoice(project: Project, sources: readonly BatchSource[]): BatchChoice {
  const { choice } = project.handOver
  if (!choice) return firstChoice(sources)
  const [ids, schemes] = [new Set(sources.map(({ id }) => id)), new Set(project.schemes.map(({ id }) => id))]
  return {
    ...choice,
    chosen: choice.chosen.filter((id) => ids.has(id)),
    schemes: choice.schemes.filter((id) => id === COLOURS_NOW || schemes.has(id)),
  }
}

/**
 * Plans the files of a batch; what is chosen is remembered in the project.
 * @param there names of files where they go, small letters.
 * @param onlyChanged whether it begins with what is another than when it was written.
 */
export function useBatchPlan(project: Project, there: ReadonlySet<string>, onlyChanged: boolean): BatchPlan {
  const sources = useMemo(() => batchSources(project), [project])
  const [choice, setChoice] = useState<BatchChoice>(() => {
    const own = soundChoice(project, sources)
    return onlyChanged ? { ...own, onlyChanged } : own
  })
  const turnIds = sources
    .filter(({ what, id }) => what === 'turn' && choice.chosen.includes(id))
    .map(({ id }) => id)
    .join(' ')
  const frames = useKnownFrames(project, turnIds)
  const change = (patch: Partial<BatchChoice>) => {
    const next = { ...choice, ...patch }
    setChoice(next)
  }
  useEffect(() => {
    // Not on every key: when it has come to rest.
    const timer = setTimeout(() => recordInProject((draft) => void (draft.handOver.choice = choice)), 300)
    return () => clearTimeout(timer)
  }, [choice])
  const planned = useMemo(() => {
    const before = batchBefore(project, choice, there, frames)
    const version = nextVersion(project.name, sources, choice, before)
    return batchFiles(project.name, sources, choice, version, before)
  }, [project, choice, there, frames, sources])
  const nothing =
    planned.length === 0 && choice.chosen.length > 0 ? 'Nothing changed since it was written.' : null
  const problem =
    choiceProblem(choice, sources) ?? planned.find((file) => file.problem !== null)?.problem ?? nothing
  return { sources, choice, change, files: planned, problem, frames }
}

/** What frames of some turntables are kept under, and which are there. @param turnIds ids with spaces between. */
function useKnownFrames(project: Project, turnIds: string): KnownFrames {
  const [known, setKnown] = useState(NO_FRAMES)
  useEffect(() => {
    if (turnIds === '') return
    const abort = new AbortController()
    const look = async () => {
      const names = new Map<string, readonly string[]>()
      for (const turn of project.turns.filter(({ id }) => turnIds.split(' ').includes(id)))
        names.set(turn.id, (await planTurn(project, turn, abort.signal)).names)
      const there = await framesThere(project.id)
      if (!abort.signal.aborted) setKnown({ names, there })
    }
    // Without them frames are told to be missing.
    void look().catch(() => undefined)
    return () => abort.abort()
  }, [project, turnIds])
  return known
}
