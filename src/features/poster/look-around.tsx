'use client'

import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { HandleBox } from '@/ui/sheet-handles'
import { changeContent } from '../sheet/layer-actions'

interface LookAroundProps {
  readonly layerId: string
  readonly name: string
  readonly content: ContentOf<'mockup'>
  readonly sheet: { readonly width: number; readonly height: number }
}

/** Degrees for the whole picture's width and height. */
const SWEEP = 90

const around = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180
const within = (deg: number): number => Math.min(90, Math.max(-80, deg))

/** All of a mock-up: dragged, or with the arrow keys, one looks at it from elsewhere; with Shift its lights are turned. */
export function LookAround({ layerId, name, content, sheet }: LookAroundProps) {
  const taken = useRef<{ x: number; y: number; azimuth: number; elevation: number; light: number } | null>(
    null,
  )
  const look = (azimuth: number, elevation: number, merge: string) =>
    changeContent(
      layerId,
      'mockup',
      'look from elsewhere',
      (own) => {
        own.azimuthDeg = Math.round(2 * around(azimuth)) / 2
        own.elevationDeg = Math.round(2 * within(elevation)) / 2
      },
      merge,
    )
  const turnLights = (deg: number, merge: string) =>
    changeContent(
      layerId,
      'mockup',
      'turn the lights',
      (own) => void (own.lightTurnDeg = Math.round(around(deg))),
      merge,
    )
  const down = (e: PointerEvent<HTMLButtonElement>) => {
    if (e.button !== 0) return
    e.stopPropagation()
    e.currentTarget.setPointerCapture(e.pointerId)
    taken.current = {
      x: e.clientX,
      y: e.clientY,
      azimuth: content.azimuthDeg,
      elevation: content.elevationDeg,
      light: content.lightTurnDeg,
    }
  }
  const drag = (e: PointerEvent<HTMLButtonElement>) => {
    const from = taken.current
    if (!from || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    const box = e.currentTarget.getBoundingClientRect()
    const [dx, dy] = [(e.clientX - from.x) / box.width, (e.clientY - from.y) / box.height]
    if (Math.hypot(e.clientX - from.x, e.clientY - from.y) < 3) return
    if (e.shiftKey) turnLights(from.light + 2 * SWEEP * dx, 'turn the lights')
    else look(from.azimuth - SWEEP * dx, from.elevation + SWEEP * dy, 'look')
  }
  const up = () => void (taken.current = null)
  const key = (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key]
    if (!step) return
    e.preventDefault()
    e.stopPropagation()
    if (e.shiftKey) turnLights(content.lightTurnDeg + 5 * (step[0] || step[1]), 'turn the lights by key')
    else look(content.azimuthDeg + 2 * step[0], content.elevationDeg + 2 * step[1], 'look by key')
  }
  return (
    <HandleBox {...sheet} label={`View of ${name}`}>
      <button
        type="button"
        className="look-around"
        data-testid="look-around"
        aria-label={`Look at ${name} from elsewhere: arrow keys move the view, with Shift the lights`}
        onPointerDown={down}
        onPointerMove={drag}
        onPointerUp={up}
        onPointerCancel={up}
        onKeyDown={key}
      />
    </HandleBox>
  )
}
