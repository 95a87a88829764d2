'use client'

import { memo, useEffect, useId, useState } from 'react'
import Button from '@mui/material/Button'
import { EFFORTS } from '@/core/passes/effort'
import { frameCount, frameSize, type Turn } from '@/core/turn/turn-schema'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { amountText } from '@/data/storage-room'
import { changeTurn } from '@/state/turn-actions'
import type { TurnPlan } from '@/state/turn-plan'
import { bytesMissing, cancelTurn, pauseTurn, renderTurn, useTurnJob } from '@/state/turn-render'
import { findStudio, useStudio } from '@/state/studio'
import { renderTurnAtStudio } from '@/state/studio-turn'
import { timeLeft } from '@/ui/bench-shell'
import { StudioWorks } from '@/ui/studio-works'
import { ProgressBar } from '@/ui/progress-bar'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { FrameRow } from './frame-row'

interface FramesSectionProps {
  readonly project: Project
  readonly turn: Turn
  readonly sheet: ProjectSheet
  readonly plan: TurnPlan | null
  readonly onExport: () => void
}

const WIDTHS = [640, 960, 1280, 1920, 2560, 3840]

/** The frames: how many are there, how long the rest takes, what was saved; always in sight. */
export const FramesFoot = memo(function FramesFoot({
  project,
  turn,
  plan,
  onExport,
}: Omit<FramesSectionProps, 'sheet'>) {
  const { there, job } = useTurnJob()
  const hasStudio = useStudio((s) => s.health !== null)
  const isAtStudio = useStudio((s) => s.works.some(({ of }) => of === turn.id))
  useEffect(() => void findStudio(), [])
  const count = frameCount(turn.motion)
  const done = plan ? plan.names.filter((name) => there.has(name)).length : 0
  const own = job?.turnId === turn.id ? job : null
  const isWorking = own !== null && own.state !== 'paused'
  const left = useRoomLeft()
  const needs = plan ? bytesMissing(plan) : 0
  const isWhole = plan !== null && done === count
  return (
    <section className="inspector-foot frames-foot" aria-label="Frames">
      <div className="section-head">
        <span>Frames</span>
        <span className="quiet" data-testid="frames-there">
          {done} of {count}, {turn.quality}
        </span>
      </div>
      <ProgressBar share01={count > 0 ? done / count : 0} label="Frames rendered" />
      {own?.reason && (
        <p className="problem" role="alert">
          It stopped: {own.reason}
        </p>
      )}
      <p
        className="idle-note"
        data-testid="frames-told"
        data-seconds={own?.secondsLeft ?? undefined}
        role="status"
      >
        {isWorking
          ? own.state === 'rendering'
            ? own.secondsLeft === null
              ? 'Rendering; how long it takes is known soon.'
              : `${timeLeft(own.secondsLeft)} left.`
            : 'Preparing the scene.'
          : isWhole
            ? 'All frames are there.'
            : `About ${amountText(needs)} of storage${left === null ? '' : `; ${amountText(left)} free`}.`}{' '}
        {plan && <Saved plan={plan} project={project} />}
      </p>
      <StudioWorks isShown={({ of }) => of === turn.id} />
      <div className="frames-press">
        {isWorking ? (
          <>
            <Button size="small" variant="outlined" onClick={pauseTurn} data-testid="pause-turn">
              Pause
            </Button>
            <Button size="small" variant="text" onClick={cancelTurn}>
              Cancel
            </Button>
          </>
        ) : (
          !isWhole && (
            <Button
              size="small"
              variant="contained"
              onClick={() => renderTurn(turn.id)}
              data-testid="render-turn"
            >
              {own || done > 0 ? 'Go on' : 'Render the frames'}
            </Button>
          )
        )}
        {plan && !isWhole && !isWorking && hasStudio && !isAtStudio && (
          <Button
            size="small"
            variant="outlined"
            onClick={() => void renderTurnAtStudio(project, turn)}
            data-testid="render-studio"
          >
            At the studio
          </Button>
        )}
        <Button
          size="small"
          variant={isWhole ? 'contained' : 'outlined'}
          disabled={done === 0}
          onClick={onExport}
          data-testid="export-film"
        >
          Export the film
        </Button>
      </div>
    </section>
  )
})

