'use client'

import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react'
import { useActions } from '@/state/actions'
import { useViewStore } from '@/state/view-store'
import { inkOn } from './ink-on'

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
  const { width, height, onPick } = props
  const stageRef = useRef<HTMLDivElement>(null)
  const [stage, setStage] = useState({ width: 800, height: 500, measured: false })
  /** null zoom is fit. Offsets in screen pixels from centred. */
  const [view, setView] = useState<{ zoom: number | null; x: number; y: number }>({ zoom: null, x: 0, y: 0 })
  const ground = useViewStore((s) => s.ground)
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null)
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
    const seen = {
      ...across(-left / (width * zoom), (stage.width - left) / (width * zoom)),
      ...down(-top / (height * zoom), (stage.height - top) / (height * zoom)),
    }
    onLook?.({ zoom: zoom * window.devicePixelRatio, seen })
  }, [onLook, zoom, left, top, width, height, stage])
  const zoomTo = useCallback(
    (next: number, atX: number, atY: number) => {
      const clamped = Math.min(32, Math.max(0.05, next))
      const px = (atX - left) / zoom
      const py = (atY - top) / zoom
      setView({
        zoom: clamped,
        x: atX - px * clamped - (stage.width - width * clamped) / 2,
        y: atY - py * clamped - (stage.height - 20 - height * clamped) / 2,
      })
    },
    [left, top, zoom, stage, width, height],
  )
  useEffect(() => {
    const element = stageRef.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const box = element.getBoundingClientRect()
      zoomTo(zoom * Math.exp(-event.deltaY * 0.0016), event.clientX - box.left, event.clientY - box.top)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [zoomTo, zoom])
  const middle = [stage.width / 2, stage.height / 2] as const
  useActions('Picture', [
    { id: 'fit', label: 'Zoom to fit', keys: '0', run: () => setView({ zoom: null, x: 0, y: 0 }) },
    { id: 'full', label: 'Zoom to 100 %', keys: '1', run: () => setView({ zoom: 1, x: 0, y: 0 }) },
    { id: 'in', label: 'Zoom in', keys: ']', run: () => zoomTo(zoom * 1.5, ...middle) },
    { id: 'out', label: 'Zoom out', keys: '[', run: () => zoomTo(zoom / 1.5, ...middle) },
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
        drag.current = { x: e.clientX, y: e.clientY, moved: false }
      }}
      onPointerMove={(e) => {
        const d = drag.current
        if (!d) return
        const [dx, dy] = [e.clientX - d.x, e.clientY - d.y]
        if (!d.moved && Math.hypot(dx, dy) < 4) return
        drag.current = { x: e.clientX, y: e.clientY, moved: true }
        setView((v) => ({ zoom: v.zoom ?? fit, x: v.x + dx, y: v.y + dy }))
      }}
      onPointerUp={(e) => {
        const d = drag.current
        drag.current = null
        if (!d || d.moved || !onPick) return
        const box = e.currentTarget.getBoundingClientRect()
        const x = (e.clientX - box.left - left) / (width * zoom)
        const y = (e.clientY - box.top - top) / (height * zoom)
        if (x >= 0 && x < 1 && y >= 0 && y < 1) onPick(x, y)
      }}
      onPointerLeave={() => (drag.current = null)}
    >
      <div
        style={{
          position: 'absolute',
          left,
          top,
          width: Math.round(width * zoom),
          height: Math.round(height * zoom),
          boxShadow: '0 2px 10px #0005',
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
