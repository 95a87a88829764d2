'use client'

import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react'
import { useActions } from '@/state/actions'
import { useViewStore } from '@/state/view-store'
import { inkOn } from './ink-on'
import { turned } from './turned-box'

export interface PictureViewProps {
  /** Picture size in its own pixels. */
  readonly width: number
  readonly height: number
  /** What shows the picture: it fills a box of exactly its size on screen. */
  readonly picture: ReactNode
  /** Told how the picture is looked at, when that changes. */
  readonly onLook?: (look: Looking) => void
  /** A point was clicked, 0…1 across and down. */
  readonly onPick?: (x01: number, y01: number) => void
  /** Told where the pointer is, 0…1 across and down; null once it is beside the picture. */
  readonly onHover?: (place: readonly [number, number] | null) => void
  /** How far it is turned about its middle, clockwise; nothing of the picture itself changes. Degrees. */
  readonly turnDeg?: number
  readonly status?: ReactNode
  /** Drawn over the picture, in a box of exactly its size on screen. */
  readonly children?: ReactNode
}

/** What shows through a picture that is not opaque. */
export const CHEQUERS = 'repeating-conic-gradient(#9a9a98 0 25%, #a6a6a4 0 50%) 0 0 / 16px 16px'

/** How a picture is looked at. */
export interface Looking {
  /** Device pixels per picture pixel. */
  readonly zoom: number
  /** What is seen of it, 0…1 across and down; empty where it is out of sight. */
  readonly seen: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
}

