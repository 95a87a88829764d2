'use client'

import { activePasses, activeSheet, activeShot } from '@/data/active-shot'
import { useEffect, useMemo, useState } from 'react'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import Button from '@mui/material/Button'
import { passKind } from '@/core/passes/registry'
import type { ParamValues } from '@/core/params'
import type { Project, ProjectPass } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { useMeshStore } from '@/state/mesh-store'
import { passStatus } from '@/state/pass-status'
import { changeProject, useProjectStore } from '@/state/project-store'
import { cancelRender, queueRender, useRenderQueue, warmUp } from '@/state/render-queue'
import { setBench, useViewStore } from '@/state/view-store'
import { timeLeft } from '@/ui/bench-shell'
import { ParamsInspector } from '@/ui/params-inspector'
import { PictureView } from '@/ui/picture-view'
import { ProgressBar } from '@/ui/progress-bar'
import { subjectExtent } from '@/state/subject-extent'
import { addPassLayer } from '../sheet/layer-actions'
import { hangStartingStack } from '../sheet/starting-stack'
import { ContactSheet, statusText } from './contact-sheet'
import { usePassCanvas } from './pass-canvas'

/** All passes of the shot side by side, and what each is rendered with. */
export function PassesStep() {
  const router = useRouter()
  const project = useProjectStore((s) => s.project) as Project
  const passId = useViewStore((s) => s.passId)
  const [large, setLarge] = useState(false)
  const passes = activePasses(project)
  const selected = passes.find((p) => p.id === passId) ?? passes[0]
  const all = passes.map((p) => p.id)
  const hasModel = project.models.length > 0
  // Not on every stroke of a change: when it has come to rest.
  useEffect(() => {
    const timer = setTimeout(() => warmUp(project), 250)
    return () => clearTimeout(timer)
  }, [project])
  const choose = (step: number) => {
    const at = passes.indexOf(selected)
    setBench({ passId: passes[(at + step + passes.length) % passes.length].id })
  }
  const toSheet = (pass: ProjectPass) => {
    addPassLayer(pass)
    router.push(`/project/${project.id}/sheet`)
  }
  useActions('Passes', [
    { id: 'draft', label: 'Render all, draft', keys: 'd', run: () => hasModel && queueRender(all, 'draft') },
    {
      id: 'final',
      label: 'Render all, final',
      keys: 'Shift+D',
      run: () => hasModel && queueRender(all, 'final'),
    },
    {
      id: 'one',
      label: `Render ${passKind(selected.kind).label} only, draft`,
      keys: 'r',
      run: () => hasModel && queueRender([selected.id], 'draft'),
    },
    { id: 'next', label: 'Next pass', keys: 'ArrowRight', run: () => choose(1) },
    { id: 'previous', label: 'Previous pass', keys: 'ArrowLeft', run: () => choose(-1) },
    {
      id: 'large',
      label: large ? 'Contact sheet' : 'Look closer',
      keys: 'Enter',
      run: () => setLarge((v) => !v),
    },
  ])
  return (
    <div className="step">
      {large ? (
        <LargePass project={project} pass={selected} onBack={() => setLarge(false)} />
      ) : (
        <ContactSheet project={project} selected={selected} onOpen={() => setLarge(true)} />
      )}
      <aside className="inspector" aria-label="Inspector">
        {!hasModel && (
          <div className="problem" style={{ marginBottom: 12 }}>
            There is nothing to render yet.{' '}
            <Link href={`/project/${project.id}/models`}>Bring in a model</Link>.
          </div>
        )}
        <Queue />
        <div style={{ display: 'flex', gap: 8, paddingBottom: 12 }}>
          <Button
            variant="contained"
            disabled={!hasModel}
            onClick={() => queueRender(all, 'draft')}
            data-testid="render-draft"
            sx={{ flex: 1 }}
          >
            Draft all
          </Button>
          <Button
            variant="outlined"
            disabled={!hasModel}
            onClick={() => queueRender(all, 'final')}
            data-testid="render-final"
            sx={{ flex: 1 }}
          >
            Final all
          </Button>
        </div>
        {activeSheet(project).layers.length === 0 && passes.some((p) => p.rendered) && (
          <p style={{ margin: '0 0 12px' }}>
            Ready to be layered:{' '}
            <button
              className="link"
              style={{ fontWeight: 650, color: 'var(--clay)' }}
              onClick={() => {
                hangStartingStack(project)
                router.push(`/project/${project.id}/sheet`)
              }}
              data-testid="first-stack"
            >
              hang a first stack
            </button>{' '}
            on the sheet.
          </p>
        )}
        <PassInspector project={project} pass={selected} onSheet={() => toSheet(selected)} />
      </aside>
    </div>
  )
}

