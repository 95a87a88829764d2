'use client'

import type { Camera } from '@/core/scene/camera'
import { addShotFromHere } from '@/state/shot-actions'
import { setBench } from '@/state/view-store'

interface LockRefusalProps {
  readonly camera: Camera
  /** Whether a moment of a move is seen; else the shot itself is locked. */
  readonly isMove: boolean
  readonly onUnlock: () => void
}

/** Says why the camera stays where it is, and what can be done about it. */
export function LockRefusal({ camera, isMove, onUnlock }: LockRefusalProps) {
  const leave = () => setBench({ lockRefused: false })
  return (
    <div className="problem over-view" role="alert">
      {isMove ? 'This is a moment of a move.' : 'The shot is locked, so every pass stays in register.'}{' '}
      <button
        className="link"
        onClick={() => {
          leave()
          onUnlock()
        }}
      >
        {isMove ? 'Back to the still' : 'Unlock'}
      </button>
      <button
        className="link"
        onClick={() => {
          leave()
          addShotFromHere(camera)
          if (isMove) onUnlock()
        }}
        data-testid="shot-from-here"
      >
        New shot from here
      </button>
      <button className="link" onClick={leave}>
        Leave it
      </button>
    </div>
  )
}
