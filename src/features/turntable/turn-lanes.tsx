'use client'

import {
  memo,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
} from 'react'
import { layerOfTrack } from '@/core/turn/keyable'
import { frameCount, type Motion, type Turn } from '@/core/turn/turn-schema'
import { walkSheet } from '@/core/sheet/sheet-tree'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { ProjectSheet } from '@/data/project-schema'
import { changeTurn } from '@/state/turn-actions'
import type { TurnPlan } from '@/state/turn-plan'
import { useTurnJob } from '@/state/turn-render'
import { setBench, useViewStore } from '@/state/view-store'
import { cameraShare, combTeeth, durationInWords, lanePath, seenShare } from './lane-shape'
import { CameraHandles, LayerHandlesInTime } from './lane-handles'
import { revealInWords } from './reveal-words'

/** The lane of the camera, among those of layers. */
export const CAMERA = 'camera'

interface TurnLanesProps {
  readonly turn: Turn
  readonly sheet: ProjectSheet
  readonly plan: TurnPlan | null
  readonly onFrame: (frame: number) => void
}

/** Tones of lanes, so that neighbours are told apart. */
const TONES = ['slate', 'umber', 'ochre', 'clay'] as const

/** Lanes of time: what is seen of each layer, the camera, a tooth for every frame, and the playhead over all. */
export const TurnLanes = memo(function TurnLanes({ turn, sheet, plan, onFrame }: TurnLanesProps) {
  const laneId = useViewStore((s) => s.laneId)
  const [areAll, setAll] = useState(true)
  const wayRef = useRef<HTMLDivElement>(null)
  const count = frameCount(turn.motion)
  const layers = useMemo(
    () =>
      walkSheet(sheet)
        .map(({ node }) => node)
        .reverse(),
    [sheet],
  )
  const moves = (node: SheetNode): boolean =>
    turn.reveals.some(({ layerId }) => layerId === node.id) ||
    turn.tracks.some((track) => layerOfTrack(track) === node.id)
  const changing = layers.filter(moves)
  const shown = areAll || changing.length === 0 ? layers : changing
  const frameAt = (clientX: number): number => {
    const box = wayRef.current?.getBoundingClientRect()
    if (!box) return 0
    return Math.min(count - 1, Math.max(0, Math.floor(((clientX - box.left) / box.width) * count)))
  }
  const scrub = (e: PointerEvent<HTMLElement>) => {
    if (e.currentTarget.hasPointerCapture(e.pointerId)) onFrame(frameAt(e.clientX))
  }
  const take = (e: PointerEvent<HTMLElement>) => {
    if (e.button !== 0) return
    e.currentTarget.setPointerCapture(e.pointerId)
    onFrame(frameAt(e.clientX))
  }
  return (
    <section className="turn-lanes" aria-label="Lanes of time">
      <div className="lane-head">
        <div className="names">
          <b>{turn.name}</b>
          <span className="quiet">{durationInWords(turn)}</span>
        </div>
        <div
          className="way"
          ref={wayRef}
          onPointerDown={take}
          onPointerMove={scrub}
          data-testid="turn-ruler"
          title="Press or drag: the playhead goes there"
        >
          <Ruler motion={turn.motion} />
          <Comb plan={plan} />
          <Marks turn={turn} />
        </div>
      </div>
      <div className="lanes">
        <Lane
          id={CAMERA}
          name="Camera"
          words={cameraInWords(turn)}
          isChosen={laneId === CAMERA}
          tone="umber"
          path={useMemo(() => lanePath(count, (at) => cameraShare(turn.camera, at)), [turn.camera, count])}
          count={count}
        >
          <CameraHandles turn={turn} />
        </Lane>
        {shown.map((node, i) => (
          <LayerLane
            key={node.id}
            node={node}
            turn={turn}
            isChosen={laneId === node.id}
            tone={TONES[i % 4]}
          />
        ))}
        {changing.length > 0 && (
          <button className="link lanes-more" onClick={() => setAll(!areAll)} aria-pressed={!areAll}>
            {areAll
              ? 'Only lanes on which something happens'
              : `All ${layers.length} layers: ${layers.length - changing.length} stay as they are`}
          </button>
        )}
      </div>
      <Playhead turn={turn} onFrame={onFrame} frameAt={frameAt} />
    </section>
  )
})

function cameraInWords({ camera, motion }: Turn): string {
  const { push, raiseDeg, shiftX, shiftY, views } = camera
  if (views.length > 0)
    return `through ${views.length === 1 ? 'one kept view' : `${views.length} kept views`}`
  const last = push.at(-1)
  if (push.length > 1 && last)
    return last.value < push[0].value
      ? `pushes in ${Math.round(100 * (1 - last.value / push[0].value))} %`
      : `draws back ${Math.round(100 * (last.value / push[0].value - 1))} %`
  if (raiseDeg.length > 1) return 'rises'
  if (shiftX.length + shiftY.length > 1) return 'shifts'
  return motion.what === 'camera' ? 'circles' : 'stays'
}

const LayerLane = memo(function LayerLane({
  node,
  turn,
  isChosen,
  tone,
}: {
  readonly node: SheetNode
  readonly turn: Turn
  readonly isChosen: boolean
  readonly tone: string
}) {
  const count = frameCount(turn.motion)
  const { reveals, tracks } = turn
  const path = useMemo(
    () => lanePath(count, (at) => seenShare(node, { reveals, tracks } as Turn, at)),
    [count, node, reveals, tracks],
  )
  return (
    <Lane
      id={node.id}
      name={node.name}
      words={revealInWords(node, turn)}
      isChosen={isChosen}
      tone={tone}
      path={path}
      count={count}
    >
      <LayerHandlesInTime node={node} turn={turn} />
    </Lane>
  )
})

