import type { Draft } from 'immer'
import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import { batchManifest } from '@/core/batch/batch-manifest'
import type { BatchChoice, BatchFile } from '@/core/batch/batch-plan'
import { safeFileName } from '@/core/formats/safe-file-name'
import { MOST_WRITTEN, type Project } from '@/data/project-schema'
import { makeFile } from './batch-make'
import { recordOf, type KnownFrames } from './batch-sources'
import { IsThereError, type BatchTarget } from './batch-targets'
import { recordIn } from './project-render'

/** A file of a batch on its way. */
export interface BatchRow extends BatchFile {
  readonly state: 'waiting' | 'working' | 'written' | 'failed'
  /** Why it failed. */
  readonly why: string | null
  readonly seconds: number
}

interface Batch {
  /** Of which project. */
  readonly projectId: string
  readonly state: 'none' | 'running' | 'paused' | 'over'
  readonly rows: readonly BatchRow[]
  /** Of the row at work, 0…1. */
  readonly share: number
}
export const useBatch = create<Batch>(() => ({ projectId: '', state: 'none', rows: [], share: 0 }))

export const isBatchBusy = ({ state }: Pick<Batch, 'state'>): boolean =>
  state === 'running' || state === 'paused'

/** Lets go of what a batch that is over told. */
export const forgetBatch = (): void => {
  if (!isBatchBusy(useBatch.getState())) useBatch.setState({ state: 'none', rows: [] })
}

let abort: AbortController | null = null
let goOn: (() => void) | null = null
/** What a batch is made from, and where it goes. */
interface Work {
  readonly project: Project
  readonly choice: BatchChoice
  readonly frames: KnownFrames
  readonly target: BatchTarget
}
let at: Work | null = null

const change = (file: string, patch: Partial<BatchRow>) =>
  useBatch.setState(({ rows }) => ({
    rows: rows.map((row) => (row.file === file ? { ...row, ...patch } : row)),
  }))

/**
 * Makes files one after the other; what fails is told beside its name and stops no other.
 * @returns what is to be saved, see {@link BatchTarget}; null also while some failed: they may be tried again.
 * @throws {CancelledError} when it was cancelled: a zip is not written then, files in a folder stay.
 */
export async function runBatch(work: Work, files: readonly BatchFile[]): Promise<Blob | null> {
  if (isBatchBusy(useBatch.getState())) throw new Error('another batch is being made')
  useBatch.setState({
    projectId: work.project.id,
    state: 'running',
    share: 0,
    rows: files.map((file) => ({ ...file, state: 'waiting', why: null, seconds: 0 })),
  })
  at = work
  return workOff()
}

/** Tries again what failed. @throws as {@link runBatch}. */
export function retryBatch(): Promise<Blob | null> {
  useBatch.setState(({ rows }) => ({
    state: 'running',
    rows: rows.map((row) => (row.state === 'failed' ? { ...row, state: 'waiting', why: null } : row)),
  }))
  return workOff()
}

/** Ends a batch of which some failed, without them. */
export const finishBatch = async (): Promise<Blob | null> => (at ? finish(at) : null)

/** Ends what was written, and remembers in the project what it showed. */
async function finish(work: Work): Promise<Blob | null> {
  if (work.choice.hasManifest) await writeManifest(work)
  const file = await work.target.finish()
  await note(work)
  return file
}

/** Writes what tells of the files, beside them; under a number where there is one of its name already. */
async function writeManifest({ project, target }: Work): Promise<void> {
  const written = useBatch.getState().rows.filter(({ state }) => state === 'written')
  if (written.length === 0) return
  const schemeName = (id: string) => project.schemes.find((scheme) => scheme.id === id)?.name ?? id
  const text = JSON.stringify(batchManifest(project.name, written, schemeName), null, 2) + '\n'
  const name = `${safeFileName(project.name)}_files`
  for (let number = 1; ; number++)
    try {
      const file = `${name}${number > 1 ? `_${number}` : ''}.json`
      await target.write(file, new Blob([text], { type: 'application/json' }), false)
      return
    } catch (error) {
      if (!(error instanceof IsThereError)) throw error
    }
}

async function note({ project, choice, frames }: Work): Promise<void> {
  const written = useBatch
    .getState()
    .rows.filter(({ state }) => state === 'written')
    .map((row) => recordOf(project, row, choice, frames))
  if (written.length === 0) return
  const known = new Set(written.map(({ identity }) => identity))
  await recordIn(project.id, (draft: Draft<Project>) => {
    const kept = draft.handOver.written.filter(({ identity }) => !known.has(identity))
    draft.handOver.written = [...kept, ...written].slice(-MOST_WRITTEN)
  })
}

export const pauseBatch = (): void => useBatch.setState({ state: 'paused' })

export function resumeBatch(): void {
  useBatch.setState({ state: 'running' })
  goOn?.()
}

export function cancelBatch(): void {
  abort?.abort()
  goOn?.()
}

async function workOff(): Promise<Blob | null> {
  if (!at) return null
  const work = at
  const { project, choice, frames, target } = work
  const own = new AbortController()
  abort = own
  try {
    for (const row of useBatch.getState().rows) {
      if (row.state === 'written') continue
      if (useBatch.getState().state === 'paused') await new Promise<void>((resolve) => (goOn = resolve))
      if (own.signal.aborted) throw new CancelledError('The batch')
      change(row.file, { state: 'working' })
      useBatch.setState({ share: 0 })
      const began = performance.now()
      try {
        const onShare = (share: number) => useBatch.setState({ share })
        const file = await makeFile(project, row, choice, frames, onShare, own.signal)
        await target.write(row.file, file, row.since === 'changed' && choice.replaces)
        change(row.file, { state: 'written', seconds: (performance.now() - began) / 1000 })
      } catch (error) {
        if (error instanceof CancelledError || own.signal.aborted) throw new CancelledError('The batch')
        change(row.file, { state: 'failed', why: error instanceof Error ? error.message : String(error) })
      }
    }
    useBatch.setState({ state: 'over' })
    return useBatch.getState().rows.some(({ state }) => state === 'failed') ? null : await finish(work)
  } catch (error) {
    // What is in a folder is there, whatever became of the rest.
    if (target.isLasting) await note(work)
    useBatch.setState({ state: 'none' })
    throw error
  } finally {
    abort = null
    goOn = null
  }
}

/** What became of a batch, as a text to be kept. */
export const batchLog = (rows: readonly BatchRow[]): string =>
  rows
    .map(({ file, state, why, width, height, seconds }) =>
      [
        state,
        file,
        `${width} × ${height}`,
        state === 'written' ? `${seconds.toFixed(1)} s` : (why ?? ''),
      ].join('\t'),
    )
    .join('\n') + '\n'
