'use client'

import { useId, useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { EASES, eased, type Ease } from '@/core/sheet/tracks'
import { SelectRow } from '@/ui/select-row'

const easeLabels: Readonly<Record<(typeof EASES)[number], string>> = {
  even: 'Even',
  hold: 'Held',
  'slow out': 'Slow at first',
  'slow in': 'Slow at last',
  'slow both': 'Slow at both ends',
}

/** Handles that go as a named way does, to begin with. */
const HANDLES: Readonly<Record<(typeof EASES)[number], readonly [number, number, number, number]>> = {
  even: [0.33, 0.33, 0.67, 0.67],
  hold: [0.9, 0, 1, 0.1],
  'slow out': [0.4, 0, 0.9, 0.8],
  'slow in': [0.1, 0.2, 0.6, 1],
  'slow both': [0.36, 0, 0.64, 1],
}

interface EaseRowProps {
  readonly label: string
  readonly ease: Ease
  readonly onChange: (ease: Ease) => void
}

/** How a value goes from a key to the next: in words, or along a curve with two handles. */
export function EaseRow({ label, ease, onChange }: EaseRowProps) {
  const id = useId()
  return (
    <>
      <SelectRow
        id={id}
        label={label}
        value={typeof ease === 'string' ? ease : 'handles'}
        onChange={(value) => {
          const named = EASES.find((one) => one === value)
          onChange(named ?? [...HANDLES[typeof ease === 'string' ? ease : 'even']])
        }}
      >
        {EASES.map((name) => (
          <option key={name} value={name}>
            {easeLabels[name]}
          </option>
        ))}
        <option value="handles">By handles</option>
      </SelectRow>
      {typeof ease !== 'string' && <EaseCurve label={label} ease={ease} onChange={onChange} />}
    </>
  )
}

type Handles = Exclude<Ease, string>
const WIDTH = 232
const HEIGHT = 96
/** The curve may go beyond its ends: so much is seen above and below. */
const MARGIN = 0.35

const toX = (x: number): number => x * WIDTH
const toY = (y: number): number => HEIGHT * (1 - (y + MARGIN) / (1 + 2 * MARGIN))

function EaseCurve({
  label,
  ease,
  onChange,
}: {
  readonly label: string
  readonly ease: Handles
  readonly onChange: (ease: Ease) => void
}) {
  const ref = useRef<SVGSVGElement>(null)
  const set = (handle: 0 | 1, x: number, y: number): void => {
    const next: Handles = [...ease]
    next[2 * handle] = Number(Math.min(1, Math.max(0, x)).toFixed(3))
    next[2 * handle + 1] = Number(Math.min(4, Math.max(-4, y)).toFixed(3))
    onChange(next)
  }
  const drag = (handle: 0 | 1) => (e: PointerEvent<SVGCircleElement>) => {
    const box = ref.current?.getBoundingClientRect()
    if (!box || !e.currentTarget.hasPointerCapture(e.pointerId)) return
    const y = (1 - (e.clientY - box.top) / box.height) * (1 + 2 * MARGIN) - MARGIN
    set(handle, (e.clientX - box.left) / box.width, y)
  }
  const key = (handle: 0 | 1) => (e: KeyboardEvent) => {
    const by = e.shiftKey ? 0.1 : 0.01
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[e.key]
    if (!step) return
    e.preventDefault()
    e.stopPropagation()
    set(handle, ease[2 * handle] + step[0], ease[2 * handle + 1] + step[1])
  }
  const way = Array.from({ length: 41 }, (_, i) => `${toX(i / 40)} ${toY(eased(ease, i / 40))}`).join('L')
  const ends = [
    [0, 0],
    [1, 1],
  ] as const
  return (
    <svg className="ease-curve" ref={ref} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="group" aria-label={label}>
      <path className="frame" d={`M0 ${toY(0)}H${WIDTH}M0 ${toY(1)}H${WIDTH}`} />
      <path className="way" d={`M${way}`} />
      {([0, 1] as const).map((handle) => {
        const [x, y] = [toX(ease[2 * handle]), toY(ease[2 * handle + 1])]
        return (
          <g key={handle}>
            <path className="arm" d={`M${toX(ends[handle][0])} ${toY(ends[handle][1])}L${x} ${y}`} />
            <circle
              cx={x}
              cy={y}
              r={6}
              role="slider"
              tabIndex={0}
              aria-label={handle === 0 ? 'Handle at the beginning' : 'Handle at the end'}
              aria-valuenow={ease[2 * handle + 1]}
              aria-valuetext={`${ease[2 * handle]} across, ${ease[2 * handle + 1]} up`}
              onPointerDown={(e) => e.button === 0 && e.currentTarget.setPointerCapture(e.pointerId)}
              onPointerMove={drag(handle)}
              onKeyDown={key(handle)}
            />
          </g>
        )
      })}
    </svg>
  )
}
