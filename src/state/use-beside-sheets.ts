import type { BesideSheets, Project } from '@/data/project-schema'
import { useProjectStore } from './project-store'

let kept: { readonly project: Project; readonly beside: BesideSheets } | null = null

/** A project without its sheets: the same object for as long as nothing but they changes. */
export function besideSheets(project: Project): BesideSheets {
  if (kept?.project === project) return kept.beside
  const { sheets: _sheets, ...now } = project
  const before: Readonly<Record<string, unknown>> = kept?.beside ?? {}
  const isSame = Object.entries(now).every(([name, value]) => before[name] === value)
  kept = { project, beside: isSame && kept ? kept.beside : now }
  return kept.beside
}

/** The open project without its sheets; whoever asks is not drawn anew while a sheet is worked on. */
export const useBesideSheets = (): BesideSheets | null =>
  useProjectStore(({ project }) => project && besideSheets(project))
