'use client'

import { useMemo } from 'react'
import Button from '@mui/material/Button'
import Switch from '@mui/material/Switch'
import type { ParamValues } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { activePasses, activeSheet } from '@/data/active-shot'
import type { Project, ProjectPass } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { addSecondLighting, changePass, duplicatePass, layersOfPass, removePass } from '@/state/pass-actions'
import { nothingToRender } from '@/state/render-check'
import { passStatus } from '@/state/pass-status'
import { queueRender } from '@/state/render-queue'
import { sceneTraits } from '@/state/scene-traits'
import { subjectExtent } from '@/state/subject-extent'
import { setBench } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { ParamsInspector } from '@/ui/params-inspector'
import { PassMembers } from './pass-members'

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
  const hasModel = nothingToRender(project) === null
  const layerCount = activeSheet(project).layers.filter(
    (l) => l.source.type === 'pass' && l.source.passId === pass.id,
  ).length
  const shown = layersOfPass(pass.id)
  const sampled = kind.isSampled
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
      <section className="section" style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        {(sampled ? (['draft', 'good', 'final', 'custom'] as const) : (['final'] as const)).map((quality) => (
          <Button
            key={quality}
            variant="outlined"
            size="small"
            disabled={!hasModel}
            data-testid={`one-${quality}`}
            onClick={() => queueRender([pass.id], quality)}
            sx={{ flex: 1, minWidth: 0, textTransform: sampled ? 'capitalize' : 'none' }}
          >
            {sampled ? quality : 'Find the lines'}
          </Button>
        ))}
        <Button
          variant="outlined"
          size="small"
          disabled={!pass.rendered}
          onClick={onSheet}
          data-testid="to-sheet"
          sx={{ flexBasis: '100%' }}
        >
          {layerCount > 0 ? 'Layer again' : 'Layer it'}
        </Button>
      </section>
      {Object.keys(kind.renderSchema.shape).length > 0 && (
        <section className="section">
          <div className="section-head">
            <span>Rendered</span>
            <span className="quiet">needs another render</span>
          </div>
          <ParamsInspector
            schema={kind.renderSchema}
            values={pass.params as ParamValues}
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
      {sampled && (
        <section className="section">
          <div className="section-head">
            <span>Effort</span>
            <span className="quiet">of a custom render</span>
          </div>
          <NumberField
            label="Samples"
            value={pass.effort.samples}
            min={1}
            max={256}
            step={1}
            unit="a pixel"
            defaultValue={kind.efforts.final.samples}
            logarithmic
            onChange={(v) =>
              changePass(
                pass.id,
                'samples',
                (draft) => void (draft.effort.samples = Math.round(v)),
                'samples',
              )
            }
          />
          <NumberField
            label="Rays"
            value={pass.effort.rays}
            min={0}
            max={256}
            step={1}
            unit="a sample"
            defaultValue={kind.efforts.final.rays}
            onChange={(v) =>
              changePass(pass.id, 'rays', (draft) => void (draft.effort.rays = Math.round(v)), 'rays')
            }
          />
          {kind.canDenoise && (
            <div className="row">
              <label className="label" htmlFor={`denoise-${pass.id}`}>
                Smooth noise
              </label>
              <span className="wide" style={{ textAlign: 'right' }}>
                <Switch
                  size="small"
                  color="secondary"
                  checked={pass.denoise}
                  onChange={(e) =>
                    changePass(pass.id, 'smooth noise', (draft) => void (draft.denoise = e.target.checked))
                  }
                  slotProps={{ input: { id: `denoise-${pass.id}` } }}
                />
              </span>
            </div>
          )}
        </section>
      )}
      {pass.rendered && (
        <section className="section">
          <div className="section-head">Last render</div>
          {(
            [
              [
                'Quality',
                pass.rendered.denoised ? `${pass.rendered.quality}, smoothed` : pass.rendered.quality,
              ],
              ['Size', `${pass.rendered.width} × ${pass.rendered.height}`],
              ['Rays', pass.rendered.rays.toLocaleString('en')],
              ['Worker time', `${pass.rendered.seconds.toFixed(1)} s`],
              ...(sampled ? [['Samples', String(pass.rendered.samples)] as const] : []),
              ...(typeof pass.rendered.facts.lines === 'number'
                ? [['Lines', pass.rendered.facts.lines.toLocaleString('en')] as const]
                : []),
            ] as const
          ).map(([label, value]) => (
            <div className="row" key={label}>
              <span className="label">{label}</span>
              <span />
              <b>{value}</b>
            </div>
          ))}
          <p className="quiet" style={{ marginBottom: 0 }}>
            {kind.lines ? 'Weight, style' : 'Strength, tint'} and colour are set on the layer in Sheet, live.
          </p>
        </section>
      )}
      <section className="section" style={{ display: 'flex', flexWrap: 'wrap', gap: 14 }}>
        <button
          className="link"
          data-testid="duplicate-pass"
          onClick={() => {
            const id = duplicatePass(pass.id)
            if (id) setBench({ passId: id })
          }}
        >
          Duplicate
        </button>
        {kind.usesLights(pass.params) && (
          <button
            className="link"
            data-testid="second-lighting"
            title="A copy of this pass under another rig, to take single materials from"
            onClick={() => {
              const id = addSecondLighting(pass.id)
              if (id) setBench({ passId: id })
            }}
          >
            Second lighting
          </button>
        )}
        <button
          className="link"
          data-testid="remove-pass"
          disabled={activePasses(project).length < 2}
          onClick={() => removePass(pass.id)}
        >
          {shown > 0 ? `Remove, with ${shown} ${shown === 1 ? 'layer' : 'layers'}` : 'Remove'}
        </button>
      </section>
    </>
  )
}
