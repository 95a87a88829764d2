'use client'

import { useEffect, useId, useRef } from 'react'
import type { CameraMove, CameraMoveKind, Easing } from '@/core/scene/camera-move'
import { EASINGS } from '@/core/scene/camera-move'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { changeShot, newMove } from '@/state/shot-actions'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'

/** A moment of a move that is being looked at. */
export interface Moment {
  readonly moveId: string
  readonly t01: number
  readonly playing: boolean
}

const easingLabels: Readonly<Record<Easing, string>> = {
  even: 'Even',
  start: 'Gentle start',
  end: 'Gentle end',
  both: 'Gentle start and end',
}
const KINDS: readonly (readonly [CameraMoveKind, string])[] = [
  ['spin', 'Spin the subject'],
  ['circle', 'Circle the camera'],
  ['push', 'Push in'],
  ['between', 'From view to view'],
]

interface MovesPanelProps {
  readonly project: Project
  readonly moment: Moment | null
  readonly setMoment: (moment: Moment | null) => void
}

/** Moves beside the still: made here, tried out in the view, filmed later. */
export function MovesPanel({ project, moment, setMoment }: MovesPanelProps) {
  const shot = activeShot(project)
  const move = shot.moves.find((m) => m.id === moment?.moveId)
  const change = (id: string, label: string, patch: Partial<CameraMove>) =>
    changeShot(
      label,
      (s) => {
        const at = s.moves.findIndex((m) => m.id === id)
        if (at >= 0) s.moves[at] = { ...s.moves[at], ...patch } as (typeof s.moves)[number]
      },
      `${id} ${label}`,
    )
  const add = (kind: CameraMoveKind) => {
    const made = newMove(kind, shot.views.length > 1 ? shot.views.map((v) => v.camera) : [shot.camera])
    changeShot(`move: ${made.name.toLowerCase()}`, (s) => void s.moves.push(made as (typeof s.moves)[number]))
    setMoment({ moveId: made.id, t01: 0, playing: false })
  }
  // Plays in real time; the last frame stays until it is let go.
  const latest = useRef(moment)
  useEffect(() => {
    latest.current = moment
  })
  const playing = moment?.playing === true
  const seconds = move?.seconds ?? 0
  useEffect(() => {
    if (!playing || seconds === 0) return
    let request = 0
    let before = performance.now()
    const step = (now: number) => {
      const current = latest.current
      if (!current?.playing) return
      const t01 = current.t01 + (now - before) / 1000 / seconds
      before = now
      setMoment({ ...current, t01: t01 >= 1 ? t01 % 1 : t01 })
      request = requestAnimationFrame(step)
    }
    request = requestAnimationFrame(step)
    return () => cancelAnimationFrame(request)
  }, [playing, seconds, setMoment])
  return (
    <>
      <section className="section">
        <div className="section-head">Add a move</div>
        <div className="pills">
          {KINDS.map(([kind, label]) => (
            <button
              key={kind}
              className="pill"
              disabled={kind === 'between' && shot.views.length < 2}
              title={kind === 'between' && shot.views.length < 2 ? 'Keep two views first' : undefined}
              onClick={() => add(kind)}
            >
              {label}
            </button>
          ))}
        </div>
        {shot.moves.length === 0 && (
          <p className="quiet">
            A move is tried out here beside the still. The picture itself stays as it is, locked or not.
          </p>
        )}
      </section>
      {shot.moves.map((m) => (
        <MoveSection
          key={m.id}
          move={m}
          project={project}
          moment={moment?.moveId === m.id ? moment : null}
          setMoment={setMoment}
          change={(label, patch) => change(m.id, label, patch)}
          onRemove={() => {
            if (moment?.moveId === m.id) setMoment(null)
            changeShot('remove move', (s) => void (s.moves = s.moves.filter((other) => other.id !== m.id)))
          }}
        />
      ))}
    </>
  )
}

function MoveSection({
  move,
  project,
  moment,
  setMoment,
  change,
  onRemove,
}: {
  move: CameraMove
  project: Project
  moment: Moment | null
  setMoment: (moment: Moment | null) => void
  change: (label: string, patch: Partial<CameraMove>) => void
  onRemove: () => void
}) {
  const id = useId()
  const { views } = activeShot(project)
  const t01 = moment?.t01 ?? 0
  const at = { moveId: move.id, t01, playing: false }
  return (
    <section className="section" aria-label={move.name}>
      <div className="section-head">
        <span>{move.name}</span>
        <button className="link" onClick={onRemove}>
          Remove
        </button>
      </div>
      <div className="row">
        <button
          className="link"
          onClick={() => setMoment(moment?.playing ? at : { ...at, playing: true })}
          data-testid="play-move"
        >
          {moment?.playing ? 'Hold' : 'Play'}
        </button>
        <input
          type="range"
          className="wide"
          min={0}
          max={1}
          step={0.001}
          value={t01}
          aria-label={`Moment of ${move.name}`}
          onChange={(e) => setMoment({ ...at, t01: Number(e.target.value) })}
        />
      </div>
      {moment && (
        <button className="link" onClick={() => setMoment(null)}>
          Back to the still
        </button>
      )}
      <NumberField
        label="Takes"
        value={move.seconds}
        min={0.5}
        max={60}
        step={0.1}
        unit="s"
        defaultValue={6}
        logarithmic
        onChange={(seconds) => change('move length', { seconds })}
      />
      {move.kind === 'spin' && (
        <NumberField
          label="Turns"
          value={move.turns}
          min={-4}
          max={4}
          step={0.25}
          defaultValue={1}
          onChange={(turns) => change('turns', { turns })}
        />
      )}
      {move.kind === 'circle' && (
        <NumberField
          label="Round"
          value={move.degrees}
          min={-720}
          max={720}
          step={5}
          unit="°"
          defaultValue={360}
          onChange={(degrees) => change('circle', { degrees })}
        />
      )}
      {move.kind === 'push' && (
        <NumberField
          label="Ends at"
          value={Math.round(move.to * 100)}
          min={5}
          max={400}
          step={1}
          unit="%"
          defaultValue={60}
          note="Of the distance it begins at"
          logarithmic
          onChange={(to) => change('push', { to: to / 100 })}
        />
      )}
      {move.kind === 'between' &&
        (['from', 'to'] as const).map((end) => (
          <SelectRow
            key={end}
            id={`${id} ${end}`}
            label={end === 'from' ? 'From' : 'To'}
            value={views.findIndex((v) => JSON.stringify(v.camera) === JSON.stringify(move[end]))}
            onChange={(picked) => {
              const view = views[Number(picked)]
              if (view) change(`move ${end}`, { [end]: view.camera })
            }}
          >
            <option value={-1}>as kept</option>
            {views.map((view, i) => (
              <option key={view.id} value={i}>
                {view.name}
              </option>
            ))}
          </SelectRow>
        ))}
      <SelectRow
        id={`${id} easing`}
        label="Speed"
        value={move.easing}
        onChange={(picked) => change('easing', { easing: picked as Easing })}
      >
        {EASINGS.map((easing) => (
          <option key={easing} value={easing}>
            {easingLabels[easing]}
          </option>
        ))}
      </SelectRow>
    </section>
  )
}
