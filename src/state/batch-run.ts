import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js'
import { create } from 'zustand'
import { CancelledError } from '@/core/errors'
import type { BatchChoice, BatchFile, BatchSource } from '@/core/batch/batch-plan'
import { lookOnSheet } from '@/data/look-on-sheet'
import type { Project, ProjectPass, ProjectSheet } from '@/data/project-schema'
import { seenAs } from '@/data/sheet-needs'
import { passAsFile } from '@/data/storage-service'
import { exportSheetFile } from './sheet-sync'

/** Where files of a batch go, one after the other. */
export interface BatchTarget {
  readonly write: (file: string, content: Blob) => Promise<void>
  /** After the last. @returns what is to be saved; null: it is where it belongs. */
  readonly finish: () => Promise<Blob | null>
}

/** All in one zip, which the browser keeps on disk while it grows. */
export function zipTarget(): BatchTarget {
  const zip = new ZipWriter(new BlobWriter('application/zip'), { useWebWorkers: false })
  return {
    // Pictures are as small as they get already.
    write: async (file, content) => void (await zip.add(file, new BlobReader(content), { level: 0 })),
    finish: () => zip.close(),
  }
}

/** Into a folder of the person's. A file appears there when it is whole; what is there already stays as it is. */
export function folderTarget(folder: FileSystemDirectoryHandle): BatchTarget {
  return {
    write: async (file, content) => {
      const steps = file.split('/')
      let at = folder
      for (const step of steps.slice(0, -1)) at = await at.getDirectoryHandle(step, { create: true })
      const name = steps.at(-1) ?? file
      if (await isIn(at, name)) throw new Error('is there already')
      const handle = await at.getFileHandle(name, { create: true })
      const writable = await handle.createWritable()
      try {
        await writable.write(content)
        await writable.close()
      } catch (error) {
        await writable.abort().catch(() => undefined)
        throw error
      }
    },
    finish: () => Promise.resolve(null),
  }
}

async function isIn(folder: FileSystemDirectoryHandle, name: string): Promise<boolean> {
  try {
    await folder.getFileHandle(name)
    return true
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotFoundError') return false
    throw error
  }
}

/** Names of files in a folder and below it, small letters. */
export async function filesIn(folder: FileSystemDirectoryHandle, before = ''): Promise<Set<string>> {
  const found = new Set<string>()
  for await (const [name, handle] of folder.entries()) {
    const own = `${before}${name}`.toLowerCase()
    if (handle.kind === 'file') found.add(own)
    else
      for (const file of await filesIn(handle as FileSystemDirectoryHandle, `${before}${name}/`))
        found.add(file)
  }
  return found
}

/** Sheets of a project, and those of its passes that are rendered. */
export function batchSources(project: Project): BatchSource[] {
  const { sheets, passes, shots, posters } = project
  /** Pages of several posters are often called alike. */
  const named = (sheet: ProjectSheet) => {
    const poster = posters.find(({ id }) => id === (sheet.mockupOf ?? sheet.page?.posterId))
    return poster ? `${poster.name}, ${sheet.name}` : sheet.name
  }
  const shotName = (id: string | null) => shots.find((shot) => shot.id === id)?.name ?? ''
  return [
    ...sheets.map((sheet) => ({
      what: 'sheet' as const,
      id: sheet.id,
      name: named(sheet),
      shot: shotName(sheet.shotId),
      width: sheet.width,
      height: sheet.height,
    })),
    ...passes.flatMap(({ id, name, shotId, rendered }) =>
      rendered
        ? [
            {
              what: 'pass' as const,
              id,
              name,
              shot: shotName(shotId),
              width: rendered.width,
              height: rendered.height,
            },
          ]
        : [],
    ),
  ]
}

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
let at: { readonly project: Project; readonly choice: BatchChoice; readonly target: BatchTarget } | null =
  null

const change = (file: string, patch: Partial<BatchRow>) =>
  useBatch.setState(({ rows }) => ({
    rows: rows.map((row) => (row.file === file ? { ...row, ...patch } : row)),
  }))

/**
 * Makes files one after the other; what fails is told beside its name and stops no other.
 * @returns what is to be saved, see {@link BatchTarget}; null also while some failed: they may be tried again.
 * @throws {CancelledError} when it was cancelled: a zip is not written then, files in a folder stay.
 */
export async function runBatch(
  project: Project,
  files: readonly BatchFile[],
  choice: BatchChoice,
  target: BatchTarget,
): Promise<Blob | null> {
  if (isBatchBusy(useBatch.getState())) throw new Error('another batch is being made')
  useBatch.setState({
    projectId: project.id,
    state: 'running',
    share: 0,
    rows: files.map((file) => ({ ...file, state: 'waiting', why: null, seconds: 0 })),
  })
  at = { project, choice, target }
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
export const finishBatch = async (): Promise<Blob | null> => (await at?.target.finish()) ?? null

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
  const { project, choice, target } = at
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
        await target.write(row.file, await made(project, row, choice, own.signal))
        change(row.file, { state: 'written', seconds: (performance.now() - began) / 1000 })
      } catch (error) {
        if (error instanceof CancelledError || own.signal.aborted) throw new CancelledError('The batch')
        change(row.file, { state: 'failed', why: error instanceof Error ? error.message : String(error) })
      }
    }
    useBatch.setState({ state: 'over' })
    return useBatch.getState().rows.some(({ state }) => state === 'failed') ? null : await target.finish()
  } catch (error) {
    useBatch.setState({ state: 'none' })
    throw error
  } finally {
    abort = null
    goOn = null
  }
}

function made(project: Project, row: BatchFile, choice: BatchChoice, signal: AbortSignal): Promise<Blob> {
  const { source, width, height } = row
  if (source.what === 'sheet') {
    const sheet = project.sheets.find(({ id }) => id === source.id)
    if (!sheet) throw new Error('the sheet is gone')
    const message = {
      type: 'export',
      format: choice.sheetFormat,
      size: { width, height },
      transparent: false,
    } as const
    return exportSheetFile(project, sheet, message, (share) => useBatch.setState({ share }), signal)
  }
  const pass = project.passes.find(({ id }) => id === source.id)
  const rendered = pass && renderedNow(project, pass)
  if (!pass || !rendered) throw new Error('the pass is not rendered')
  const look = lookOnSheet(project, pass.id, pass.kind)
  return passAsFile({ projectId: project.id, rendered, look, format: choice.passFormat }, signal)
}

/** A pass as it was rendered, under the lights and in the colours of now. */
export function renderedNow(
  project: Project,
  pass: ProjectPass,
): NonNullable<ProjectPass['rendered']> | null {
  if (!pass.rendered) return null
  const { facts, lights, surfaces } = seenAs(project, pass)
  const plain = structuredClone({ lights, surfaces }) as Pick<
    NonNullable<ProjectPass['rendered']>,
    'lights' | 'surfaces'
  >
  return { ...pass.rendered, ...plain, facts: { ...(facts ?? pass.rendered.facts) } }
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
