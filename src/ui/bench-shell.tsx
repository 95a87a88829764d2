'use client'

import { activePasses, activeSheet, activeShot } from '@/data/active-shot'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { memo, useEffect, useMemo, useState, type ReactNode } from 'react'
import Button from '@mui/material/Button'
import Tooltip from '@mui/material/Tooltip'
import { useColorScheme } from '@mui/material/styles'
import { useSnackbar } from 'notistack'
import { keyLabel, useActions } from '@/state/actions'
import { outOfRegister, passStatus } from '@/state/pass-status'
import { redo, undo, useProjectStore } from '@/state/project-store'
import {
  cancelAllRenders,
  cancelRender,
  isRunning,
  renderAgain,
  resumeRender,
  useRenderQueue,
} from '@/state/render-queue'
import { activeTurn } from '@/state/turn-actions'
import { useTurnJob } from '@/state/turn-render'
import { useBesideSheets } from '@/state/use-beside-sheets'
import { setBench, useViewStore } from '@/state/view-store'
import { guidePageAt } from './guide/guide-dialog'
import { ExportPill } from './export-pill'
import { StepHint } from './step-hint'
import { StepBoundary } from './step-boundary'
import { STEPS, stepLabels, type Step } from './steps'
import { BenchShellStyles } from './bench-shell-styles'

function useRailState(): Record<Step, 'empty' | 'ready' | 'out' | 'rendering'> {
  const project = useBesideSheets()
  const hasLayers = useProjectStore((s) => s.project !== null && activeSheet(s.project).roots.length > 0)
  const rendering = useRenderQueue((s) => s.jobs.some((j) => j.state !== 'paused'))
  const isTurning = useTurnJob((s) => s.job !== null && s.job.state !== 'paused')
  return useMemo(() => {
    const statuses = project ? activePasses(project).map((p) => passStatus(project, p).state) : []
    const passes = rendering
      ? 'rendering'
      : statuses.includes('out of register')
        ? 'out'
        : statuses.includes('ready')
          ? 'ready'
          : 'empty'
    return {
      models: (project?.models.length ?? 0) > 0 ? 'ready' : 'empty',
      shot: project && activeShot(project).locked ? 'ready' : 'empty',
      passes,
      sheet: hasLayers ? 'ready' : 'empty',
      poster: (project?.posters.length ?? 0) > 0 ? 'ready' : 'empty',
      turntable: isTurning ? 'rendering' : (project?.turns.length ?? 0) > 0 ? 'ready' : 'empty',
      export: 'empty',
    }
  }, [project, hasLayers, rendering, isTurning])
}

