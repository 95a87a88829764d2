import { z } from 'zod'
import { applyDocumentChanges, documentChanges, documentChangeSchema } from '@/core/document-changes'
import type { HistoryRow } from '@/data/database'
import { projectSchema, type Project } from '@/data/project-schema'

/**
 * What was done and can be taken back. While a project is open, steps are states that share what they have in common; stored they
 * are what leads from one to the one before, so that they last over a reload.
 */
export interface HistoryStep {
  /** What was done: "opacity". */
  readonly label: string
  /** How the project was before it; of steps that were taken back, how it was after. */
  readonly project: Project
}
export interface History {
  /** The last one last. */
  readonly past: readonly HistoryStep[]
  /** The one that was taken back last comes last. */
  readonly future: readonly HistoryStep[]
}

const storedStepSchema = z.strictObject({ label: z.string(), changes: z.array(documentChangeSchema) })

/** What a stored history may take, in UTF-16 units; the oldest steps go first. */
export const MOST_STORED = 3_000_000

/** What a step is as text, and the state it leads away from: worked out once. */
const texts = new WeakMap<Project, { readonly from: Project; readonly text: string }>()

/** Steps as texts, from the nearest to the farthest, as far as there is room. */
function textsOf(
  current: Project,
  steps: readonly HistoryStep[],
  room: number,
): { texts: string[]; room: number } {
  const made: string[] = []
  let from = current
  for (const { label, project } of [...steps].reverse()) {
    const known = texts.get(project)
    const text =
      known?.from === from ? known.text : JSON.stringify({ label, changes: documentChanges(from, project) })
    texts.set(project, { from, text })
    if (text.length > room) break
    made.push(text)
    room -= text.length
    from = project
  }
  return { texts: made.reverse(), room }
}

/** A history as it is stored. @param edit number of the last edit that the project holds. */
export function storedHistory(project: Project, { past, future }: History, edit: number): HistoryRow {
  const back = textsOf(project, past, MOST_STORED)
  const forth = textsOf(project, future, back.room)
  return { projectId: project.id, edit, past: back.texts, future: forth.texts }
}

/** States that were read and not looked at yet. */
const unchecked = new WeakSet<Project>()

/** Steps from their texts, as far as they can be followed. */
function readSteps(current: Project, stored: readonly string[]): HistoryStep[] {
  const steps: HistoryStep[] = []
  let from = current
  for (const text of [...stored].reverse()) {
    try {
      const { label, changes } = storedStepSchema.parse(JSON.parse(text))
      const project = applyDocumentChanges(from, changes) as Project
      unchecked.add(project)
      texts.set(project, { from, text })
      steps.push({ label, project })
      from = project
    } catch {
      break
    }
  }
  return steps.reverse()
}

/**
 * The history of a project as it was stored with it; what cannot be followed is left out.
 * @param edit number of the last edit of the stored project: a history of another state is of no use.
 */
export const readHistory = (project: Project, row: HistoryRow | undefined, edit: number): History =>
  row?.edit === edit
    ? { past: readSteps(project, row.past), future: readSteps(project, row.future) }
    : { past: [], future: [] }

/** Whether the state of a step is a project: asked when it is gone to, for to ask all at once takes long. */
export function isSound(project: Project): boolean {
  if (!unchecked.has(project)) return true
  if (!projectSchema.safeParse(project).success) return false
  unchecked.delete(project)
  return true
}
