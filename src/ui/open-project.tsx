'use client'

import { createContext, useContext, type ReactNode } from 'react'
import type { Project } from '@/data/project-schema'

const OpenProjectContext = createContext<Project | null>(null)

/** Gives the steps of the workbench the project that is open: they are shown only while there is one. */
export function OpenProject({
  project,
  children,
}: {
  readonly project: Project
  readonly children: ReactNode
}) {
  return <OpenProjectContext value={project}>{children}</OpenProjectContext>
}

/** The open project. @throws outside of {@link OpenProject}. */
export function useOpenProject(): Project {
  const project = useContext(OpenProjectContext)
  if (!project) throw new Error('no project is open here')
  return project
}
