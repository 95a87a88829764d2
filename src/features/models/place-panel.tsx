'use client'

import { useId } from 'react'
import Button from '@mui/material/Button'
import { PROP_KINDS, propKind } from '@/core/geometry/props/registry'
import type { Copies } from '@/core/scene/placement'
import type { Project, ProjectModel } from '@/data/project-schema'
import {
  modelBox,
  addProp,
  changeModel,
  changeProp,
  dropToGround,
  startingCopies,
} from '@/state/model-actions'
import { NumberField } from '@/ui/number-field'
import { ParamsInspector } from '@/ui/params-inspector'

const AXES = ['X', 'Y', 'Z'] as const
const TURNS = ['Tilt', 'Turn', 'Roll'] as const
const copyLabels: Readonly<Record<Copies['kind'], string>> = {
  one: 'Once',
  row: 'In a row',
  grid: 'On a grid',
  ring: 'In a ring',
}

/** How far numbers for lengths go: a power of ten well beyond the size of what is placed. */
const reachOf = (diagonal: number): number => 10 ** Math.ceil(Math.log10(8 * (diagonal || 1)))

interface PlacePanelProps {
  readonly project: Project
  readonly model: ProjectModel | undefined
  readonly onProblem: (problem: string) => void
}

/** Where a model stands, how often, and what it stands on. */
export function PlacePanel({ project, model, onProblem }: PlacePanelProps) {
  const box = model && modelBox(project, model)
  const reach = reachOf(box ? Math.hypot(...box.max.map((v, axis) => v - box.min[axis])) : 1)
  return (
    <>
      {model && <Standing model={model} reach={reach} />}
      {model?.source.type === 'prop' && (
        <section className="section">
          <div className="section-head">{propKind(model.source.prop).label}</div>
          <ParamsInspector
            schema={propKind(model.source.prop).schema}
            values={model.source.params}
            onChange={(name, value) => changeProp(model, name, value)}
          />
        </section>
      )}
      {model && <CopiesSection project={project} model={model} reach={reach} />}
      <section className="section">
        <div className="section-head">Stand it on</div>
        <div className="pills">
          {PROP_KINDS.map((kind) => (
            <button
              key={kind}
              className="pill"
              title={propKind(kind).summary}
              onClick={() => void addProp(kind).then((problem) => problem && onProblem(problem))}
            >
              {propKind(kind).label}
            </button>
          ))}
        </div>
      </section>
    </>
  )
}

function Standing({ model, reach }: { model: ProjectModel; reach: number }) {
  const { position, rotationDeg, scale } = model.placement
  const isEven = scale[0] === scale[1] && scale[1] === scale[2]
  const evenId = useId()
  return (
    <section className="section">
      <div className="section-head">
        <span>Place</span>
        <button className="link" onClick={() => dropToGround(model.id)}>
          Drop to ground
        </button>
      </div>
      {AXES.map((axis, i) => (
        <NumberField
          key={axis}
          label={axis}
          value={position[i]}
          min={-reach}
          max={reach}
          step={reach / 1e5}
          defaultValue={0}
          onChange={(v) =>
            changeModel(model.id, 'move model', (m) => void (m.placement.position[i] = v), `move ${axis}`)
          }
        />
      ))}
      {[1, 0, 2].map((i) => (
        <NumberField
          key={TURNS[i]}
          label={TURNS[i]}
          value={rotationDeg[i]}
          min={-180}
          max={180}
          step={0.1}
          unit="°"
          defaultValue={0}
          onChange={(v) =>
            changeModel(model.id, 'turn model', (m) => void (m.placement.rotationDeg[i] = v), `turn ${i}`)
          }
        />
      ))}
      {isEven ? (
        <NumberField
          label="Scale"
          value={scale[0]}
          min={0.001}
          max={1000}
          step={0.001}
          unit="×"
          defaultValue={1}
          logarithmic
          onChange={(v) =>
            changeModel(model.id, 'scale model', (m) => void (m.placement.scale = [v, v, v]), 'scale')
          }
        />
      ) : (
        <>
          {AXES.map((axis, i) => (
            <NumberField
              key={axis}
              label={`Scale ${axis}`}
              value={scale[i]}
              min={0.001}
              max={1000}
              step={0.001}
              unit="×"
              defaultValue={1}
              logarithmic
              onChange={(v) =>
                changeModel(model.id, 'scale model', (m) => void (m.placement.scale[i] = v), `scale ${axis}`)
              }
            />
          ))}
          <button
            className="link"
            id={evenId}
            onClick={() => {
              const even = Math.cbrt(scale[0] * scale[1] * scale[2])
              changeModel(model.id, 'scale evenly', (m) => void (m.placement.scale = [even, even, even]))
            }}
          >
            Scale evenly
          </button>
        </>
      )}
      <Button
        size="small"
        variant="text"
        onClick={() =>
          changeModel(model.id, 'back to the origin', (m) => {
            m.placement = { position: [0, 0, 0], rotationDeg: [0, 0, 0], scale: [1, 1, 1] }
          })
        }
      >
        As its file has it
      </Button>
    </section>
  )
}

