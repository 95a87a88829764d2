'use client'

import { useMemo, type RefObject } from 'react'
import { placeInTurns, poseAt } from '@/core/turn/turn-motion'
import { frameCount, frameSize, type Turn } from '@/core/turn/turn-schema'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { projectInFrame, turnStage } from '@/data/turn-frames'
import { pivotOf, type TurnPlan } from '@/state/turn-plan'
import { useTurnJob } from '@/state/turn-render'
import { useMeshStore } from '@/state/mesh-store'
import { useViewStore } from '@/state/view-store'
import { PictureView } from '@/ui/picture-view'
import { ClayView } from './clay-view'
import { RevealHandles } from './reveal-handles'
import type { Over, TurnPlayer } from './use-turn-player'

interface TurnStageProps {
  readonly project: Project
  readonly turn: Turn
  readonly sheet: ProjectSheet
  readonly plan: TurnPlan | null
  readonly player: TurnPlayer
  readonly canvasRef: RefObject<HTMLCanvasElement | null>
  readonly over: Over
}

/** The frame at the playhead: as it is rendered, or clay at once where it is not yet. */
export function TurnStage({ project, turn, sheet, plan, player, canvasRef, over }: TurnStageProps) {
  const frame = useViewStore((s) => s.turnFrame)
  const laneId = useViewStore((s) => s.laneId)
  const meshes = useMeshStore((s) => s.models)
  const { width, height } = frameSize(turn, sheet)
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the middle of the subject is known once its meshes are
  const pivot = useMemo(() => pivotOf(project), [project.models, meshes])
  const inFrame = useMemo(() => {
    const stage = turnStage(project, turn, pivot)
    return projectInFrame(stage, poseAt(turn, stage.turned, frame), frame, { width, height })
  }, [project, turn, pivot, frame, width, height])
  const reveals = turn.reveals.filter(({ layerId }) => layerId === laneId)
  const { turn: at, deg } = placeInTurns(turn.motion, frame)
  const { rate } = turn.motion
  return (
    <PictureView
      width={width}
      height={height}
      picture={
        <>
          <ClayView project={inFrame} shotId={sheet.shotId} isSeen={!player.isShown} />
          <canvas
            ref={canvasRef}
            role="img"
            aria-label={`Frame ${frame} of ${turn.name}`}
            data-testid="turn-canvas"
            data-shown={player.isShown}
            style={{
              position: 'absolute',
              inset: 0,
              width: '100%',
              height: '100%',
              visibility: player.isShown ? 'visible' : 'hidden',
            }}
          />
        </>
      }
      status={
        <>
          <span data-testid="turn-frame">Frame {frame}</span>
          <span>{Number((frame / rate).toFixed(2))} s</span>
          <span>
            turn {at + 1}, {Math.round(deg)}°
          </span>
          <span data-testid="turn-state">
            {over === 'closing'
              ? 'first against last, six times as bright'
              : player.isShown
                ? turn.quality
                : 'clay, not rendered yet'}
          </span>
          {player.isPlaying && (
            <span role="status" data-testid="dropped">
              {Number(rate.toFixed(3))} a second,{' '}
              {player.dropped === 0 ? 'none dropped' : `${player.dropped} dropped`}
            </span>
          )}
          <Missing turn={turn} plan={plan} isPlaying={player.isPlaying} />
        </>
      }
    >
      {!player.isPlaying &&
        reveals.map((reveal) => (
          <RevealHandles key={reveal.id} turn={turn} sheet={sheet} reveal={reveal} frame={frame} />
        ))}
    </PictureView>
  )
}

/** While it plays what is not there yet holds the frame before: said, so that it is not taken for the motion. */
function Missing({
  turn,
  plan,
  isPlaying,
}: {
  readonly turn: Turn
  readonly plan: TurnPlan | null
  readonly isPlaying: boolean
}) {
  const there = useTurnJob((s) => s.there)
  if (!plan || !isPlaying) return null
  const count = frameCount(turn.motion)
  const missing = plan.names.filter((name) => !there.has(name)).length
  return missing === 0 ? null : (
    <span>
      {count - missing} of {count} frames there
    </span>
  )
}
