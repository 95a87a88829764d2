'use client'

import { useId } from 'react'
import { withKey, withoutKey } from '@/core/turn/key-editing'
import { CAMERA_LANES, frameCount, type CameraLane, type Turn } from '@/core/turn/turn-schema'
import { trackValue } from '@/core/sheet/tracks'
import type { Shot } from '@/data/project-schema'
import { setCameraKeys, setViewKeys } from '@/state/turn-actions'
import { setBench, useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { KeyLinks } from './key-links'
import { cameraLaneLabels } from './lane-handles'

/** What is shown of each lane: the camera nearer by so many percent is a factor of its distance. */
const SHOWN: Readonly<
  Record<
    CameraLane,
    {
      readonly min: number
      readonly max: number
      readonly step: number
      readonly unit: string
      readonly show: (value: number) => number
      readonly read: (shown: number) => number
      readonly rest: number
    }
  >
> = {
  push: {
    min: -100,
    max: 90,
    step: 1,
    unit: '%',
    show: (value) => Math.round(100 * (1 - value)),
    read: (shown) => 1 - shown / 100,
    rest: 1,
  },
  raiseDeg: { min: -80, max: 80, step: 0.5, unit: '°', show: (v) => v, read: (v) => v, rest: 0 },
  shiftX: {
    min: -100,
    max: 100,
    step: 0.5,
    unit: '%',
    show: (v) => 100 * v,
    read: (v) => v / 100,
    rest: 0,
  },
  shiftY: {
    min: -100,
    max: 100,
    step: 0.5,
    unit: '%',
    show: (v) => 100 * v,
    read: (v) => v / 100,
    rest: 0,
  },
}

/** What the camera does besides turning. */
export function CameraSection({ turn, shot }: { readonly turn: Turn; readonly shot: Shot }) {
  const frame = useViewStore((s) => s.turnFrame)
  return (
    <>
      <section className="section" aria-label="Camera keys">
        <div className="section-head">
          <span>Keys</span>
          <span className="quiet">at frame {frame}</span>
        </div>
        {CAMERA_LANES.map((lane) => (
          <LaneField key={lane} turn={turn} lane={lane} frame={frame} />
        ))}
      </section>
      <Views turn={turn} shot={shot} frame={frame} />
    </>
  )
}

function LaneField({
  turn,
  lane,
  frame,
}: {
  readonly turn: Turn
  readonly lane: CameraLane
  readonly frame: number
}) {
  const { min, max, step, unit, show, read, rest } = SHOWN[lane]
  const keys = turn.camera[lane]
  const last = frameCount(turn.motion)
  const value = keys.length === 0 ? rest : (trackValue({ keys }, frame, 'number') as number)
  const label = cameraLaneLabels[lane]
  const change = (next: Turn['camera'][CameraLane], what: string, merge?: string) =>
    setCameraKeys(lane, next, `${what} ${label.toLowerCase()}`, merge)
  return (
    <div className="keyed" role="group" aria-label={label}>
      <NumberField
        label={label}
        value={show(value)}
        min={min}
        max={max}
        step={step}
        unit={unit}
        defaultValue={0}
        onChange={(shown) => change(withKey(keys, frame, read(shown)), 'key', `key ${frame}`)}
      />
      {keys.length > 0 && (
        <KeyLinks label={label} keys={keys} value={value} frame={frame} last={last} onChange={change} />
      )}
    </div>
  )
}

/** A path through views that were kept of the shot. */
function Views({ turn, shot, frame }: { readonly turn: Turn; readonly shot: Shot; readonly frame: number }) {
  const id = useId()
  const { views } = turn.camera
  const nameOf = (viewId: string) =>
    shot.views.find((view) => view.id === viewId)?.name ?? 'a view that is gone'
  return (
    <section className="section" aria-label="Path through kept views">
      <div className="section-head">
        <span>Through kept views</span>
      </div>
      {views.map((key) => (
        <div className="row two" key={key.at}>
          <button className="link" onClick={() => setBench({ turnFrame: key.at })}>
            {nameOf(key.value)}, frame {key.at}
          </button>
          <span>
            <button
              className="link"
              aria-label={`Leave out ${nameOf(key.value)}`}
              onClick={() => setViewKeys(withoutKey(views, key.at), 'leave out a view')}
            >
              Leave out
            </button>
          </span>
        </div>
      ))}
      {shot.views.length === 0 ? (
        <p className="idle-note">Views that are kept in Shot can be gone through here.</p>
      ) : (
        <SelectRow
          id={id}
          label="Be at"
          value=""
          onChange={(viewId) =>
            viewId !== '' && setViewKeys(withKey(views, frame, viewId), 'go through a view')
          }
        >
          <option value="">a kept view, at frame {frame} …</option>
          {shot.views.map((view) => (
            <option key={view.id} value={view.id}>
              {view.name}
            </option>
          ))}
        </SelectRow>
      )}
    </section>
  )
}