interface CopiesSectionProps {
  readonly project: Project
  readonly model: ProjectModel
  readonly reach: number
}

function CopiesSection({ project, model, reach }: CopiesSectionProps) {
  const { copies } = model
  const id = useId()
  const set = (patch: Partial<Extract<Copies, { kind: 'row' | 'grid' | 'ring' }>>, what: string) =>
    changeModel(
      model.id,
      'copies',
      (m) => void (m.copies = { ...m.copies, ...patch } as Copies),
      `copies ${what}`,
    )
  const whole = (label: string, value: number, max: number, onChange: (v: number) => void) => (
    <NumberField label={label} value={value} min={1} max={max} step={1} onChange={onChange} />
  )
  const length = (label: string, value: number, onChange: (v: number) => void, min = -reach) => (
    <NumberField label={label} value={value} min={min} max={reach} step={reach / 1e4} onChange={onChange} />
  )
  return (
    <section className="section">
      <div className="row">
        <label htmlFor={id}>
          <b>Copies</b>
        </label>
        <select
          id={id}
          className="plain-select wide"
          value={copies.kind}
          onChange={(e) => {
            const kind = e.target.value as Copies['kind']
            changeModel(
              model.id,
              `copies: ${copyLabels[kind].toLowerCase()}`,
              (m) => void (m.copies = startingCopies(kind, project, model)),
            )
          }}
        >
          {(Object.keys(copyLabels) as Copies['kind'][]).map((kind) => (
            <option key={kind} value={kind}>
              {copyLabels[kind]}
            </option>
          ))}
        </select>
      </div>
      {copies.kind === 'row' && (
        <>
          {whole('How many', copies.count, 100, (count) => set({ count }, 'count'))}
          {AXES.map((axis, i) => (
            <div key={axis}>
              {length(`Step ${axis}`, copies.step[i], (v) => {
                const step: [number, number, number] = [...copies.step]
                step[i] = v
                set({ step }, `step ${axis}`)
              })}
            </div>
          ))}
        </>
      )}
      {copies.kind === 'grid' && (
        <>
          {whole('Columns', copies.columns, 31, (columns) => set({ columns }, 'columns'))}
          {whole('Rows', copies.rows, 31, (rows) => set({ rows }, 'rows'))}
          {length('Step X', copies.stepX, (stepX) => set({ stepX }, 'step x'))}
          {length('Step Z', copies.stepZ, (stepZ) => set({ stepZ }, 'step z'))}
        </>
      )}
      {copies.kind === 'ring' && (
        <>
          {whole('How many', copies.count, 100, (count) => set({ count }, 'count'))}
          {length('Radius', copies.radius, (radius) => set({ radius }, 'radius'), 0)}
          <NumberField
            label="Sweep"
            value={copies.sweepDeg}
            min={1}
            max={360}
            step={1}
            unit="°"
            defaultValue={360}
            onChange={(sweepDeg) => set({ sweepDeg }, 'sweep')}
          />
          <div className="row two">
            <label htmlFor={`${id} turning`}>Turn along</label>
            <span>
              <input
                id={`${id} turning`}
                type="checkbox"
                checked={copies.turning}
                onChange={(e) => set({ turning: e.target.checked }, 'turning')}
              />
            </span>
          </div>
        </>
      )}
    </section>
  )
}
