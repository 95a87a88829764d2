'use client'

import { revealedShare, sweepEdge, sweepShareAt } from '@/core/turn/reveal'
import { frameCount, type Reveal, type Turn } from '@/core/turn/turn-schema'
import type { ProjectSheet } from '@/data/project-schema'
import { changeReveal } from '@/state/turn-actions'
import { setBench } from '@/state/view-store'
import { Handle, HandleBox } from '@/ui/sheet-handles'

interface RevealHandlesProps {
  readonly turn: Turn
  readonly sheet: ProjectSheet
  readonly reveal: Reveal
  readonly frame: number
}

/** The edge of a reveal on the picture itself: dragged along its way, and turned. */
export function RevealHandles({ turn, sheet, reveal, frame }: RevealHandlesProps) {
  const { width, height } = sheet
  if (reveal.kind === 'iris')
    return (
      <HandleBox width={width} height={height} label="Iris">
        <Handle
          label="Middle of the iris"
          place={reveal.centre}
          width={width}
          height={height}
          shape="cross"
          onMove={([x, y]) =>
            changeReveal(
              reveal.id,
              'middle of an iris',
              (draft) => void (draft.centre = [within(x), within(y)]),
              'centre',
            )
          }
        />
      </HandleBox>
    )
  if (reveal.kind !== 'sweep') return null
  const now = revealedShare(reveal, frame)
  // Before it comes and when it is whole it lies beside the picture: there it is shown where it goes through the middle.
  const share = now > 0 && now < 1 ? now : 0.5
  const [x1, y1, x2, y2] = sweepEdge(sheet, reveal, share)
  const middle = [(x1 + x2) / 2, (y1 + y2) / 2] as const
  const at = (along: number) => [x1 + (x2 - x1) * along, y1 + (y2 - y1) * along] as const
  const turner = at(0.5 + 0.15 * (height / Math.hypot(width, height)))
  const slide = ([x, y]: readonly [number, number]) => {
    const wanted = sweepShareAt(sheet, reveal, x, y)
    setBench({ turnFrame: frameOfShare(turn, reveal, wanted) })
  }
  const angle = ([x, y]: readonly [number, number]) => {
    const deg = (Math.atan2((y - middle[1]) * height, (x - middle[0]) * width) * 180) / Math.PI
    // The edge lies across the way that it goes.
    const angleDeg = Math.round(((deg - 90 + 540 + 180) % 360) - 180)
    changeReveal(
      reveal.id,
      'angle of a sweep',
      (draft) => void (draft.angleDeg = flipped(angleDeg, draft.angleDeg)),
      'angle',
    )
  }
  const [px, py] = [width, height]
  const d = `M${x1 * px} ${y1 * py}L${x2 * px} ${y2 * py}`
  return (
    <HandleBox
      width={width}
      height={height}
      label="Edge of the sweep"
      lines={
        <>
          <path className="line-under" d={d} />
          <path className="line-over sweep-line" d={d} />
        </>
      }
    >
      <Handle label="Edge of the sweep" place={middle} width={width} height={height} onMove={slide} />
      <Handle
        label="Angle of the sweep"
        place={turner}
        width={width}
        height={height}
        shape="square"
        onMove={angle}
      />
      <span className="sweep-words" style={{ left: `${100 * middle[0]}%`, top: `${100 * middle[1]}%` }}>
        sweeps at {Math.round(reveal.angleDeg)}°, soft {Number((100 * reveal.softness).toFixed(1))} %
      </span>
    </HandleBox>
  )
}

const within = (share: number): number => Number(Math.min(2, Math.max(-1, share)).toFixed(4))

/** Of the two ways across an edge the one it went before. */
function flipped(deg: number, before: number): number {
  const apart = Math.abs(((deg - before + 540) % 360) - 180)
  const other = deg > 0 ? deg - 180 : deg + 180
  return apart <= 90 ? deg : other
}

/** The frame in which a reveal that comes has come so far. */
function frameOfShare({ motion }: Turn, reveal: Reveal, share: number): number {
  const last = frameCount(motion) - 1
  let [best, least] = [reveal.from, Infinity]
  for (let frame = Math.floor(reveal.from); frame <= Math.min(last, reveal.whole); frame++) {
    const apart = Math.abs(revealedShare(reveal, frame) - share)
    if (apart < least) [best, least] = [frame, apart]
  }
  return best
}
