'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
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
  const remember = useRemembered()
  const change = (patch: Partial<BatchChoice>) => {
    setChoice({ ...choice, ...patch })
    // What it was opened for is not how the project is handed over.
    const kept = patch.onlyChanged ?? project.handOver.choice?.onlyChanged ?? false
    remember({ ...choice, ...patch, onlyChanged: kept })
  }
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

/** Remembers a choice in the project: not on every key, but when it has come to rest, or the table is closed. */
function useRemembered(): (choice: BatchChoice) => void {
  const owed = useRef<{ timer: ReturnType<typeof setTimeout>; pay: () => void } | null>(null)
  useEffect(
    () => () => {
      clearTimeout(owed.current?.timer)
      owed.current?.pay()
    },
    [],
  )
  return (choice) => {
    clearTimeout(owed.current?.timer)
    const pay = () => {
      owed.current = null
      recordInProject((draft) => void (draft.handOver.choice = choice))
    }
    owed.current = { timer: setTimeout(pay, 300), pay }
  }
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
