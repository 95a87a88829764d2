'use client'

import { useEffect, useRef, useState } from 'react'
import { samplesAlong } from '@/core/paint/led-way'
import type { PenSample } from '@/core/paint/stroke-walker'
import { toHex } from '@/core/math/colour'
import type { ProjectSheet } from '@/data/project-schema'
import { PaintSession } from '@/state/paint-session'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { placeIn } from '@/ui/turned-box'
import { PaintStyles } from './paint-styles'
import { brushOf, PAINT_TOOLS, setPaint, usePaint, useTip } from './paint-store'
import { strokeAt } from './begin-stroke'
import { growFrom } from './grow-lines'
import { useLedWay } from './use-led-way'

/** A pen that tells no pressure: how fast it is, in screen pixels a millisecond, when it presses least. */
const FASTEST = 3
/** How much a pen presses that is led along a way. */
const LED_PRESSURE = 0.75
/** How quickly a held key presses: so much nearer with each moment. */
const HELD_SHARE = 0.2

interface PaintOverlayProps {
  readonly projectId: string
  readonly sheet: ProjectSheet
  readonly isFlipped: boolean
  /** Told where the pointer is, 0…1 of the sheet; null once it is beside it. */
  readonly onHover: (place: readonly [number, number] | null) => void
}

interface Going {
  readonly session: PaintSession
  readonly startedAt: number
  readonly pointerId: number
  last: PenSample
}

/**
 * Takes a pen, a mouse, or the arrow keys, as the brush. Middle and right buttons, the wheel, and fingers beside a pen are left to
 * the view beneath.
 */
