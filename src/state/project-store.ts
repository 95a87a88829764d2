import type { Draft } from 'immer'
import { produce } from 'immer'
import { create } from 'zustand'
import { clearUnused, loadProject, saveProject, storageProblem } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { holdProject, releaseProject } from './project-lock'

/** The open project, its history, and saving it as it changes. */
interface ProjectState {
  readonly project: Project | null
  readonly problem: string | null
  /** The project asked for is open in another tab, which alone may change it. */
  readonly elsewhere: boolean
  readonly past: readonly { label: string; project: Project }[]
  readonly future: readonly { label: string; project: Project }[]
  readonly saving: 'saved' | 'saving' | 'failed'
}

const NOTHING_OPEN: ProjectState = {
  project: null,
  problem: null,
  elsewhere: false,
  past: [],
  future: [],
  saving: 'saved',
}
export const useProjectStore = create<ProjectState>(() => NOTHING_OPEN)

const MOST_STEPS = 200
/** Changes with the same merge key within this time are one undo step. */
const MERGE_MS = 900
let lastMerge = { key: '', at: 0 }

let saveTimer: ReturnType<typeof setTimeout> | null = null
let saveChain: Promise<void> = Promise.resolve()

/** Writes the open project now. */
export function flushSave(): Promise<void> {
  if (saveTimer) clearTimeout(saveTimer)
  saveTimer = null
  const { project } = useProjectStore.getState()
  if (!project) return saveChain
  saveChain = saveChain.then(async () => {
    try {
      await saveProject(project)
      if (useProjectStore.getState().project === project)
        useProjectStore.setState({ saving: 'saved', problem: null })
    } catch (error) {
      useProjectStore.setState({ saving: 'failed', problem: storageProblem(error) })
    }
  })
  return saveChain
}

function saveSoon(): void {
  useProjectStore.setState({ saving: 'saving' })
  saveTimer ??= setTimeout(() => void flushSave(), 250)
}

/** Another tab took the project: what was not saved yet is theirs to make again, a quarter of a second at most. */
function lose(): void {
  if (saveTimer) clearTimeout(saveTimer)
  saveTimer = null
  useProjectStore.setState({ ...NOTHING_OPEN, elsewhere: true })
}

/** Counts calls of {@link openProject}: only the latest may set what is open. */
let opening = 0

/** Opens a project. @param steal also when another tab holds it, which then closes it. */
export async function openProject(id: string, steal = false): Promise<void> {
  if (useProjectStore.getState().project?.id === id) return
  const turn = ++opening
  await flushSave()
  useProjectStore.setState(NOTHING_OPEN)
  try {
    const held = await holdProject(id, steal, lose)
    if (turn !== opening) return
    if (!held) {
      useProjectStore.setState({ elsewhere: true })
      return
    }
    const project = await loadProject(id)
    if (turn !== opening) return
    useProjectStore.setState({ project })
    void clearUnused(project).catch(() => undefined)
  } catch (error) {
    useProjectStore.setState({ problem: error instanceof Error ? error.message : String(error) })
  }
}

export async function closeProject(): Promise<void> {
  opening++
  await flushSave()
  releaseProject()
  useProjectStore.setState(NOTHING_OPEN)
}

/**
 * Changes the project as one undo step.
 * @param label what was done, for the undo hint: "opacity", "delete layer".
 * @param mergeKey equal keys in quick succession (a slider being dragged) make one step.
 */
export function changeProject(
  label: string,
  recipe: (draft: Draft<Project>) => void,
  mergeKey?: string,
): void {
  const { project, past } = useProjectStore.getState()
  if (!project) return
  const next = produce(project, recipe)
  if (next === project) return
  const now = Date.now()
  const merge =
    mergeKey !== undefined && lastMerge.key === mergeKey && now - lastMerge.at < MERGE_MS && past.length > 0
  lastMerge = { key: mergeKey ?? '', at: now }
  useProjectStore.setState({
    project: next,
    past: merge ? past : [...past.slice(1 - MOST_STEPS), { label, project }],
    future: [],
  })
  saveSoon()
}

/** Changes that are facts, not decisions (a render finished): saved, but no undo step. */
export function recordInProject(recipe: (draft: Draft<Project>) => void): void {
  const { project } = useProjectStore.getState()
  if (!project) return
  useProjectStore.setState({ project: produce(project, recipe) })
  saveSoon()
}

/** What was rendered stays rendered when a decision is taken back. */
const keepRendered = (target: Project, present: Project): Project => ({
  ...target,
  passes: target.passes.map((pass) => ({
    ...pass,
    rendered: present.passes.find((p) => p.id === pass.id)?.rendered ?? pass.rendered,
  })),
})

/** @returns what was undone, or null. */
export function undo(): string | null {
  const { project, past, future } = useProjectStore.getState()
  const last = past.at(-1)
  if (!project || !last) return null
  lastMerge = { key: '', at: 0 }
  useProjectStore.setState({
    project: keepRendered(last.project, project),
    past: past.slice(0, -1),
    future: [...future, { label: last.label, project }],
  })
  saveSoon()
  return last.label
}

export function redo(): string | null {
  const { project, past, future } = useProjectStore.getState()
  const next = future.at(-1)
  if (!project || !next) return null
  useProjectStore.setState({
    project: keepRendered(next.project, project),
    past: [...past, { label: next.label, project }],
    future: future.slice(0, -1),
  })
  saveSoon()
  return next.label
}

if (typeof window !== 'undefined') {
  window.addEventListener('pagehide', () => void flushSave())
  document.addEventListener(
    'visibilitychange',
    () => document.visibilityState === 'hidden' && void flushSave(),
  )
}
