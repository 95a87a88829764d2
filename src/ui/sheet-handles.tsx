'use client'

import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react'
import { pageStyles } from './page-styles'

/** A place on a sheet in shares of its width and height; it may lie beside it. */
export type Place = readonly [number, number]

interface HandleBoxProps {
  /** The sheet's size in pixels: what the lines are drawn in. */
  readonly width: number
  readonly height: number
  readonly label: string
  /** Lines between the handles, in sheet pixels. */
  readonly lines?: ReactNode
  readonly children: ReactNode
}

/** A layer of handles over the proof. */
export function HandleBox({ width, height, label, lines, children }: HandleBoxProps) {
  return (
    <div className="handle-box" role="group" aria-label={label}>
      <HandleStyles />
      <svg viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="none" aria-hidden="true">
        {lines}
      </svg>
      {children}
    </div>
  )
}

interface HandleProps {
  readonly label: string
  readonly place: Place
  /** The sheet's size in pixels: a key moves by one of them, with Shift by ten. */
  readonly width: number
  readonly height: number
  readonly shape?: 'round' | 'square' | 'cross'
  readonly onMove: (place: Place) => void
}

/** One place on the sheet that is dragged, or moved by the arrow keys. */
export function Handle({ label, place, width, height, shape = 'round', onMove }: HandleProps) {
  /** From the handle's middle to where it was taken, in screen pixels. */
  const taken = useRef({ x: 0, y: 0 })
  const down = (e: PointerEvent<HTMLButtonElement>) => {
    if (e.button !== 0) return
    e.stopPropagation()
    e.currentTarget.setPointerCapture(e.pointerId)
    const own = e.currentTarget.getBoundingClientRect()
    taken.current = { x: e.clientX - own.left - own.width / 2, y: e.clientY - own.top - own.height / 2 }
  }
  const drag = (e: PointerEvent<HTMLButtonElement>) => {
    const box = e.currentTarget.parentElement?.getBoundingClientRect()
    if (!box || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    e.stopPropagation()
    onMove([
      (e.clientX - taken.current.x - box.left) / box.width,
      (e.clientY - taken.current.y - box.top) / box.height,
    ])
  }
  const key = (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 : 1
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[e.key]
    if (!step) return
    e.preventDefault()
    e.stopPropagation()
    onMove([place[0] + step[0] / width, place[1] + step[1] / height])
  }
  return (
    <button
      type="button"
      className="sheet-handle"
      data-shape={shape}
      aria-label={`${label}: arrow keys move it`}
      title={label}
      style={{ left: `${100 * place[0]}%`, top: `${100 * place[1]}%` }}
      onPointerDown={down}
      onPointerMove={drag}
      onClick={(e) => e.stopPropagation()}
      onKeyDown={key}
    />
  )
}

const styles = {
  '.handle-box': { position: 'absolute', inset: 0, pointerEvents: 'none' },
  '.handle-box > svg': {
    position: 'absolute',
    inset: 0,
    width: '100%',
    height: '100%',
    overflow: 'visible',
  },
  // Seen on dark and on bright: a pale line with a dark one in it.
  '.handle-box .line-under, .handle-box .line-over': { fill: 'none', vectorEffect: 'non-scaling-stroke' },
  '.handle-box .line-under': { stroke: '#fff', strokeWidth: 3 },
  '.handle-box .line-over': { stroke: '#1c1815', strokeWidth: 1 },
  '.sheet-handle': {
    position: 'absolute',
    width: 16,
    height: 16,
    margin: '-8px 0 0 -8px',
    padding: 0,
    borderRadius: '50%',
    border: '2px solid #1c1815',
    background: '#fff',
    boxShadow: '0 0 0 1.5px #fff',
    cursor: 'move',
    pointerEvents: 'auto',
    touchAction: 'none',
  },
  ".sheet-handle[data-shape='square']": { borderRadius: 2 },
  ".sheet-handle[data-shape='cross']": { background: 'var(--clay)' },
} as const

const HandleStyles = pageStyles(styles)
