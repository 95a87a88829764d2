'use client'

import { memo, useId } from 'react'
import { TURNING, frameCount, type Turn, type Turning } from '@/core/turn/turn-schema'
import type { Project } from '@/data/project-schema'
import { changeMotion, setTurnSheet } from '@/state/turn-actions'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { EaseRow } from './ease-row'
import { FrameRow } from './frame-row'

const turningLabels: Readonly<Record<Turning, string>> = {
  subject: 'The subject turns',
  camera: 'The camera circles',
  nothing: 'Nothing turns',
}
const ALONG = 'along'
const ALONG_LABEL = 'Camera and light circle'
/** Frames a second that films have; any other can be typed. */
const RATES = [12, 24, 25, 30, 50, 60]

/** How it moves. Of duration, turns and frames any can be typed. */
export const MotionSection = memo(function MotionSection({
  project,
  turn,
}: {
  readonly project: Project
  readonly turn: Turn
}) {
  const id = useId()
  const { motion } = turn
  const { what, lightsGoAlong, turns, framesPerTurn, rate, direction, startDeg, ease } = motion
  const count = frameCount(motion)
  const setWhat = (value: string) =>
    value === ALONG
      ? changeMotion('what turns', { what: 'camera', lightsGoAlong: true })
      : changeMotion('what turns', { what: value as Turning, lightsGoAlong: false })
  const sheets = project.sheets.filter(({ mockupOf }) => mockupOf === undefined)
  return (
    <section className="section" aria-label="Motion">
      <div className="section-head">
        <span>Motion</span>
      </div>
      <SelectRow
        id={`${id}-what`}
        label="Moves"
        value={what === 'camera' && lightsGoAlong ? ALONG : what}
        testId="turning"
        onChange={setWhat}
      >
        {TURNING.map((own) => (
          <option key={own} value={own}>
            {turningLabels[own]}
          </option>
        ))}
        <option value={ALONG}>{ALONG_LABEL}</option>
      </SelectRow>
      <FrameRow
        label="Turns"
        value={turns}
        min={1}
        max={100}
        onChange={(next) => changeMotion('turns', { turns: next })}
      />
      <FrameRow
        label="Frames a turn"
        value={framesPerTurn}
        min={2}
        max={10_000}
        onChange={(next) => changeMotion('frames a turn', { framesPerTurn: next })}
      />
      <FrameRow
        label="Frames in all"
        value={count}
        min={2 * turns}
        max={72_000}
        onChange={(next) => changeMotion('frames', { framesPerTurn: Math.max(2, Math.round(next / turns)) })}
      />
      <FrameRow
        label="Lasts"
        unit="s"
        value={count / rate}
        min={(2 * turns) / rate}
        max={72_000 / rate}
        step={0.01}
        onChange={(next) =>
          changeMotion('duration', { framesPerTurn: Math.max(2, Math.round((next * rate) / turns)) })
        }
      />
      <FrameRow
        label="A second"
        unit="frames"
        value={rate}
        min={1}
        max={240}
        step={0.001}
        onChange={(next) => changeMotion('frames a second', { rate: next })}
      />
      <div className="rates" role="group" aria-label="Usual rates">
        {RATES.map((own) => (
          <button
            key={own}
            className="link"
            aria-pressed={own === rate}
            onClick={() => changeMotion('frames a second', { rate: own })}
          >
            {own}
          </button>
        ))}
      </div>
      {what !== 'nothing' && (
        <>
          <SelectRow
            id={`${id}-direction`}
            label="From above"
            value={direction}
            onChange={(next) =>
              changeMotion('direction', { direction: next === 'clockwise' ? 'clockwise' : 'anticlockwise' })
            }
          >
            <option value="anticlockwise">Against the clock</option>
            <option value="clockwise">With the clock</option>
          </SelectRow>
          <NumberField
            label="Begins at"
            value={startDeg}
            min={-180}
            max={180}
            step={1}
            unit="°"
            defaultValue={0}
            onChange={(next) => changeMotion('start angle', { startDeg: next })}
          />
          <EaseRow label="Goes" ease={ease} onChange={(next) => changeMotion('ease', { ease: next })} />
        </>
      )}
      {sheets.length > 1 && (
        <SelectRow id={`${id}-sheet`} label="Shows" value={turn.sheetId} onChange={setTurnSheet}>
          {sheets.map((sheet) => (
            <option key={sheet.id} value={sheet.id}>
              {sheet.name}
            </option>
          ))}
        </SelectRow>
      )}
    </section>
  )
})