interface LaneProps {
  readonly id: string
  readonly name: string
  readonly words: string
  readonly isChosen: boolean
  readonly tone: string
  readonly path: string
  readonly count: number
  readonly children: ReactNode
}

function Lane({ id, name, words, isChosen, tone, path, count, children }: LaneProps) {
  const ref = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (isChosen) ref.current?.scrollIntoView({ block: 'nearest' })
  }, [isChosen])
  return (
    <div className="lane" data-chosen={isChosen} data-tone={tone} ref={ref}>
      <button
        className="names"
        aria-pressed={isChosen}
        onClick={() => setBench({ laneId: isChosen ? null : id })}
        title={name}
      >
        <b>{name}</b>
        <span>{words}</span>
      </button>
      <div className="way" onPointerDown={() => setBench({ laneId: id })}>
        <svg viewBox={`0 0 ${count} 1`} preserveAspectRatio="none" aria-hidden="true">
          <path d={path} />
        </svg>
        {children}
      </div>
    </div>
  )
}

/** Seconds between two marks, so that they do not touch. */
function secondsStep(seconds: number): number {
  for (const step of [0.25, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300]) if (seconds / step <= 13) return step
  return 600
}

function Ruler({ motion }: { readonly motion: Motion }) {
  const count = frameCount(motion)
  const { turns, framesPerTurn, rate } = motion
  // Half turns as long as there is room for them.
  const part = turns <= 4 ? 0.5 : turns <= 8 ? 1 : Math.ceil(turns / 8)
  const marks: number[] = []
  for (let at = 0; at <= turns + 1e-9; at += part) marks.push(at)
  const step = secondsStep(count / rate)
  const seconds: number[] = []
  for (let at = 0; at * rate <= count - 0.25 * step * rate; at += step) seconds.push(at)
  const word = (at: number): string =>
    at === 0 ? 'start' : at === 0.5 ? '½' : at % 1 === 0 ? `turn ${at}` : `${Math.floor(at)}½`
  const edge = (at: number): string => (at === 0 ? 'first' : at >= count ? 'last' : '')
  return (
    <>
      <div className="turns display" aria-hidden="true">
        {marks.map((at) => (
          <span
            key={at}
            className={edge(at * framesPerTurn)}
            style={{ left: `${(100 * at * framesPerTurn) / count}%` }}
          >
            {word(at)}
          </span>
        ))}
      </div>
      <div className="seconds" aria-hidden="true">
        {seconds.map((at) => (
          <span key={at} className={edge(at)} style={{ left: `${(100 * at * rate) / count}%` }}>
            {Number(at.toFixed(2))} s
          </span>
        ))}
      </div>
    </>
  )
}

const COMB_WIDTH = 560

function Comb({ plan }: { readonly plan: TurnPlan | null }) {
  const there = useTurnJob((s) => s.there)
  const job = useTurnJob((s) => s.job)
  const isOwn = plan !== null && job?.turnId === plan.stage.turn.id
  const at = isOwn ? job.at : null
  const teeth = useMemo(
    () => plan && combTeeth(plan.names, (name) => there.has(name), new Set(at ?? []), COMB_WIDTH),
    [plan, there, at],
  )
  const count = plan ? plan.names.filter((name) => there.has(name)).length : 0
  return (
    <svg
      className="comb"
      viewBox={`0 0 ${COMB_WIDTH} 1`}
      preserveAspectRatio="none"
      role="img"
      aria-label={plan ? `${count} of ${plan.names.length} frames rendered` : 'Frames'}
      data-there={count}
      data-testid="comb"
    >
      {teeth && (
        <>
          <path className="missing" d={teeth.missing} />
          <path className="there" d={teeth.there} />
          <path className="at-work" d={teeth.atWork} />
        </>
      )}
    </svg>
  )
}

/** What lies outside of what is played is pale. */
function Marks({ turn }: { readonly turn: Turn }) {
  const { marks, motion } = turn
  if (!marks) return null
  const count = frameCount(motion)
  return (
    <>
      <i className="outside" style={{ left: 0, width: `${(100 * marks[0]) / count}%` }} />
      <i className="outside" style={{ right: 0, width: `${(100 * (count - marks[1])) / count}%` }} />
    </>
  )
}

interface PlayheadProps {
  readonly turn: Turn
  readonly onFrame: (frame: number) => void
  readonly frameAt: (clientX: number) => number
}

function Playhead({ turn, onFrame, frameAt }: PlayheadProps) {
  const frame = useViewStore((s) => s.turnFrame)
  const count = frameCount(turn.motion)
  const key = (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 : 1
    const next = {
      ArrowLeft: frame - by,
      ArrowRight: frame + by,
      Home: 0,
      End: count - 1,
    }[e.key]
    if (next === undefined) return
    e.preventDefault()
    e.stopPropagation()
    onFrame(((next % count) + count) % count)
  }
  return (
    <div className="playhead-way">
      <button
        className="playhead"
        role="slider"
        aria-label="Playhead"
        aria-valuemin={0}
        aria-valuemax={count - 1}
        aria-valuenow={frame}
        aria-valuetext={`frame ${frame}`}
        data-testid="playhead"
        style={{ left: `${(100 * (frame + 0.5)) / count}%` }}
        onKeyDown={key}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => {
          if (e.currentTarget.hasPointerCapture(e.pointerId)) onFrame(frameAt(e.clientX))
        }}
      />
    </div>
  )
}

/** Says from where to where it is played; null: all of it. */
export const setMarks = (marks: Turn['marks']): void =>
  changeTurn('what is played', (turn) => void (turn.marks = marks), 'marks')
