'use client'

import { useEffect, useRef, useState, type ReactNode, type RefObject } from 'react'
import Link from 'next/link'
import type { Project, Shot } from '@/data/project-schema'
import { setBench, useViewStore } from '@/state/view-store'
import { inkOn } from '@/ui/ink-on'
import type { ThreeView } from '@/ui/view3d/three-view'
import { Guides } from './guides'
import { LockRefusal } from './lock-refusal'
import type { Pointing } from './pointing'
import { previewLabels } from './shot-bar'
import { ShotStageStyles } from './shot-stage-styles'
import { useLivePreview } from './use-live-preview'
import { useShotView } from './use-shot-view'

interface ShotStageProps {
  readonly project: Project
  /** The shot as it is seen: on a move, not where the project has it. */
  readonly shot: Shot
  readonly viewRef: RefObject<ThreeView | null>
  /** Darkens what falls outside the picture. */
  readonly letterbox: boolean
  readonly pointing: Pointing
  /** Name of the move a moment of which is seen; the shot then stands as if locked. */
  readonly watching: string | null
  /** Unlocks the shot, or goes back from a move to the still. */
  readonly onUnlock: () => void
  readonly status?: ReactNode
}

/** The shot: the interactive view all over the stage, the pass one composes in inside the frame, guides over it. */
export function ShotStage({
  project,
  shot,
  viewRef,
  letterbox,
  pointing,
  watching,
  onUnlock,
  status,
}: ShotStageProps) {
  const ground = useViewStore((s) => s.ground)
  const preview = useViewStore((s) => s.preview)
  const stageRef = useRef<HTMLDivElement>(null)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const traceRef = useRef<HTMLCanvasElement>(null)
  const [stage, setStage] = useState({ width: 800, height: 500 })
  const refused = useViewStore((s) => s.lockRefused)
  const { locked } = shot
  // What was refused elsewhere, or of another shot, is not told here.
  useEffect(() => setBench({ lockRefused: false }), [shot.id])
  useEffect(() => {
    const element = stageRef.current
    if (!element) return
    const observer = new ResizeObserver(() =>
      setStage({ width: element.clientWidth, height: element.clientHeight }),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  const scale = Math.min((stage.width - 56) / shot.frame.width, (stage.height - 76) / shot.frame.height)
  const width = Math.max(16, Math.round(shot.frame.width * scale))
  const height = Math.max(16, Math.round(shot.frame.height * scale))
  const left = Math.round((stage.width - width) / 2)
  const top = Math.round((stage.height - 18 - height) / 2)
  const box = { left, top, width, height }
  const { moving, broken } = useShotView({ canvasRef, viewRef, project, shot, pointing, stage, box })
  const grey = Math.round(ground * 255)
  const greyCss = `rgb(${grey} ${grey} ${Math.max(0, grey - 2)})`
  const live = useLivePreview(
    project,
    shot,
    preview,
    !moving,
    traceRef,
    Math.round(width * (typeof window === 'undefined' ? 1 : Math.min(2, window.devicePixelRatio))),
    preview === 'contour' ? '#f4f2ee' : greyCss,
  )
  const frameBox = { position: 'absolute', ...box } as const
  const shade = letterbox ? 'color-mix(in srgb, rgb(28 27 25) 62%, transparent)' : 'transparent'
  return (
    <div className="stage" ref={stageRef} style={{ background: greyCss }}>
      <ShotStageStyles />
      <canvas
        ref={canvasRef}
        role="img"
        aria-label="The shot"
        tabIndex={0}
        data-testid="shot-view"
        data-live={live.shown ? (live.busy ? 'rendering' : 'done') : 'off'}
        style={{
          position: 'absolute',
          inset: 0,
          width: '100%',
          height: '100%',
          touchAction: 'none',
          cursor: pointing ? 'crosshair' : locked ? 'not-allowed' : 'grab',
        }}
      />
      <div className="frame-box" style={frameBox}>
        <canvas
          ref={traceRef}
          aria-hidden="true"
          data-testid="live-preview"
          style={{
            width: '100%',
            height: '100%',
            visibility: live.shown ? 'visible' : 'hidden',
          }}
        />
        <Guides guides={shot.guides} />
      </div>
      {/* A frame with a wide shadow for a border: what falls outside is darkened in one piece. */}
      <div
        className={`frame-edge ${watching === null ? (locked ? 'locked' : '') : 'watching'}`}
        style={{ ...frameBox, boxShadow: `0 0 0 4000px ${shade}` }}
      />
      {locked && (
        <span className={`lock-tag ${watching === null ? '' : 'watching'}`} style={{ left, top }}>
          {watching ?? 'Locked'}
        </span>
      )}
      {project.models.length === 0 && (
        <div className="empty" style={{ position: 'absolute', inset: 0 }}>
          <div
            className="problem"
            style={{ background: 'var(--raised)', color: 'var(--ink)', borderColor: 'var(--rule)' }}
          >
            There is nothing to frame yet.{' '}
            <Link href={`/project/${project.id}/models`}>Bring in a model</Link> first.
          </div>
        </div>
      )}
      {broken && (
        <div className="problem" style={{ position: 'absolute', top: 16, left: 16 }}>
          This browser cannot draw 3D (WebGL 2 is missing). The numbers at the right still set the camera.
        </div>
      )}
      {refused && locked && (
        <LockRefusal camera={shot.camera} isMove={watching !== null} onUnlock={onUnlock} />
      )}
      {pointing && (
        <div className="problem over-view" role="status">
          {pointing.text}
        </div>
      )}
      <div className="status" style={{ color: inkOn(letterbox ? 0.38 * ground : ground) }}>
        <b>{watching ?? (locked ? 'Locked' : 'Not locked')}</b>
        <span>
          {shot.frame.width} × {shot.frame.height}
        </span>
        {preview !== 'model' && (
          <span data-testid="preview-state">
            {previewLabels[preview]}{' '}
            {live.shown ? (live.busy ? 'refining' : 'draft') : moving ? 'moving' : ''}
          </span>
        )}
        {status}
      </div>
    </div>
  )
}
