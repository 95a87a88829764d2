'use client'

import type { ReactNode } from 'react'
import Button from '@mui/material/Button'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { setMarks } from './turn-lanes'
import { OVER, overLabels, type Over, type TurnPlayer } from './use-turn-player'

interface TurnBarProps {
  readonly turn: Turn
  readonly frame: number
  readonly player: TurnPlayer
  readonly isPingPong: boolean
  readonly onPingPong: (on: boolean) => void
  readonly over: Over
  readonly onOver: (over: Over) => void
  readonly onFrame: (frame: number) => void
  /** The dial. */
  readonly children: ReactNode
}

/** The dial, and what plays it. */
export function TurnBar(props: TurnBarProps) {
  const { turn, frame, player, isPingPong, onPingPong, over, onOver, onFrame, children } = props
  const count = frameCount(turn.motion)
  return (
    <div className="turn-bar" role="group" aria-label="Playing">
      {children}
      <p className="quiet closes">
        {turn.motion.what === 'nothing' ? `${count} frames` : `Frame ${count} is frame 0 again`}
      </p>
      <Button
        variant="contained"
        onClick={player.togglePlay}
        data-testid="play"
        aria-keyshortcuts="Space"
        title="Space"
      >
        {player.isPlaying ? 'Stop' : 'Play'}
      </Button>
      <div className="steps">
        <button className="link" onClick={() => onFrame(frame - 1)} title="←">
          ‹ step
        </button>
        <button
          className="link"
          aria-pressed={isPingPong}
          onClick={() => onPingPong(!isPingPong)}
          title={isPingPong ? 'It goes there and back' : 'It goes round and round'}
          data-testid="ping-pong"
        >
          {isPingPong ? 'there and back' : 'round'}
        </button>
        <button className="link" onClick={() => onFrame(frame + 1)} title="→">
          step ›
        </button>
      </div>
      <select
        className="plain-select over"
        aria-label="What is laid over the frame"
        data-testid="over"
        value={over}
        onChange={(e) => onOver(OVER.find((own) => own === e.target.value) ?? 'nothing')}
      >
        {OVER.map((own) => (
          <option key={own} value={own}>
            {overLabels[own]}
          </option>
        ))}
      </select>
      {turn.marks && (
        <button className="link" onClick={() => setMarks(null)} data-testid="marks">
          frames {turn.marks[0]}–{turn.marks[1] - 1}: play all
        </button>
      )}
    </div>
  )
}
