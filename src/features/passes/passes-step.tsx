'use client'

import { activePasses, activeSheet, activeShot } from '@/data/active-shot'
import { comparedPasses } from '@/data/before-passes'
import { useEffect, useMemo, useState } from 'react'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import Button from '@mui/material/Button'
import type { Project, ProjectPass } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { duplicatePass, removePass } from '@/state/pass-actions'
import { nothingToRender, renderWarnings } from '@/state/render-check'
import {
  pauseRender,
  renderAgain,
  renderRegionFirst,
  resumeRender,
  useRenderQueue,
  warmUp,
} from '@/state/render-queue'
import { renderPasses } from '@/state/render-where'
import { setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { StudioWorks } from '@/ui/studio-works'
import { PictureView } from '@/ui/picture-view'
import { addPassLayer } from '../sheet/layer-actions'
import { hangStartingStack } from '../sheet/starting-stack'
import { BeforeAfter } from './before-after'
import { ContactSheet, statusText } from './contact-sheet'
import { OneThing } from './one-thing'
import { usePassCanvas } from './pass-canvas'
import { PassInspector } from './pass-inspector'
import { PassMenu } from './pass-menu'
import { RenderWhere } from './render-where'
import { RenderQueuePanel } from './render-queue-panel'
import { TimeChart } from './time-chart'
import { PassesStepStyles } from './passes-step-styles'

const RENDER_ALL = [
  { quality: 'draft', label: 'Draft all' },
  { quality: 'good', label: 'Good' },
  { quality: 'final', label: 'Final' },
] as const

/** All passes of the shot side by side, and what each is rendered with. */
export function PassesStep() {
  const router = useRouter()
  const project = useOpenProject()
  const passId = useViewStore((s) => s.passId)
  const [large, setLarge] = useState(false)
  const [isOneThing, setOneThing] = useState(false)
  const [comparedId, setComparedId] = useState<string | null>(null)
  const passes = activePasses(project)
  const selected = passes.find((p) => p.id === passId) ?? passes[0]
  const all = passes.map((p) => p.id)
  const nothing = nothingToRender(project)
  const hasModel = nothing === null
  const problem = useRenderQueue((s) => s.problem)
  const warnings = useMemo(() => renderWarnings(project, activePasses(project)), [project])
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
  const compared = isOneThing ? comparedPasses(project).find(({ id }) => id === comparedId) : undefined
  useActions('Passes', [
    { id: 'one-thing', label: 'One thing again', keys: 'o', run: () => setOneThing((v) => !v) },
    { id: 'draft', label: 'Render all, draft', keys: 'd', run: () => hasModel && renderPasses(all, 'draft') },
    {
      id: 'final',
      label: 'Render all, final',
      keys: 'Shift+D',
      run: () => hasModel && renderPasses(all, 'final'),
    },
    {
      id: 'one',
      label: `Render ${selected.name} only, draft`,
      keys: 'r',
      run: () => hasModel && renderPasses([selected.id], 'draft'),
    },
    {
      id: 'good',
      label: 'Render all, good',
      keys: 'Alt+D',
      run: () => hasModel && renderPasses(all, 'good'),
    },
    {
      id: 'pause',
      label: 'Pause or go on with the render',
      keys: 'p',
      run: () => {
        const [job] = useRenderQueue.getState().jobs
        if (job) (job.state === 'paused' ? resumeRender : pauseRender)(job.id)
      },
    },
    {
      id: 'duplicate',
      label: `Duplicate ${selected.name}`,
      keys: 'Shift+R',
      run: () => {
        const id = duplicatePass(selected.id)
        if (id) setBench({ passId: id })
      },
    },
    { id: 'remove', label: `Remove ${selected.name}`, keys: 'Delete', run: () => removePass(selected.id) },
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
      <PassesStepStyles />
      {compared ? (
        <BeforeAfter project={project} pass={compared} onBack={() => setComparedId(null)} />
      ) : large ? (
        <LargePass project={project} pass={selected} onBack={() => setLarge(false)} />
      ) : (
        <ContactSheet
          project={project}
          selected={selected}
          onOpen={() => setLarge(true)}
          onRegion={(rect) => {
            if (useRenderQueue.getState().jobs.length > 0) renderRegionFirst(rect)
            else if (hasModel) renderAgain(all, rect)
          }}
        />
      )}
      <aside className="inspector" aria-label="Inspector">
        {nothing !== null && (
          <div className="problem" style={{ marginBottom: 12 }} role="status" data-testid="nothing-to-render">
            {nothing} <Link href={`/project/${project.id}/models`}>Go to Models</Link>
          </div>
        )}
        <RenderQueuePanel />
        <StudioWorks isShown={({ of }) => passes.some(({ id }) => of.includes(id))} />
        {problem && (
          <div className="problem" style={{ marginBottom: 12 }}>
            {problem}
          </div>
        )}
        {isOneThing ? (
          <OneThing
            project={project}
            comparedId={comparedId}
            onCompare={setComparedId}
            onBack={() => setOneThing(false)}
          />
        ) : (
          <>
            {hasModel && warnings.length > 0 && (
              <ul className="warn-list" aria-label="Looks forgotten" data-testid="render-warnings">
                {warnings.map(({ passId: id, message }) => (
                  <li key={message}>
                    <button className="link" onClick={() => setBench({ passId: id })}>
                      {message}
                    </button>
                  </li>
                ))}
              </ul>
            )}
            <div style={{ display: 'flex', gap: 8, paddingBottom: 8 }}>
              {RENDER_ALL.map(({ quality, label }) => (
                <Button
                  key={quality}
                  variant={quality === 'draft' ? 'contained' : 'outlined'}
                  disabled={!hasModel}
                  onClick={() => renderPasses(all, quality)}
                  data-testid={`render-${quality}`}
                  sx={{ flex: 1, minWidth: 0, paddingInline: 0.5 }}
                >
                  {label}
                </Button>
              ))}
            </div>
            <RenderWhere project={project} passes={passes} />
            <PassMenu onAdd={(id) => setBench({ passId: id })} onOneThing={() => setOneThing(true)} />
            {activeSheet(project).roots.length === 0 && passes.some((p) => p.rendered) && (
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
            <TimeChart passes={passes} />
          </>
        )}
      </aside>
    </div>
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
      picture={
        <canvas
          ref={canvasRef}
          role="img"
          aria-label={`${pass.name} pass`}
          style={{ width: '100%', height: '100%' }}
        />
      }
      status={
        <span>
          <b>{pass.name}</b> {statusText(project, pass)}{' '}
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