/** A picture on neutral grey: fit, 100 %, wheel to zoom at the pointer, drag to move, pixel edges when large. */
export function PictureView(props: PictureViewProps) {
  const { width, height, onPick, turnDeg = 0 } = props
  const stageRef = useRef<HTMLDivElement>(null)
  const [stage, setStage] = useState({ width: 800, height: 500, measured: false })
  /** null zoom is fit. Offsets in screen pixels from centred. */
  const [view, setView] = useState<{ zoom: number | null; x: number; y: number }>({ zoom: null, x: 0, y: 0 })
  const ground = useViewStore((s) => s.ground)
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null)
  /** Fingers that are down, by their pointers. */
  const fingers = useRef(new Map<number, { readonly x: number; readonly y: number }>())
  useEffect(() => {
    const element = stageRef.current
    if (!element) return
    const observer = new ResizeObserver(() =>
      setStage({ width: element.clientWidth, height: element.clientHeight, measured: true }),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  const fit = Math.min((stage.width - 48) / width, (stage.height - 64) / height)
  const zoom = view.zoom ?? fit
  // Whole pixels: a picture composited at the size it is seen then stays as sharp as it was made.
  const left = Math.round((stage.width - width * zoom) / 2 + view.x)
  const top = Math.round((stage.height - 20 - height * zoom) / 2 + view.y)
  const { onLook } = props
  useEffect(() => {
    if (!stage.measured) return
    // Corners of what is looked through, as the picture has them.
    const [cx, cy] = [left + (width * zoom) / 2, top + (height * zoom) / 2]
    const corners = [
      [0, 0],
      [stage.width, 0],
      [0, stage.height],
      [stage.width, stage.height],
    ].map(([x, y]) => turned(x - cx, y - cy, -turnDeg))
    const xs = corners.map(([x]) => 0.5 + x / (width * zoom))
    const ys = corners.map(([, y]) => 0.5 + y / (height * zoom))
    const seen = {
      ...across(Math.min(...xs), Math.max(...xs)),
      ...down(Math.min(...ys), Math.max(...ys)),
    }
    onLook?.({ zoom: zoom * window.devicePixelRatio, seen })
  }, [onLook, zoom, left, top, width, height, stage, turnDeg])
  /** By a factor of what it is by then: several turns of a wheel, or two fingers, may come before it is drawn anew. */
  const zoomBy = useCallback(
    (factor: number, atX: number, atY: number) =>
      setView((v) => {
        const now = v.zoom ?? fit
        const next = Math.min(32, Math.max(0.05, now * factor))
        // What lies there stays there: the middle moves away from it, or towards it.
        const [cx, cy] = [stage.width / 2 + v.x, (stage.height - 20) / 2 + v.y]
        const grows = next / now
        return {
          zoom: next,
          x: atX - (atX - cx) * grows - stage.width / 2,
          y: atY - (atY - cy) * grows - (stage.height - 20) / 2,
        }
      }),
    [stage, fit],
  )
  useEffect(() => {
    const element = stageRef.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const box = element.getBoundingClientRect()
      zoomBy(Math.exp(-event.deltaY * 0.0016), event.clientX - box.left, event.clientY - box.top)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [zoomBy])
  /** Two fingers move: what lies between them stays there, larger as they part. */
  const pinch = (pointerId: number, x: number, y: number): void => {
    const other = [...fingers.current].find(([id]) => id !== pointerId)?.[1]
    const before = fingers.current.get(pointerId)
    const box = stageRef.current?.getBoundingClientRect()
    fingers.current.set(pointerId, { x, y })
    if (!other || !before || !box) return
    const apart = (a: { readonly x: number; readonly y: number }) => Math.hypot(a.x - other.x, a.y - other.y)
    const grows = apart({ x, y }) / Math.max(1, apart(before))
    const between = [(x + other.x) / 2 - box.left, (y + other.y) / 2 - box.top] as const
    const [mx, my] = [(x - before.x) / 2, (y - before.y) / 2]
    zoomBy(grows, between[0] - mx, between[1] - my)
    setView((v) => ({ ...v, x: v.x + mx, y: v.y + my }))
  }
  const lift = (pointerId: number): void => {
    fingers.current.delete(pointerId)
    drag.current = null
  }
  const middle = [stage.width / 2, stage.height / 2] as const
  useActions('Picture', [
    { id: 'fit', label: 'Zoom to fit', keys: '0', run: () => setView({ zoom: null, x: 0, y: 0 }) },
    { id: 'full', label: 'Zoom to 100 %', keys: '1', run: () => setView({ zoom: 1, x: 0, y: 0 }) },
    { id: 'in', label: 'Zoom in', keys: ']', run: () => zoomBy(1.5, ...middle) },
    { id: 'out', label: 'Zoom out', keys: '[', run: () => zoomBy(1 / 1.5, ...middle) },
  ])
  const grey = Math.round(ground * 255)
  return (
    <div
      className="stage"
      ref={stageRef}
      style={{
        background: `rgb(${grey} ${grey} ${Math.max(0, grey - 2)})`,
        cursor: onPick ? 'crosshair' : 'default',
        touchAction: 'none',
      }}
      onPointerDown={(e) => {
        if (e.target instanceof HTMLElement && e.target.closest('button, a, [role=slider]')) return
        if (e.pointerType === 'touch') fingers.current.set(e.pointerId, { x: e.clientX, y: e.clientY })
        drag.current = { x: e.clientX, y: e.clientY, moved: fingers.current.size > 1 }
      }}
      onPointerCancel={(e) => lift(e.pointerId)}
      onPointerMove={(e) => {
        if (fingers.current.size > 1 && fingers.current.has(e.pointerId)) {
          pinch(e.pointerId, e.clientX, e.clientY)
          return
        }
        // A button that was lifted where this did not hear of it drags no longer.
        if (e.buttons === 0) drag.current = null
        const d = drag.current
        if (!d) {
          if (!props.onHover) return
          const box = e.currentTarget.getBoundingClientRect()
          const x = (e.clientX - box.left - left) / (width * zoom)
          const y = (e.clientY - box.top - top) / (height * zoom)
          props.onHover(x >= 0 && x < 1 && y >= 0 && y < 1 ? [x, y] : null)
          return
        }
        const [dx, dy] = [e.clientX - d.x, e.clientY - d.y]
        if (!d.moved && Math.hypot(dx, dy) < 4) return
        drag.current = { x: e.clientX, y: e.clientY, moved: true }
        setView((v) => ({ zoom: v.zoom ?? fit, x: v.x + dx, y: v.y + dy }))
      }}
      onPointerUp={(e) => {
        const d = drag.current
        lift(e.pointerId)
        if (!d || d.moved || !onPick) return
        const box = e.currentTarget.getBoundingClientRect()
        const x = (e.clientX - box.left - left) / (width * zoom)
        const y = (e.clientY - box.top - top) / (height * zoom)
        if (x >= 0 && x < 1 && y >= 0 && y < 1) onPick(x, y)
      }}
      onPointerLeave={(e) => {
        lift(e.pointerId)
        props.onHover?.(null)
      }}
    >
      <div
        style={{
          position: 'absolute',
          left,
          top,
          width: Math.round(width * zoom),
          height: Math.round(height * zoom),
          boxShadow: '0 2px 10px #0005',
          transform: turnDeg === 0 ? undefined : `rotate(${turnDeg}deg)`,
        }}
      >
        <div
          style={{
            position: 'absolute',
            inset: 0,
            overflow: 'hidden',
            imageRendering: zoom >= 3 ? 'pixelated' : 'auto',
            background: CHEQUERS,
          }}
        >
          {props.picture}
        </div>
        {props.children}
      </div>
      <div className="status" style={{ color: inkOn(ground) }}>
        <b>{Math.round(zoom * 100)} %</b>
        <span>
          {width} × {height}
        </span>
        {props.status}
      </div>
    </div>
  )
}

const clamp01 = (v: number): number => Math.min(1, Math.max(0, v))
const across = (from: number, to: number) => ({ x: clamp01(from), width: clamp01(to) - clamp01(from) })
const down = (from: number, to: number) => ({ y: clamp01(from), height: clamp01(to) - clamp01(from) })
