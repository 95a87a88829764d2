'use client'

import { useMemo } from 'react'
import { passKind } from '@/core/passes/registry'
import type { Project, ProjectPass } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { changePass } from '@/state/pass-actions'
import { passStatus } from '@/state/pass-status'
import { sceneTraits } from '@/state/scene-traits'
import { subjectExtent } from '@/state/subject-extent'
import { ParamsInspector } from '@/ui/params-inspector'
import { EffortSection } from './effort-section'
import { LastRender } from './last-render'
import { PassFoot } from './pass-foot'
import { PassMembers } from './pass-members'
import { RenderButtons } from './render-buttons'

interface PassInspectorProps {
  readonly project: Project
  readonly pass: ProjectPass
  readonly onSheet: () => void
}

/** What a pass is rendered with, which parts and lights it holds, and what its last render was. */
export function PassInspector({ project, pass, onSheet }: PassInspectorProps) {
  const kind = passKind(pass.kind)
  const models = useMeshStore((s) => s.models)
  const projectModels = project.models
  const bounds = useMemo(
    () => subjectExtent({ models: projectModels }, (id) => models[id]?.outline)?.bounds ?? null,
    [projectModels, models],
  )
  const diagonal = bounds && Math.hypot(...bounds.max.map((v, i) => v - bounds.min[i]))
  const status = passStatus(project, pass)
  return (
    <>
      <div className="inspector-head" style={{ borderTop: '1px solid var(--rule)', paddingTop: 12 }}>
        <input
          className="title-input display"
          aria-label="Name of the pass"
          value={pass.name}
          onChange={(e) =>
            changePass(pass.id, 'rename pass', (draft) => void (draft.name = e.target.value), 'name')
          }
        />
        <span className="quiet">{kind.label === pass.name ? 'pass' : kind.label.toLowerCase()}</span>
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
      <RenderButtons project={project} pass={pass} onSheet={onSheet} />
      {Object.keys(kind.renderSchema.shape).length > 0 && (
        <section className="section">
          <div className="section-head">
            <span>Rendered</span>
            <span className="quiet">needs another render</span>
          </div>
          <ParamsInspector
            schema={kind.renderSchema}
            values={pass.params}
            idle={kind.idleRender(pass.params, sceneTraits(project))}
            figureDiagonal={diagonal}
            onChange={(name, value, label) =>
              changePass(
                pass.id,
                `${kind.label} ${label.toLowerCase()}`,
                (draft) => void (draft.params[name] = value),
                name,
              )
            }
          />
        </section>
      )}
      <PassMembers project={project} pass={pass} />
      {kind.isSampled && <EffortSection pass={pass} />}
      {pass.rendered && <LastRender kind={pass.kind} rendered={pass.rendered} />}
      <PassFoot project={project} pass={pass} />
    </>
  )
}
