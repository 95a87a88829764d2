'use client'

import { useEffect, useRef, useState } from 'react'
import type { Tile } from '@/core/passes/tile'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { useViewStore } from '@/state/view-store'
import { layStroke, LINE_TOOLS } from './line-brush'
import { BrushOverlayStyles } from './brush-overlay-styles'

interface BrushOverlayProps {
  readonly layer: SheetNode
  /** Where the pass's picture lies on the sheet, in its pixels, and the sheet's size. */
  readonly box: Tile
  readonly sheet: { readonly width: number; readonly height: number }
  /** Told what became of a stroke, in words. */
  readonly onTold: (text: string) => void
}

/** Drawn in units of this share of the picture's height. */
const UNIT = 1000

/**
 * Takes the pointer, or the arrow keys, as a brush over the lines of a layer. Middle and right buttons and the wheel are
 * left to the view beneath.
 */
export function BrushOverlay({ layer, box: placed, sheet, onTold }: BrushOverlayProps) {
  const aspect = placed.width / placed.height
  const brush = useViewStore((s) => s.lineBrush)
  const boxRef = useRef<HTMLDivElement>(null)
  const [place, setPlace] = useState<readonly [number, number] | null>(null)
  const [path, setPath] = useState<readonly number[]>([])
  const way = useRef<number[]>([])
  const down = useRef(false)
  const reach = brush.tool === 'draw' ? brush.weight / 2000 : brush.radius
  useEffect(() => boxRef.current?.focus({ preventScroll: true }), [])
  if (!brush.tool) return null
  const { label } = LINE_TOOLS[brush.tool]

  const placeOf = (e: { clientX: number; clientY: number }): readonly [number, number] => {
    const box = boxRef.current?.getBoundingClientRect()
    if (!box) return [0, 0]
    return [(e.clientX - box.left) / box.height, (e.clientY - box.top) / box.height]
  }
  const begin = (at: readonly [number, number]) => {
    down.current = true
    onTold('')
    way.current = [...at]
    setPath(way.current)
  }
  const goTo = (at: readonly [number, number]) => {
    setPlace(at)
    if (!down.current) return
    const [x, y] = way.current.slice(-2)
    const step = brush.tool === 'draw' ? 0.0008 : brush.radius / 6
    if (Math.hypot(at[0] - x, at[1] - y) < step) return
    way.current = [...way.current, ...at]
    setPath(way.current)
  }
  const finish = async () => {
    if (!down.current) return
    down.current = false
    const stroke = way.current
    try {
      if (!(await layStroke(layer, stroke, brush))) onTold('No line lies beneath that stroke.')
    } catch (error) {
      onTold(error instanceof Error ? error.message : String(error))
    } finally {
      // What is drawn meanwhile stays; the stroke that is laid shows in the proof.
      if (way.current === stroke) setPath([])
    }
  }
  const cancel = () => {
    down.current = false
    setPath([])
  }
  const onKey = (e: React.KeyboardEvent) => {
    const step = Math.max(0.002, reach / 2) * (e.shiftKey ? 5 : 1)
    const by = (
      { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] } as Record<
        string,
        readonly [number, number] | undefined
      >
    )[e.key]
    const now = place ?? [aspect / 2, 0.5]
    if (by) goTo([Math.min(aspect, Math.max(0, now[0] + by[0])), Math.min(1, Math.max(0, now[1] + by[1]))])
    else if (e.key === ' ' && !e.repeat) {
      if (down.current) void finish()
      else {
        setPlace(now)
        begin(now)
      }
    } else if (e.key === 'Escape' && down.current) cancel()
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  const points = Array.from(
    { length: path.length / 2 },
    (_, i) => `${path[2 * i] * UNIT},${path[2 * i + 1] * UNIT}`,
  ).join(' ')
  return (
    <div
      ref={boxRef}
      className="line-brush"
      role="application"
      aria-label={`${label} the lines of ${layer.name}: arrow keys move the brush, Space puts it down and lifts it`}
      tabIndex={0}
      style={{
        left: `${(100 * placed.x) / sheet.width}%`,
        top: `${(100 * placed.y) / sheet.height}%`,
        width: `${(100 * placed.width) / sheet.width}%`,
        height: `${(100 * placed.height) / sheet.height}%`,
      }}
      data-testid="line-brush"
      onPointerDown={(e) => {
        if (e.button !== 0) return
        e.stopPropagation()
        e.currentTarget.setPointerCapture(e.pointerId)
        e.currentTarget.focus({ preventScroll: true })
        begin(placeOf(e))
      }}
      onPointerMove={(e) => {
        // All places the pointer has been at since the last frame.
        const events = e.nativeEvent.getCoalescedEvents?.() ?? []
        for (const event of events.length > 0 ? events : [e.nativeEvent]) goTo(placeOf(event))
      }}
      onPointerUp={() => void finish()}
      onPointerCancel={cancel}
      onPointerLeave={() => !down.current && setPlace(null)}
      onKeyDown={onKey}
    >
      <BrushOverlayStyles />
      <svg viewBox={`0 0 ${aspect * UNIT} ${UNIT}`} aria-hidden="true">
        {path.length >= 2 && (
          <polyline
            points={points}
            fill="none"
            stroke="var(--clay)"
            strokeOpacity={brush.tool === 'draw' ? 0.9 : 0.28}
            strokeWidth={Math.max(1, 2 * reach * UNIT)}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        )}
        {place && (
          <>
            <circle
              cx={place[0] * UNIT}
              cy={place[1] * UNIT}
              r={Math.max(2, reach * UNIT)}
              fill="none"
              stroke="#fff"
              strokeWidth={3}
              vectorEffect="non-scaling-stroke"
            />
            <circle
              cx={place[0] * UNIT}
              cy={place[1] * UNIT}
              r={Math.max(2, reach * UNIT)}
              fill="none"
              stroke="#1c1815"
              strokeWidth={1}
              vectorEffect="non-scaling-stroke"
            />
          </>
        )}
      </svg>
    </div>
  )
}