export function PaintOverlay({ projectId, sheet, isFlipped, onHover }: PaintOverlayProps) {
  const tool = usePaint((s) => s.tool)
  const tipKind = usePaint((s) => s.tip)
  const brushes = usePaint((s) => s.brushes)
  const params = brushOf({ brushes }, tipKind)
  const tipAt = useTip((s) => s.at)
  const boxRef = useRef<HTMLDivElement>(null)
  const going = useRef<Going | null>(null)
  const hasPen = useRef(false)
  const [place, setPlace] = useState<readonly [number, number] | null>(null)
  const tell = (error: unknown) =>
    setPaint({ problem: error instanceof Error ? error.message : String(error) })
  const lead = usePaint((s) => s.lead)
  const cloneFrom = usePaint((s) => s.cloneFrom)
  const cloneBy = usePaint((s) => s.cloneBy)
  const led = useLedWay(tell)
  /** Whether a stroke is led otherwise than painted by the free hand. */
  const isLed = lead !== 'free' || tool === 'crack'
  useEffect(() => boxRef.current?.focus({ preventScroll: true }), [])
  useEffect(
    () => () => {
      // Who told of problems is gone with the overlay: the stroke is noted.
      void going.current?.session.end().catch(() => undefined)
      going.current = null
    },
    [],
  )
  if (!tool) return null
  const { label } = PAINT_TOOLS[tool]
  const { width, height } = sheet

  /** Sheet pixels of a place on the screen. */
  const placeOf = (e: { readonly clientX: number; readonly clientY: number }): readonly [number, number] => {
    if (!boxRef.current) return [0, 0]
    const [x, y] = placeIn(boxRef.current, e, usePaint.getState().turnDeg)
    return [(isFlipped ? 1 - x : x) * width, y * height]
  }
  const sampleOf = (e: PointerEvent, startedAt: number, before: PenSample | null): PenSample => {
    const [x, y] = placeOf(e)
    const at = Math.max(0, e.timeStamp - startedAt)
    const base = { x, y, tiltX: e.tiltX, tiltY: e.tiltY, twist: e.twist, at }
    if (e.pointerType === 'pen' && e.pressure > 0) return { ...base, pressure: e.pressure }
    // A held key presses, too, or hardly touches.
    const held = e.shiftKey ? 1 : e.ctrlKey ? 0.12 : null
    if (!before) return { ...base, pressure: held ?? 0.5 }
    if (held !== null) return { ...base, pressure: before.pressure + HELD_SHARE * (held - before.pressure) }
    if (!usePaint.getState().bySpeed) return { ...base, pressure: 0.5 }
    // Without a pen the hand's speed tells: quick is light.
    const scale = (boxRef.current?.offsetWidth ?? width) / width
    const speed = (Math.hypot(x - before.x, y - before.y) * scale) / Math.max(1, at - before.at)
    const wanted = 1 - 0.75 * Math.min(1, speed / FASTEST)
    return { ...base, pressure: before.pressure + 0.25 * (wanted - before.pressure) }
  }
  const begin = (sample: PenSample, startedAt: number, pointerId: number, isLedNow = false) => {
    setPaint({ problem: null })
    const of = strokeAt(sample.x / width, sample.y / height, isLedNow)
    const session = new PaintSession(projectId, of, (tip) => useTip.setState({ at: tip }))
    going.current = { session, startedAt, pointerId, last: sample }
    session.add([sample])
  }
  /** Takes up the colour that is seen at a place. */
  const takeColour = async ([x, y]: readonly [number, number]) => {
    const { project } = useProjectStore.getState()
    if (!project || x < 0 || y < 0 || x >= width || y >= height) return
    const found = await askSheet(project, (worker) => worker.contributions(Math.floor(x), Math.floor(y)))
    if (found)
      setPaint({ colours: [toHex(found.colour.slice(0, 3)), usePaint.getState().colours[1]], mixed: 0 })
  }
  const go = (samples: readonly PenSample[]) => {
    const { current } = going
    const last = samples.at(-1)
    if (!current || !last) return
    current.session.add(samples)
    current.last = last
  }
  const finish = () => {
    const { current } = going
    if (!current) return
    going.current = null
    void current.session.end().catch(tell)
  }
  /** A way that was led is painted, or grows. */
  const endWay = async () => {
    try {
      const way = await led.end()
      if (way.length < 2) return
      setPaint({ problem: null })
      if (tool === 'crack') {
        await growFrom(way)
        return
      }
      const samples = samplesAlong(way, LED_PRESSURE)
      begin(samples[0], 0, -1, true)
      go(samples.slice(1))
      finish()
    } catch (error) {
      tell(error)
    }
  }
  const hover = (at: readonly [number, number] | null) => {
    setPlace(at)
    onHover(at && going.current === null ? [at[0] / width, at[1] / height] : null)
  }
  const onKey = (e: React.KeyboardEvent) => {
    const step = Math.max(2, params.size / 4) * (e.shiftKey ? 4 : 1)
    const steps: Readonly<Record<string, readonly [number, number] | undefined>> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    }
    const by = steps[e.key]
    const now = place ?? [width / 2, height / 2]
    const sample = ([x, y]: readonly [number, number], startedAt: number): PenSample => ({
      ...{ x, y, pressure: 0.6, tiltX: 0, tiltY: 0, twist: 0 },
      at: e.timeStamp - startedAt,
    })
    if (by) {
      const to = [
        Math.min(width, Math.max(0, now[0] + by[0])),
        Math.min(height, Math.max(0, now[1] + by[1])),
      ] as const
      hover(to)
      if (led.isGoing()) led.move([to], false)
      else if (going.current) go([sample(to, going.current.startedAt)])
    } else if (isLed && e.key === ' ' && !e.repeat) {
      if (!led.isGoing() || lead === 'corners') {
        setPlace(now)
        led.set(now)
      } else void endWay()
    } else if (led.isGoing() && e.key === 'Enter') void endWay()
    else if (led.isGoing() && e.key === 'Escape') led.drop()
    else if (e.key === ' ' && !e.repeat) {
      if (going.current) finish()
      else {
        setPlace(now)
        begin(sample(now, e.timeStamp), e.timeStamp, -1)
      }
    } else if (e.key === 'Escape' && going.current) finish()
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  const tip = place && { x: isFlipped ? width - place[0] : place[0], y: place[1] }
  /** Where cloning paints from now. */
  const source =
    tool !== 'clone' || !cloneFrom
      ? null
      : place && cloneBy
        ? [place[0] + cloneBy[0], place[1] + cloneBy[1]]
        : cloneFrom
  const leads = tipAt && place && Math.hypot(tipAt.x - place[0], tipAt.y - place[1]) > 2
  const seenX = (x: number) => (isFlipped ? width - x : x)
  const shown = led.way?.map(([x, y]) => `${seenX(x)},${y}`).join(' ')
  return (
    <div
      ref={boxRef}
      className="paint-overlay"
      role="application"
      aria-label={`${label} on the proof: arrow keys move the brush, Space puts it down and lifts it`}
      tabIndex={0}
      data-testid="paint-overlay"
      onPointerDown={(e) => {
        if (e.pointerType === 'pen') hasPen.current = true
        if (e.button !== 0 || (e.pointerType === 'touch' && hasPen.current) || going.current) return
        e.stopPropagation()
        if (e.altKey) {
          if (tool === 'clone') setPaint({ cloneFrom: placeOf(e), cloneBy: null })
          else void takeColour(placeOf(e))
          return
        }
        e.currentTarget.setPointerCapture(e.pointerId)
        e.currentTarget.focus({ preventScroll: true })
        if (isLed) {
          led.set(placeOf(e), e.shiftKey)
          setPlace(placeOf(e))
          return
        }
        begin(sampleOf(e.nativeEvent, e.timeStamp, null), e.timeStamp, e.pointerId)
        setPlace(placeOf(e))
      }}
      onPointerMove={(e) => {
        const { current } = going
        // Where the hand will be when this is seen: the mark of the tip does not trail behind it.
        const ahead = current ? e.nativeEvent.getPredictedEvents().at(-1) : undefined
        hover(placeOf(ahead ?? e))
        if (led.isGoing()) {
          e.stopPropagation()
          const events = e.nativeEvent.getCoalescedEvents()
          led.move((events.length > 0 ? events : [e.nativeEvent]).map(placeOf), e.shiftKey)
          return
        }
        if (current?.pointerId !== e.pointerId) return
        e.stopPropagation()
        const events = e.nativeEvent.getCoalescedEvents()
        let { last } = current
        go(
          (events.length > 0 ? events : [e.nativeEvent]).map(
            (own) => (last = sampleOf(own, current.startedAt, last)),
          ),
        )
      }}
      onPointerUp={(e) => {
        if (led.isGoing()) {
          e.stopPropagation()
          if (lead !== 'corners') void endWay()
          return
        }
        if (going.current?.pointerId !== e.pointerId) return
        e.stopPropagation()
        finish()
      }}
      onDoubleClick={() => {
        // Pressed twice at a corner: that was the last.
        if (lead === 'corners') void endWay()
      }}
      onPointerCancel={() => {
        led.drop()
        finish()
      }}
      onPointerLeave={() => going.current === null && hover(null)}
      onKeyDown={onKey}
    >
      <PaintStyles />
      {tip && (
        <svg viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
          {shown !== undefined && <polyline className="tip-shade" points={shown} />}
          {shown !== undefined && <polyline className="tip-ring" points={shown} />}
          <circle className="tip-shade" cx={tip.x} cy={tip.y} r={Math.max(1, params.size / 2)} />
          <circle className="tip-ring" cx={tip.x} cy={tip.y} r={Math.max(1, params.size / 2)} />
          {source && (
            <path
              className="tip-ring"
              d={`M${seenX(source[0]) - params.size / 4} ${source[1]}h${params.size / 2}M${seenX(source[0])} ${source[1] - params.size / 4}v${params.size / 2}`}
            />
          )}
          {leads && <line className="tip-string" x1={tip.x} y1={tip.y} x2={seenX(tipAt.x)} y2={tipAt.y} />}
        </svg>
      )}
    </div>
  )
}