/** How large and how good the frames are. */
export const FramesSection = memo(function FramesSection({
  turn,
  sheet,
}: Pick<FramesSectionProps, 'turn' | 'sheet'>) {
  const id = useId()
  const { width } = frameSize(turn, sheet)
  const widths = [...new Set([...WIDTHS, sheet.width, width])].sort((a, b) => a - b)
  return (
    <section className="section" aria-label="Frames are">
      <div className="section-head">
        <span>Frames are</span>
      </div>
      <SelectRow
        id={`${id}-quality`}
        label="Quality"
        value={turn.quality}
        testId="turn-quality"
        onChange={(value) =>
          changeTurn('quality of frames', (draft) => {
            draft.quality = EFFORTS.find((own) => own === value) ?? draft.quality
          })
        }
      >
        {EFFORTS.map((effort) => (
          <option key={effort} value={effort}>
            {effort[0].toUpperCase() + effort.slice(1)}
          </option>
        ))}
      </SelectRow>
      <SelectRow
        id={`${id}-size`}
        label="Size"
        value={width}
        testId="turn-size"
        onChange={(value) =>
          changeTurn('size of frames', (draft) => {
            draft.width = Number(value) === sheet.width ? null : Number(value)
          })
        }
      >
        {widths.map((own) => {
          const size = frameSize({ width: own }, sheet)
          return (
            <option key={own} value={own}>
              {size.width} × {size.height}
              {own === sheet.width ? ', sheet' : ''}
            </option>
          )
        })}
      </SelectRow>
      <FrameRow
        label="Grain changes every"
        unit="frames"
        value={turn.grainEvery}
        max={1000}
        onChange={(every) => changeTurn('grain of frames', (draft) => void (draft.grainEvery = every))}
      />
      <FrameRow
        label="Lines drawn anew every"
        unit="frames"
        value={turn.boilEvery}
        max={1000}
        onChange={(every) => changeTurn('lines of frames', (draft) => void (draft.boilEvery = every))}
      />
      <NumberField
        label="Motion blur"
        value={100 * turn.shutter}
        min={0}
        max={100}
        step={1}
        unit="%"
        defaultValue={0}
        note="How long of a frame the shutter is open. Each step of it is rendered for itself"
        onChange={(share) =>
          changeTurn('motion blur', (draft) => void (draft.shutter = share / 100), 'shutter')
        }
      />
      {turn.shutter > 0 && (
        <FrameRow
          label="Steps of it"
          value={turn.shutterSteps}
          min={2}
          max={64}
          onChange={(steps) => changeTurn('steps of blur', (draft) => void (draft.shutterSteps = steps))}
        />
      )}
      <SwitchRow
        label="Clear ground"
        note="Without the colour under all layers: what shows nothing is clear, in films that can"
        checked={turn.isClear}
        onChange={(on) => changeTurn('clear ground', (draft) => void (draft.isClear = on))}
      />
    </section>
  )
})

/** What need not be rendered, told. */
function Saved({ plan, project }: { readonly plan: TurnPlan; readonly project: Project }) {
  const { frames, poses, passes } = plan.savings
  const some = passes.filter((pass) => pass.frames < frames && pass.frames > 0)
  const names = new Map(project.passes.map(({ id, name }) => [id, name]))
  return (
    <>
      {poses < frames && `${frames - poses} frames stand as others do and use their passes. `}
      {some.map(
        ({ passId, frames: seen }) =>
          `${names.get(passId) ?? 'A pass'} only where it shows: ${seen} frames. `,
      )}
    </>
  )
}

/** Bytes that the browser has left; null where it does not tell. */
function useRoomLeft(): number | null {
  const [left, setLeft] = useState<number | null>(null)
  const there = useTurnJob((s) => s.there.size)
  useEffect(() => {
    let isOver = false
    void navigator.storage
      ?.estimate()
      .then(({ quota, usage = 0 }) => {
        if (!isOver && quota !== undefined) setLeft(quota - usage)
      })
      .catch(() => undefined)
    return () => {
      isOver = true
    }
  }, [there])
  return left
}