function Queue() {
  const jobs = useRenderQueue((s) => s.jobs)
  if (jobs.length === 0) return null
  return (
    <section style={{ paddingBottom: 12 }} aria-label="Render queue">
      {jobs.map((job) => (
        <div key={job.id}>
          <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            <b>
              {job.passIds.length} {job.passIds.length === 1 ? 'pass' : 'passes'}, {job.quality}
            </b>
            <span className="quiet">
              {job.state === 'waiting'
                ? 'waiting'
                : job.state === 'preparing'
                  ? 'preparing'
                  : job.secondsLeft === null
                    ? 'starting'
                    : `${timeLeft(job.secondsLeft)} left`}
            </span>
            <span className="spacer" />
            <button className="link" onClick={() => cancelRender(job.id)}>
              Cancel
            </button>
          </div>
          <ProgressBar label="Rendered" share01={job.total > 0 ? job.done / job.total : null} />
        </div>
      ))}
    </section>
  )
}

function LargePass({ project, pass, onBack }: { project: Project; pass: ProjectPass; onBack: () => void }) {
  const { width, height } = activeShot(project).frame
  const { canvasRef } = usePassCanvas(project, pass, { x: 0, y: 0, width, height }, width, height)
  return (
    <PictureView
      key={pass.id}
      width={width}
      height={height}
      canvasRef={canvasRef}
      label={`${passKind(pass.kind).label} pass`}
      status={
        <span>
          <b>{passKind(pass.kind).label}</b> {statusText(project, pass)}{' '}
          <button
            className="link"
            style={{ color: 'inherit', pointerEvents: 'auto', textDecoration: 'underline' }}
            onClick={onBack}
          >
            Contact sheet
          </button>
        </span>
      }
    />
  )
}

function PassInspector({
  project,
  pass,
  onSheet,
}: {
  project: Project
  pass: ProjectPass
  onSheet: () => void
}) {
  const kind = passKind(pass.kind)
  const models = useMeshStore((s) => s.models)
  const projectModels = project.models
  const bounds = useMemo(
    () => subjectExtent({ models: projectModels }, (id) => models[id]?.outline)?.bounds ?? null,
    [projectModels, models],
  )
  const diagonal = bounds && Math.hypot(...bounds.max.map((v, i) => v - bounds.min[i]))
  const status = passStatus(project, pass)
  const layerCount = activeSheet(project).layers.filter(
    (l) => l.source.type === 'pass' && l.source.passId === pass.id,
  ).length
  return (
    <>
      <div className="inspector-head" style={{ borderTop: '1px solid var(--rule)', paddingTop: 12 }}>
        <h2 className="display">{kind.label}</h2>
        <span className="quiet">pass</span>
      </div>
      <p className="quiet" style={{ margin: '0 0 10px' }}>
        {kind.summary}
      </p>
      {status.state === 'out of register' && (
        <div className="problem" style={{ marginBottom: 12 }}>
          Out of register:
          <ul>
            {status.reasons.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </div>
      )}
      {Object.keys(kind.renderSchema.shape).length > 0 && (
        <section className="section">
          <div className="section-head">
            <span>Rendered</span>
            <span className="quiet">needs another render</span>
          </div>
          <ParamsInspector
            schema={kind.renderSchema}
            values={pass.params as ParamValues}
            figureDiagonal={diagonal}
            onChange={(name, value, label) =>
              changeProject(
                `${kind.label} ${label.toLowerCase()}`,
                (draft) => {
                  const found = draft.passes.find((p) => p.id === pass.id)
                  if (found) found.params[name] = value
                },
                `${pass.id} ${name}`,
              )
            }
          />
        </section>
      )}
      <section className="section" style={{ display: 'flex', gap: 8, flexWrap: 'wrap' }}>
        <Button
          variant="outlined"
          disabled={project.models.length === 0}
          onClick={() => queueRender([pass.id], 'draft')}
        >
          Draft
        </Button>
        <Button
          variant="outlined"
          disabled={project.models.length === 0}
          onClick={() => queueRender([pass.id], 'final')}
        >
          Final
        </Button>
        <Button variant="outlined" disabled={!pass.rendered} onClick={onSheet} data-testid="to-sheet">
          {layerCount > 0 ? 'Layer again' : 'Layer it'}
        </Button>
      </section>
      {pass.rendered && (
        <section className="section">
          <div className="section-head">Last render</div>
          {(
            [
              ['Quality', pass.rendered.quality],
              ['Size', `${pass.rendered.width} × ${pass.rendered.height}`],
              ['Rays', pass.rendered.rays.toLocaleString('en')],
              ['Worker time', `${pass.rendered.seconds.toFixed(1)} s`],
              ['Samples', String(pass.rendered.samples)],
            ] as const
          ).map(([label, value]) => (
            <div className="row" key={label}>
              <span className="label">{label}</span>
              <span />
              <b>{value}</b>
            </div>
          ))}
          <p className="quiet" style={{ marginBottom: 0 }}>
            Strength, tint and colour are set on the layer in Sheet, live.
          </p>
        </section>
      )}
    </>
  )
}