/** Header, rail of steps, and the step itself. */
export const BenchShell = memo(function BenchShell({ step, children }: { step: Step; children: ReactNode }) {
  const router = useRouter()
  const { enqueueSnackbar } = useSnackbar()
  const { mode, systemMode, setMode } = useColorScheme()
  const project = useBesideSheets()
  const turnId = useViewStore((s) => s.turnId)
  const shownName = useProjectStore((s) => {
    if (!s.project) return ''
    return (step === 'turntable' && activeTurn(s.project, turnId)?.name) || activeSheet(s.project).name
  })
  const past = useProjectStore((s) => s.past)
  const pending = useProjectStore((s) => s.pending)
  const future = useProjectStore((s) => s.future)
  const jobs = useRenderQueue((s) => s.jobs)
  const renderProblem = useRenderQueue((s) => s.problem)
  const rail = useRailState()
  const seam = useViewStore((s) => s.seam)
  // The scheme is known only in the browser; the first paint is the day bench.
  const [mounted, setMounted] = useState(false)
  // eslint-disable-next-line react-hooks/set-state-in-effect -- runs once, to tell server from browser
  useEffect(() => setMounted(true), [])
  const night = mounted && (mode === 'system' ? systemMode === 'dark' : mode === 'dark')
  const id = project?.id ?? ''
  const go = (to: Step) => router.push(`/project/${encodeURIComponent(id)}/${to}`)
  const say = (text: string) => enqueueSnackbar(text)
  const undoNow = () => {
    const label = undo()
    say(label ? `Undid: ${label}` : 'Nothing to undo')
  }
  const redoNow = () => {
    const label = redo()
    say(label ? `Did again: ${label}` : 'Nothing to do again')
  }
  useEffect(() => {
    if (renderProblem)
      enqueueSnackbar(renderProblem, { variant: 'error', persist: false, autoHideDuration: 12_000 })
  }, [renderProblem, enqueueSnackbar])

  const stale = project ? outOfRegister(project) : []
  const reasons = project && stale.length > 0 ? passStatus(project, stale[0]) : null
  const renderStale = () => renderAgain(stale.map(({ id }) => id))
  useActions('Bench', [
    ...STEPS.map((s, i) => ({
      id: s,
      label: `Go to ${stepLabels[s]}`,
      keys: `$mod+${i + 1}`,
      run: () => go(s),
    })),
    { id: 'undo', label: 'Undo', keys: '$mod+z', run: undoNow },
    { id: 'redo', label: 'Do again', keys: '$mod+Shift+Z', run: redoNow },
    { id: 'night', label: night ? 'Day bench' : 'Night bench', run: () => setMode(night ? 'light' : 'dark') },
    {
      id: 'ground-darker',
      label: 'Darker ground',
      keys: '-',
      run: () => setBench({ ground: Math.max(0, useViewStore.getState().ground - 0.08) }),
    },
    {
      id: 'ground-lighter',
      label: 'Lighter ground',
      keys: '=',
      run: () => setBench({ ground: Math.min(1, useViewStore.getState().ground + 0.08) }),
    },
    ...(stale.length > 0
      ? [{ id: 'render-stale', label: 'Render what is out of register', run: renderStale }]
      : []),
    ...(jobs.length > 0 ? [{ id: 'cancel', label: 'Cancel rendering', run: cancelAllRenders }] : []),
    { id: 'projects', label: 'All projects', run: () => router.push('/') },
  ])

  const job = jobs.find(isRunning) ?? jobs.find((j) => j.state === 'waiting')
  const stopped = job ? undefined : jobs[0]
  const share = job && job.total > 0 ? Math.round((100 * job.done) / job.total) : 0
  const shot = project && activeShot(project)
  return (
    <div className="bench">
      <BenchShellStyles />
      <header className="bench-header">
        <Link href="/" className="wordmark display" aria-label="Muted Relief, all projects">
          Muted Relief
        </Link>
        <span style={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }} dir="auto">
          <h1 className="project-name">
            <bdi>{project?.name ?? ''}</bdi>
            <span className="unseen-text">, {stepLabels[step]}</span>
          </h1>
          {project && (step === 'sheet' || step === 'poster' || step === 'turntable') && (
            <span className="quiet"> / {shownName}</span>
          )}
        </span>
        {shot && (
          <button className="pill" onClick={() => go('shot')}>
            {shot.name}. {shot.locked ? 'Locked' : 'Not locked'}
          </button>
        )}
        {job ? (
          <span className="pill" role="status">
            {job.state === 'waiting'
              ? 'In the queue'
              : job.state === 'preparing'
                ? 'Preparing the scene'
                : `Rendering ${share} %`}
            {job.secondsLeft !== null && job.state === 'rendering' && `, ${timeLeft(job.secondsLeft)} left`}{' '}
            <button className="link" onClick={cancelAllRenders}>
              Cancel
            </button>
          </span>
        ) : (
          stopped && (
            <span
              className={stopped.reason ? 'pill attention' : 'pill'}
              role="status"
              data-testid="stopped-job"
            >
              {stopped.reason ? `Rendering stopped: ${stopped.reason}` : 'Rendering paused'}{' '}
              <button className="link" onClick={() => resumeRender(stopped.id)}>
                Go on
              </button>
              <button className="link" onClick={() => cancelRender(stopped.id)}>
                Cancel
              </button>
            </span>
          )
        )}
        {step !== 'export' && <ExportPill />}
        {!job && stale.length > 0 && (
          <Tooltip title={reasons?.state === 'out of register' ? reasons.reasons.join('; ') : ''}>
            <button className="pill attention" onClick={renderStale} data-testid="render-stale">
              {stale.length} {stale.length === 1 ? 'pass' : 'passes'} out of register
              {reasons?.state === 'out of register' && `: ${reasons.reasons[0]}`}. Render again
            </button>
          </Tooltip>
        )}
        <span className="spacer" />
        <SavingNote />
        <button
          className="link"
          onClick={undoNow}
          disabled={past.length === 0 && pending.length === 0}
          title={pending.at(-1)?.label ?? past.at(-1)?.label}
        >
          Undo
        </button>
        <button className="link" onClick={redoNow} disabled={future.length === 0}>
          Again
        </button>
        <button className="link" onClick={() => setMode(night ? 'light' : 'dark')}>
          {night ? 'Day' : 'Night'}
        </button>
        {step === 'sheet' && (
          <Button
            variant={seam === null ? 'outlined' : 'contained'}
            color="secondary"
            onClick={() => setBench({ seam: seam === null ? 0.5 : null })}
          >
            Compare
          </Button>
        )}
        {step !== 'export' && (
          <Button variant={step === 'sheet' ? 'contained' : 'outlined'} onClick={() => go('export')}>
            Export
          </Button>
        )}
      </header>
      <nav className="rail" aria-label="Steps">
        {STEPS.map((s, i) => (
          <Link
            key={s}
            href={`/project/${encodeURIComponent(id)}/${s}`}
            aria-current={s === step ? 'page' : undefined}
            data-state={rail[s]}
            title={`${stepLabels[s]}: ${rail[s] === 'out' ? 'out of register' : rail[s]}`}
          >
            <span className="numeral display">
              <span>{i + 1}</span>
            </span>
            {stepLabels[s]}
          </Link>
        ))}
        <span className="spacer" />
        <button
          className="link"
          onClick={() => setBench({ guide: guidePageAt(`/project/${id}/${step}`) })}
          title="F1"
          data-testid="open-guide"
        >
          Guide
        </button>
        <button className="link" onClick={() => setBench({ finderOpen: true })} title={keyLabel('$mod+k')}>
          Find
        </button>
        <button className="link" onClick={() => setBench({ shortcutsOpen: true })} title="?">
          Keys
        </button>
      </nav>
      <main className="bench-main">
        {id !== '' && <StepHint step={step} projectId={id} />}
        <StepBoundary key={`${id} ${step}`} project={project}>
          {children}
        </StepBoundary>
      </main>
    </div>
  )
})

function SavingNote() {
  const saving = useProjectStore((s) => s.saving)
  const problem = useProjectStore((s) => s.problem)
  return (
    <span
      className={saving === 'failed' ? 'pill attention' : 'quiet'}
      role="status"
      title={problem ?? undefined}
      data-testid="saving"
    >
      {saving === 'failed' ? 'Not saved' : saving === 'saving' ? 'Saving' : 'Saved'}
    </span>
  )
}

export const timeLeft = (seconds: number): string =>
  seconds < 60 ? `${Math.ceil(seconds)} s` : `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`
