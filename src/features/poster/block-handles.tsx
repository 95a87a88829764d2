'use client'

import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { inUnit, pageOf, toMm, trimBox } from '@/data/page-size'
import type { ProjectSheet } from '@/data/project-schema'
import { Handle, HandleBox, type Place } from '@/ui/sheet-handles'
import { changeLayer } from '../sheet/layer-actions'
import { alignments, snapBlock, type Box, type Guide } from './snap-block'

interface BlockHandlesProps {
  readonly layer: SheetNode
  readonly page: ProjectSheet
  readonly onGuides: (guides: readonly Guide[]) => void
  readonly onEdit: () => void
  /** It was pressed, not dragged, at a place of the page. */
  readonly onPress: (x01: number, y01: number, goesOn: boolean) => void
}

/** How near an edge must come to be drawn to a line. Screen pixels. */
const NEAR = 6
const CORNERS = [
  { at: [0, 0], name: 'Upper left corner' },
  { at: [1, 0], name: 'Upper right corner' },
  { at: [1, 1], name: 'Lower right corner' },
  { at: [0, 1], name: 'Lower left corner' },
] as const
const LEAST = 0.005

/** The frame of a block on the page: dragged as a whole, by its corners, or by arrow keys. */
export function BlockHandles({ layer, page, onGuides, onEdit, onPress }: BlockHandlesProps) {
  const { content } = layer
  const taken = useRef<{ readonly x: number; readonly y: number; readonly box: Box } | null>(null)
  const [isMoving, setMoving] = useState(false)
  if (content.kind !== 'type' && content.kind !== 'sheet') return null
  const { box } = content
  const turnDeg = content.kind === 'type' ? content.turnDeg : 0
  const set = (next: Box, label: string, merge: string) =>
    changeLayer(
      layer.id,
      label,
      ({ content: own }) => {
        if (own.kind === 'type' || own.kind === 'sheet') own.box = limited(next)
      },
      merge,
    )
  const down = (e: PointerEvent<HTMLButtonElement>) => {
    if (e.button !== 0) return
    e.stopPropagation()
    e.currentTarget.setPointerCapture(e.pointerId)
    taken.current = { x: e.clientX, y: e.clientY, box }
  }
  const drag = (e: PointerEvent<HTMLButtonElement>) => {
    const from = taken.current
    const whole = e.currentTarget.parentElement?.getBoundingClientRect()
    if (!from || !whole || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    const [dx, dy] = [(e.clientX - from.x) / whole.width, (e.clientY - from.y) / whole.height]
    if (!isMoving && Math.hypot(e.clientX - from.x, e.clientY - from.y) < 3) return
    setMoving(true)
    const moved: Box = [from.box[0] + dx, from.box[1] + dy, from.box[2], from.box[3]]
    // A hand that holds Shift places freely.
    const near = e.shiftKey ? ([0, 0] as const) : ([NEAR / whole.width, NEAR / whole.height] as const)
    const snapped = snapBlock(moved, alignments(pageOf(page), page, layer.id), near)
    onGuides(snapped.guides)
    set(snapped.box, 'move a block', 'move')
  }
  const up = (e: PointerEvent<HTMLButtonElement>) => {
    const whole = e.currentTarget.parentElement?.getBoundingClientRect()
    if (taken.current && whole && !isMoving && e.type === 'pointerup')
      onPress((e.clientX - whole.left) / whole.width, (e.clientY - whole.top) / whole.height, e.altKey)
    taken.current = null
    setMoving(false)
    onGuides([])
  }
  const key = (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 : 1
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[e.key]
    if (e.key === 'Enter' && content.kind === 'type') {
      e.preventDefault()
      onEdit()
    }
    if (!step) return
    e.preventDefault()
    e.stopPropagation()
    // A millimetre, or ten.
    const own = pageOf(page)
    const [mmX, mmY] = [own.widthMm + 2 * own.bleedMm, own.heightMm + 2 * own.bleedMm]
    set([box[0] + step[0] / mmX, box[1] + step[1] / mmY, box[2], box[3]], 'move a block', 'move by key')
  }
  const corner = (i: number, [x, y]: Place) => {
    const [left, top, right, below] = [box[0], box[1], box[0] + box[2], box[1] + box[3]]
    const isLeft = CORNERS[i].at[0] === 0
    const isTop = CORNERS[i].at[1] === 0
    const x0 = isLeft ? Math.min(x, right - LEAST) : left
    const x1 = isLeft ? right : Math.max(x, left + LEAST)
    const y0 = isTop ? Math.min(y, below - LEAST) : top
    const y1 = isTop ? below : Math.max(y, top + LEAST)
    set([x0, y0, x1 - x0, y1 - y0], 'size a block', `corner ${i}`)
  }
  return (
    <HandleBox width={page.width} height={page.height} label={`Frame of ${layer.name}`}>
      <button
        type="button"
        className="block-frame"
        aria-label={`Move ${layer.name}: arrow keys move it${content.kind === 'type' ? ', Enter edits its text' : ''}`}
        data-testid="block-frame"
        style={{
          left: `${100 * box[0]}%`,
          top: `${100 * box[1]}%`,
          width: `${100 * box[2]}%`,
          height: `${100 * box[3]}%`,
          transform: turnDeg === 0 ? undefined : `rotate(${turnDeg}deg)`,
        }}
        onPointerDown={down}
        onPointerMove={drag}
        onPointerUp={up}
        onPointerCancel={up}
        onDoubleClick={onEdit}
        onKeyDown={key}
      />
      {turnDeg === 0 &&
        CORNERS.map(({ at, name }, i) => (
          <Handle
            key={name}
            label={name}
            place={[box[0] + at[0] * box[2], box[1] + at[1] * box[3]]}
            width={page.width}
            height={page.height}
            shape="square"
            onMove={(to) => corner(i, to)}
          />
        ))}
      {isMoving && <Distances box={box} page={page} />}
    </HandleBox>
  )
}

const limited = ([x, y, width, height]: Box): [number, number, number, number] => [
  Math.min(9, Math.max(-8, x)),
  Math.min(9, Math.max(-8, y)),
  Math.min(16, Math.max(0.001, width)),
  Math.min(16, Math.max(0.001, height)),
]

/** How far a block lies from the edges of the paper, while it is dragged. */
function Distances({ box: [x, y, width, height], page }: { readonly box: Box; readonly page: ProjectSheet }) {
  const own = pageOf(page)
  const trim = trimBox(own)
  const words = (px: number) =>
    `${Number(inUnit(toMm(px, own), own).toFixed(own.unit === 'in' ? 2 : 0))} ${own.unit}`
  const rooms = [
    { at: [(trim[0] + x) / 2, y + height / 2], room: (x - trim[0]) * page.width },
    { at: [(x + width + trim[2]) / 2, y + height / 2], room: (trim[2] - x - width) * page.width },
    { at: [x + width / 2, (trim[1] + y) / 2], room: (y - trim[1]) * page.height },
    { at: [x + width / 2, (y + height + trim[3]) / 2], room: (trim[3] - y - height) * page.height },
  ]
  return rooms
    .filter(({ room }) => room > 0)
    .map(({ at, room }, i) => (
      <span key={i} className="distance" style={{ left: `${100 * at[0]}%`, top: `${100 * at[1]}%` }}>
        {words(room)}
      </span>
    ))
}
