import type { Draft } from 'immer'
import { produce } from 'immer'
import { create } from 'zustand'
import { beforeOf } from '@/data/before-passes'
import {
  clearUnused,
  clearUnusedResults,
  loadStored,
  ProjectGoneError,
  saveProject,
  setDeleted,
  storageProblem,
} from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { seriesInStep } from '@/data/poster-series'
import { beginJournal, dropSavedEdits, noteEdit, replayJournal } from './edit-journal'
import { handRest } from './hand-rest'
import { isSound, readHistory, storedHistory, type History, type HistoryStep } from './history'
import { holdProject, isHeld, letGoOf, onProjectLost } from './project-lock'
import { onTabMessage, tellTabs } from './tabs'

/** Why the project asked for is not open in this tab, where another tab is the reason. */
export type Elsewhere = 'open' | 'deleted'

/** The open project, its history, and saving it as it changes. */
interface ProjectState {
  readonly project: Project | null
  readonly problem: string | null
  /** Set where another tab has the project, which alone may change it, or has deleted it. */
  readonly elsewhere: Elsewhere | null
  readonly past: readonly HistoryStep[]
  readonly future: readonly HistoryStep[]
  /** What was decided and is still being worked out, oldest first: the first thing that undo takes back. */
  readonly pending: readonly PendingEdit[]
  readonly saving: 'saved' | 'saving' | 'failed'
}

export interface PendingEdit {
  readonly label: string
  readonly cancel: () => void
}

const NOTHING_OPEN: ProjectState = {
  project: null,
  problem: null,
  elsewhere: null,
  past: [],
  future: [],
  pending: [],
  saving: 'saved',
}
export const useProjectStore = create<ProjectState>(() => NOTHING_OPEN)

const MOST_STEPS = 200
/** Changes with the same merge key are one undo step when the hand rested less than this between them. Milliseconds. */
const MERGE_MS = 900
let lastMerge = { key: '', at: -Infinity }

/** The project is saved when the hand has rested for so long, … Milliseconds. */
const SAVE_REST_MS = 300
/** … and at the latest so long after the first edit that is not saved: until then the journal alone has it. */
const SAVE_LATEST_MS = 2500

let saveTimer: ReturnType<typeof setTimeout> | null = null
let unsavedSince: number | null = null
let saveChain: Promise<void> = Promise.resolve()
/** Number of the open project's last edit. */
let edit = 0
/** Id of the project that is open, or was until another tab took it. */
let openId = ''

/** Writes the open project now. */
export function flushSave(): Promise<void> {
  if (saveTimer) clearTimeout(saveTimer)
  saveTimer = null
  unsavedSince = null
  const { project, past, future } = useProjectStore.getState()
  if (!project) return saveChain
  const now = edit
  saveChain = saveChain.then(async () => {
    try {
      await saveProject(project, now, storedHistory(project, { past, future }, now))
      dropSavedEdits(project.id, now)
      if (useProjectStore.getState().project === project)
        useProjectStore.setState({ saving: 'saved', problem: null })
    } catch (error) {
      if (error instanceof ProjectGoneError) lose('deleted')
      else useProjectStore.setState({ saving: 'failed', problem: storageProblem(error) })
    }
  })
  return saveChain
}

function saveSoon(): void {
  const now = Date.now()
  unsavedSince ??= now
  if (saveTimer) clearTimeout(saveTimer)
  const wait = Math.min(SAVE_REST_MS, Math.max(0, unsavedSince + SAVE_LATEST_MS - now))
  saveTimer = setTimeout(() => void flushSave(), wait)
  if (useProjectStore.getState().saving !== 'saving') useProjectStore.setState({ saving: 'saving' })
}

/** Puts the next state of the open project in place, and notes at once what is not saved yet. */
function setProject(before: Project, patch: Partial<ProjectState> & { readonly project: Project }): void {
  edit++
  useProjectStore.setState(patch)
  if (noteEdit(edit, before, patch.project)) saveSoon()
  else void flushSave()
}

/** Another tab took the project, or deleted it. What was not saved yet stands in the journal, for who opens it next. */
function lose(elsewhere: Elsewhere): void {
  if (saveTimer) clearTimeout(saveTimer)
  saveTimer = null
  beginJournal('')
  letGoOf(openId, 'open')
  useProjectStore.setState({ ...NOTHING_OPEN, elsewhere })
}

/** Counts calls of {@link openProject}: only the latest may set what is open. */
let opening = 0

/** Opens a project. @param steal also when another tab holds it, which then closes it. */
export async function openProject(id: string, steal = false): Promise<void> {
  if (useProjectStore.getState().project?.id === id) return
  await closeProject()
  const turn = ++opening
  openId = id
  try {
    if (!(await holdProject(id, 'open', { steal }))) {
      if (turn === opening) useProjectStore.setState({ elsewhere: 'open' })
      return
    }
    const stored = await loadStored(id)
    if (turn !== opening) return
    const { project, edit: last } = replayJournal(stored.project, stored.edit)
    edit = last
    beginJournal(id, stored.edit)
    const { past, future } = readHistory(stored.project, stored.history, stored.edit)
    // What had not been saved is one step: nobody knows any more how many it was.
    const isWhole = last === stored.edit
    const before = isWhole ? past : [...past, { label: 'what was not saved', project: stored.project }]
    useProjectStore.setState({ project, past: before, future: isWhole ? future : [] })
    if (!isWhole) await flushSave()
    // A render that went on meanwhile has results that the project does not name yet.
    if (!isHeld(id, 'render')) {
      void clearUnused(project, reachedFrom(project, { past: before, future })).catch(() => undefined)
    }
  } catch (error) {
    if (turn !== opening) return
    letGoOf(id, 'open')
    useProjectStore.setState({ problem: error instanceof Error ? error.message : String(error) })
  }
}

