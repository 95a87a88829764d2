'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useEffect } from 'react'
import Button from '@mui/material/Button'
import { beginWaiting } from '@/state/begin-with-recipe'
import { ensureMeshes } from '@/state/mesh-store'
import { bringBack, openProject, useProjectStore } from '@/state/project-store'
import { BenchShell } from '@/ui/bench-shell'
import { OpenProject } from '@/ui/open-project'
import type { Step } from '@/ui/steps'
import { ExportStep } from './export/export-step'
import { ModelsStep } from './models/models-step'
import { PassesStep } from './passes/passes-step'
import { PosterStep } from './poster/poster-step'
import { SheetStep } from './sheet/sheet-step'
import { ShotStep } from './shot/shot-step'
import { TurntableStep } from './turntable/turntable-step'

/** The same elements each time: they are drawn anew for what they ask for themselves. */
const views: Readonly<Record<Step, React.ReactNode>> = {
  models: <ModelsStep />,
  shot: <ShotStep />,
  passes: <PassesStep />,
  sheet: <SheetStep />,
  poster: <PosterStep />,
  turntable: <TurntableStep />,
  export: <ExportStep />,
}

/** Steps that show the models themselves, or render them. */
const SHOWS_MODELS: readonly Step[] = ['models', 'shot', 'passes', 'turntable']
/** How long models wait at the other steps, until the picture stands and the hand rests. Milliseconds. */
const MODELS_WAIT_MS = 6000

/** An open project at one of its steps. */
export function ProjectWorkspace({ projectId, step }: { projectId: string; step: Step }) {
  const project = useProjectStore((s) => s.project)
  const router = useRouter()
  const problem = useProjectStore((s) => s.problem)
  const elsewhere = useProjectStore((s) => s.elsewhere)
  useEffect(() => {
    void openProject(projectId)
  }, [projectId])
  useEffect(() => {
    if (!project) return
    // Where pictures are worked on, these come first.
    const wait = SHOWS_MODELS.includes(step) ? 0 : MODELS_WAIT_MS
    const timer = setTimeout(() => void ensureMeshes(project), wait)
    return () => clearTimeout(timer)
  }, [project, step])
  const isOpen = project?.id === projectId
  useEffect(() => {
    if (!isOpen) return
    void beginWaiting(projectId).then((hangs) => {
      if (hangs) router.push(`/project/${projectId}/sheet`)
    })
  }, [isOpen, projectId, router])
  if (!project || project.id !== projectId) {
    return (
      <main className="empty">
        {elsewhere === 'deleted' ? (
          <>
            <h1 className="display">Deleted in another tab</h1>
            <p>
              It is kept for a month with everything in it, among the deleted projects of the projects page.
            </p>
            <Button variant="contained" onClick={() => void bringBack(projectId)}>
              Bring it back
            </Button>
            <Link href="/">All projects</Link>
          </>
        ) : elsewhere === 'open' ? (
          <>
            <h1 className="display">Open in another tab</h1>
            <p>
              Two tabs that change one project would undo each other’s work, so only one may. Everything is
              saved; opening it here closes it there.
            </p>
            <Button variant="contained" onClick={() => void openProject(projectId, true)}>
              Open it here
            </Button>
            <Link href="/">All projects</Link>
          </>
        ) : problem ? (
          <>
            <h1 className="display">This project cannot be opened</h1>
            <p>{problem}</p>
            <Link href="/">All projects</Link>
          </>
        ) : (
          <p role="status">Opening the project …</p>
        )}
      </main>
    )
  }
  return (
    <OpenProject project={project}>
      <BenchShell step={step}>{views[step]}</BenchShell>
    </OpenProject>
  )
}
