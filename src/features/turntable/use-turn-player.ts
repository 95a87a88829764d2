'use client'

import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { FramePlayer } from '@/data/frame-player'
import { useTurnJob } from '@/state/turn-render'
import type { TurnPlan } from '@/state/turn-plan'
import { setBench, useViewStore } from '@/state/view-store'

/** What is laid over the frame that is seen. */
export const OVER = ['nothing', 'ghost', 'closing'] as const
export type Over = (typeof OVER)[number]
export const overLabels: Readonly<Record<Over, string>> = {
  nothing: 'The frame alone',
  ghost: 'With the frame before',
  closing: 'First and last: what differs',
}

export interface TurnPlayer {
  readonly isPlaying: boolean
  /** Frames that were not shown in time since it began to play. */
  readonly dropped: number
  /** Whether the frame at the playhead stands on the canvas. */
  readonly isShown: boolean
  readonly togglePlay: () => void
  readonly pause: () => void
  /** Asks for a frame at once, before anything of the page is worked out anew. */
  readonly seek: (frame: number) => void
}

/** Plays a turntable from the frames that are there, and shows the one at the playhead. */
export function useTurnPlayer(
  canvasRef: RefObject<HTMLCanvasElement | null>,
  turn: Turn,
  plan: TurnPlan | null,
  { isPingPong, over }: { readonly isPingPong: boolean; readonly over: Over },
): TurnPlayer {
  const player = useRef<FramePlayer | null>(null)
  const there = useTurnJob((s) => s.there)
  const frame = useViewStore((s) => s.turnFrame)
  const [isPlaying, setPlaying] = useState(false)
  const [dropped, setDropped] = useState(0)
  const [shown, setShown] = useState<number | null>(null)
  useEffect(() => {
    const canvas = canvasRef.current
    if (!canvas) return
    const made = new FramePlayer(canvas.transferControlToOffscreen(), (told) => {
      if (told.type === 'shown') setShown(told.frame)
      else if (told.type === 'missing') setShown(null)
      else {
        setBench({ turnFrame: told.frame })
        setShown(told.frame)
        setDropped(told.dropped)
      }
    })
    player.current = made
    return () => {
      made.close()
      player.current = null
    }
  }, [canvasRef])

  const count = frameCount(turn.motion)
  const names = useMemo(() => plan?.names.map((name) => (there.has(name) ? name : null)) ?? [], [plan, there])
  const { rate } = turn.motion
  const [from, to] = turn.marks ?? [0, count]
  const projectId = plan?.stage.project.id ?? ''
  const width = plan?.size.width ?? 0
  const height = plan?.size.height ?? 0
  useEffect(() => {
    if (width === 0) return
    const film = { names, rate, from: Math.min(from, count - 1), to: Math.min(to, count), isPingPong }
    player.current?.setFilm(projectId, film, { width, height })
  }, [projectId, names, rate, from, to, count, isPingPong, width, height])

  // The one at the playhead, whenever it is another, or is another picture now.
  const asked = names[over === 'closing' ? 0 : frame] ?? null
  useEffect(() => {
    if (isPlaying) return
    if (over === 'closing') player.current?.show(0, count - 1, 'difference')
    else if (over === 'ghost') player.current?.show(frame, (frame + count - 1) % count, 'ghost')
    else player.current?.show(frame)
  }, [isPlaying, frame, asked, over, count, width])

  const pause = useCallback(() => {
    player.current?.pause()
    setPlaying(false)
  }, [])
  const seek = useCallback(
    (to: number) => {
      if (over === 'nothing') player.current?.show(to)
    },
    [over],
  )
  const togglePlay = useCallback(() => {
    if (isPlaying) pause()
    else {
      setDropped(0)
      setPlaying(true)
      player.current?.play(useViewStore.getState().turnFrame)
    }
  }, [isPlaying, pause])
  const isThere = asked !== null
  const isShown = isPlaying ? shown !== null : isThere && shown === (over === 'closing' ? 0 : frame)
  return { isPlaying, dropped, isShown, togglePlay, pause, seek }
}