/** Drops results that the open project and its history do not name: what a render that was cut off had stored, and not told yet. */
export async function clearCutOffResults(): Promise<void> {
  await flushSave()
  const { project, past, future, saving } = useProjectStore.getState()
  if (!project || saving === 'failed' || isHeld(project.id, 'studio')) return
  await clearUnusedResults(project, reachedFrom(project, { past, future }))
}

export async function closeProject(): Promise<void> {
  const turn = ++opening
  const id = openId
  openId = ''
  await flushSave()
  letGoOf(id, 'open')
  if (turn === opening) useProjectStore.setState(NOTHING_OPEN)
}

/** Brings a project back that was deleted while it was open, and opens it. */
export async function bringBack(id: string): Promise<void> {
  await setDeleted(id, false)
  await openProject(id)
}

/**
 * Changes the project as one undo step.
 * @param label what was done, for the undo hint: "opacity", "delete layer".
 * @param mergeKey equal keys in quick succession, or while a pointer stays pressed (a slider being dragged), make one step.
 */
export function changeProject(
  label: string,
  recipe: (draft: Draft<Project>) => void,
  mergeKey?: string,
): void {
  const { project, past } = useProjectStore.getState()
  if (!project) return
  const changed = produce(project, recipe)
  if (changed === project) return
  const next = seriesInStep(project, changed)
  const merge =
    mergeKey !== undefined &&
    lastMerge.key === mergeKey &&
    handRest(lastMerge.at) < MERGE_MS &&
    past.length > 0
  const made = { key: mergeKey ?? '', at: performance.now() }
  lastMerge = made
  // Nobody can go on before the page has answered: the time that takes is no rest.
  if (mergeKey !== undefined) setTimeout(() => void (made.at = performance.now()))
  setProject(project, {
    project: next,
    past: merge ? past : [...past.slice(1 - MOST_STEPS), { label, project }],
    future: [],
  })
}

/** Changes that are facts, not decisions (a render finished): saved, but no undo step. */
export function recordInProject(recipe: (draft: Draft<Project>) => void): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  setProject(project, { project: produce(project, recipe) })
}

/** What was rendered stays rendered when a decision is taken back. */
const keepRendered = (target: Project, present: Project): Project => ({
  ...target,
  before: target.passes.flatMap(({ id }) => {
    // A pass that comes back brings along what it was.
    const from = present.passes.some((pass) => pass.id === id) ? present : target
    return beforeOf(from, id) ?? []
  }),
  handOver: present.handOver,
  passes: target.passes.map((pass) => ({
    ...pass,
    rendered: present.passes.find((p) => p.id === pass.id)?.rendered ?? pass.rendered,
  })),
})

/** The states that undo and redo come to from here, each as it is then: a step alone names what was rendered before it too. */
function reachedFrom(present: Project, { past, future }: History): Project[] {
  const walk = (steps: readonly HistoryStep[]): Project[] => {
    let from = present
    return [...steps].reverse().map((step) => (from = keepRendered(step.project, from)))
  }
  return [...walk(past), ...walk(future)]
}

/**
 * Says that an edit was decided whose result comes later, so that undo takes it back first.
 * @returns what to call when it has come, or will not.
 */
export function beginPending(edit: PendingEdit): () => void {
  useProjectStore.setState(({ pending }) => ({ pending: [...pending, edit] }))
  return () => useProjectStore.setState(({ pending }) => ({ pending: pending.filter((p) => p !== edit) }))
}

/** @returns what was undone, or null. */
export function undo(): string | null {
  const { project, past, future, pending } = useProjectStore.getState()
  const unfinished = pending.at(-1)
  if (unfinished) {
    useProjectStore.setState({ pending: pending.slice(0, -1) })
    unfinished.cancel()
    return unfinished.label
  }
  const last = past.at(-1)
  if (!project || !last) return null
  if (!isSound(last.project)) {
    useProjectStore.setState({ past: [] })
    return null
  }
  lastMerge = { key: '', at: -Infinity }
  setProject(project, {
    project: keepRendered(last.project, project),
    past: past.slice(0, -1),
    future: [...future, { label: last.label, project }],
  })
  return last.label
}

/** Takes back, or does again, so many steps at once: below zero backwards. */
export function goInHistory(steps: number): void {
  for (let i = 0; i < Math.abs(steps); i++) if ((steps < 0 ? undo() : redo()) === null) return
}

export function redo(): string | null {
  const { project, past, future } = useProjectStore.getState()
  const next = future.at(-1)
  if (!project || !next) return null
  if (!isSound(next.project)) {
    useProjectStore.setState({ future: [] })
    return null
  }
  setProject(project, {
    project: keepRendered(next.project, project),
    past: [...past, { label: next.label, project }],
    future: future.slice(0, -1),
  })
  return next.label
}

onProjectLost((id) => {
  if (useProjectStore.getState().project?.id === id) lose('open')
})

onTabMessage((message) => {
  const { project } = useProjectStore.getState()
  if (message.type === 'deleted' && openId === message.projectId) lose('deleted')
  if (message.type === 'rename' && project?.id === message.projectId) {
    changeProject('rename project', (draft) => void (draft.name = message.name))
    void flushSave().then(() => tellTabs({ type: 'renamed', projectId: message.projectId }))
  }
})

if (typeof window !== 'undefined') {
  window.addEventListener('pagehide', () => void flushSave())
  document.addEventListener(
    'visibilitychange',
    () => document.visibilityState === 'hidden' && void flushSave(),
  )
}
