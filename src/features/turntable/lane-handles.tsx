'use client'

import type { KeyboardEvent, PointerEvent } from 'react'
import { keyMoved, withoutKey, type LaneKey } from '@/core/turn/key-editing'
import { layerOfTrack } from '@/core/turn/keyable'
import { CAMERA_LANES, frameCount, type CameraLane, type Turn } from '@/core/turn/turn-schema'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Track } from '@/core/sheet/tracks'
import { changeReveal, MOMENTS, setCameraKeys, setKeys, setMoment, type Moment } from '@/state/turn-actions'
import { setBench } from '@/state/view-store'

interface TimeHandleProps {
  readonly label: string
  readonly at: number
  readonly count: number
  /** How high it stands on its lane: 0 on its floor, 1 at its top. */
  readonly height: number
  readonly shape?: 'round' | 'diamond'
  readonly onMove: (frame: number) => void
  readonly onRemove?: () => void
}

/** A moment on a lane: dragged along it, or moved by the arrow keys. */
function TimeHandle({ label, at, count, height, shape = 'round', onMove, onRemove }: TimeHandleProps) {
  const drag = (e: PointerEvent<HTMLButtonElement>) => {
    const box = e.currentTarget.parentElement?.getBoundingClientRect()
    if (!box || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    onMove(Math.min(count, Math.max(0, Math.round(((e.clientX - box.left) / box.width) * count))))
  }
  const key = (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 : 1
    if ((e.key === 'Delete' || e.key === 'Backspace') && onRemove) onRemove()
    else if (e.key === 'ArrowLeft') onMove(Math.max(0, at - by))
    else if (e.key === 'ArrowRight') onMove(Math.min(count, at + by))
    else if (e.key === 'Enter') setBench({ turnFrame: Math.min(count - 1, at) })
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  return (
    <button
      type="button"
      role="slider"
      className="time-handle"
      data-shape={shape}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={count}
      aria-valuenow={at}
      aria-valuetext={`frame ${at}`}
      title={`${label}: frame ${at}`}
      style={{ left: `${(100 * at) / count}%`, bottom: `${100 * height}%` }}
      onPointerDown={(e) => {
        if (e.button === 0) e.currentTarget.setPointerCapture(e.pointerId)
      }}
      onPointerMove={drag}
      onKeyDown={key}
    />
  )
}

const momentWords: Readonly<Record<Moment, string>> = {
  from: 'begins to come',
  whole: 'is whole',
  goes: 'begins to go',
  gone: 'is gone',
}

/** Moments of a layer's reveals, and its keys. */
export function LayerHandlesInTime({ node, turn }: { readonly node: SheetNode; readonly turn: Turn }) {
  const count = frameCount(turn.motion)
  return (
    <>
      {turn.reveals
        .filter(({ layerId }) => layerId === node.id)
        .flatMap((reveal) =>
          MOMENTS.map((moment) => {
            const at = reveal[moment]
            if (at === null) return null
            const top = moment === 'whole' || moment === 'goes'
            return (
              <TimeHandle
                key={`${reveal.id} ${moment}`}
                label={`${node.name} ${momentWords[moment]}`}
                at={at}
                count={count}
                height={top ? node.opacity : 0}
                onMove={(frame) =>
                  changeReveal(
                    reveal.id,
                    'when a layer comes',
                    (draft) => setMoment(draft, moment, frame, count),
                    moment,
                  )
                }
              />
            )
          }),
        )}
      {turn.tracks
        .filter((track) => layerOfTrack(track) === node.id)
        .map((track) => (
          <KeyHandles key={track.path.join()} name={node.name} track={track} count={count} />
        ))}
    </>
  )
}

function KeyHandles({
  name,
  track,
  count,
}: {
  readonly name: string
  readonly track: Track
  readonly count: number
}) {
  const what = String(track.path.at(-1))
  const isOpacity = track.path.length === 3 && what === 'opacity'
  return track.keys.map((key, i) => (
    <TimeHandle
      key={i}
      label={`${name}, key of ${what}`}
      shape="diamond"
      at={key.at}
      count={count}
      height={isOpacity && typeof key.value === 'number' ? key.value : 0.5}
      onMove={(frame) =>
        setKeys(track.path, keyMoved(track.keys, key.at, frame, count), 'move a key', `move ${i}`)
      }
      onRemove={() => setKeys(track.path, withoutKey(track.keys, key.at), 'remove a key')}
    />
  ))
}

export const cameraLaneLabels: Readonly<Record<CameraLane, string>> = {
  push: 'Push in',
  raiseDeg: 'Raised',
  shiftX: 'Shift across',
  shiftY: 'Shift up',
}

/** Keys of the camera's lanes. */
export function CameraHandles({ turn }: { readonly turn: Turn }) {
  const count = frameCount(turn.motion)
  return CAMERA_LANES.flatMap((lane) => {
    const keys: readonly LaneKey<number>[] = turn.camera[lane]
    const rest = lane === 'push' ? 1 : 0
    const far = Math.max(1e-9, ...keys.map(({ value }) => Math.abs(value - rest)))
    return keys.map((key, i) => (
      <TimeHandle
        key={`${lane} ${i}`}
        label={`Camera, key of ${cameraLaneLabels[lane].toLowerCase()}`}
        shape="diamond"
        at={key.at}
        count={count}
        height={Math.abs(key.value - rest) / far}
        onMove={(frame) =>
          setCameraKeys(lane, keyMoved(keys, key.at, frame, count), 'move a key', `move ${i}`)
        }
        onRemove={() => setCameraKeys(lane, withoutKey(keys, key.at), 'remove a key')}
      />
    ))
  })
}
