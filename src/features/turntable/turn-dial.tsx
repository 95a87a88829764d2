'use client'

import { useRef, type KeyboardEvent, type PointerEvent } from 'react'
import { placeInTurns } from '@/core/turn/turn-motion'
import { frameCount, type Motion } from '@/core/turn/turn-schema'

const WORDS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth']

/** "of the second turn". */
export const turnInWords = (motion: Motion, turn: number): string =>
  motion.turns === 1
    ? 'of the turn'
    : turn < WORDS.length
      ? `of the ${WORDS[turn]} turn`
      : `of turn ${turn + 1}`

/** The frame nearest to the one at the playhead in which it stands at an angle of the dial. */
export function frameAtAngle(motion: Motion, deg: number, near: number): number {
  const count = frameCount(motion)
  let [best, least] = [near, Infinity]
  for (let frame = 0; frame < count; frame++) {
    const apart = Math.abs(((placeInTurns(motion, frame).deg - deg + 540) % 360) - 180)
    // Of those that stand alike the nearest, round the end.
    const away = Math.min(Math.abs(frame - near), count - Math.abs(frame - near))
    const cost = apart * 1000 + away
    if (cost < least) [best, least] = [frame, cost]
  }
  return best
}

interface TurnDialProps {
  readonly motion: Motion
  readonly frame: number
  readonly onFrame: (frame: number) => void
}

const SIDE = 156
const MIDDLE = SIDE / 2
const RING = 66
const HAND = 48

const onCircle = (deg: number, radius: number): readonly [number, number] => {
  const angle = ((deg - 90) * Math.PI) / 180
  return [MIDDLE + radius * Math.cos(angle), MIDDLE + radius * Math.sin(angle)]
}
const line = (deg: number, from: number, to: number): string =>
  `M${onCircle(deg, from).join(' ')}L${onCircle(deg, to).join(' ')}`

const ticks = (each: number, length: number): string =>
  Array.from({ length: 360 / each }, (_, i) => line(i * each, RING + 9, RING + 9 - length)).join('')
const MINOR = ticks(6, 4)
const MAJOR = ticks(30, 8)

/** The angle as a round dial: dragged round, or moved by the arrow keys. */
export function TurnDial({ motion, frame, onFrame }: TurnDialProps) {
  const ref = useRef<SVGSVGElement>(null)
  const { turn, deg } = placeInTurns(motion, frame)
  const count = frameCount(motion)
  const drag = (e: PointerEvent<SVGSVGElement>) => {
    if (!e.currentTarget.hasPointerCapture(e.pointerId)) return
    const box = e.currentTarget.getBoundingClientRect()
    const [dx, dy] = [e.clientX - box.left - box.width / 2, e.clientY - box.top - box.height / 2]
    onFrame(frameAtAngle(motion, ((Math.atan2(dy, dx) * 180) / Math.PI + 450) % 360, frame))
  }
  const key = (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 : 1
    const next = {
      ArrowRight: frame + by,
      ArrowUp: frame + by,
      ArrowLeft: frame - by,
      ArrowDown: frame - by,
      PageUp: frame + motion.framesPerTurn,
      PageDown: frame - motion.framesPerTurn,
      Home: 0,
      End: count - 1,
    }[e.key]
    if (next === undefined) return
    e.preventDefault()
    e.stopPropagation()
    onFrame(((next % count) + count) % count)
  }
  const [x, y] = onCircle(deg, HAND)
  const sector = `M${MIDDLE} ${MIDDLE}V${MIDDLE - HAND - 6}A${HAND + 6} ${HAND + 6} 0 ${deg > 180 ? 1 : 0} 1 ${onCircle(deg, HAND + 6).join(' ')}Z`
  const words = `${Math.round(deg)} degrees ${turnInWords(motion, turn)}`
  return (
    <svg
      ref={ref}
      className="turn-dial"
      width={SIDE}
      height={SIDE}
      viewBox={`0 0 ${SIDE} ${SIDE}`}
      role="slider"
      tabIndex={0}
      aria-label="Angle"
      aria-valuemin={0}
      aria-valuemax={count - 1}
      aria-valuenow={frame}
      aria-valuetext={words}
      data-testid="turn-dial"
      onPointerDown={(e) => {
        if (e.button !== 0) return
        e.currentTarget.setPointerCapture(e.pointerId)
        drag(e)
      }}
      onPointerMove={drag}
      onKeyDown={key}
    >
      <circle className="plate" cx={MIDDLE} cy={MIDDLE} r={RING + 9} />
      <path className="minor" d={MINOR} />
      <path className="major" d={MAJOR} />
      <circle className="ring" cx={MIDDLE} cy={MIDDLE} r={HAND + 6} />
      {deg > 0 && <path className="sector" d={sector} />}
      <path className="hand" d={`M${onCircle(deg, 28).join(' ')}L${x} ${y}`} />
      <circle className="knob" cx={onCircle(deg, RING + 3)[0]} cy={onCircle(deg, RING + 3)[1]} r={6.5} />
      {/* Not under the hand. */}
      {deg > 24 && deg < 336 && (
        <text className="front" x={MIDDLE} y={MIDDLE - RING + 6}>
          front
        </text>
      )}
      <text className="angle display" x={MIDDLE + 3} y={MIDDLE + 5}>
        {Math.round(deg)}°
      </text>
      <text className="which" x={MIDDLE} y={MIDDLE + 22}>
        {turnInWords(motion, turn)}
      </text>
    </svg>
  )
}
