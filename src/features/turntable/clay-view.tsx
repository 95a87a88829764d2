'use client'

import { useEffect, useRef } from 'react'
import { rigOf } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { subjectExtent } from '@/state/subject-extent'
import { ThreeView } from '@/ui/view3d/three-view'

interface ClayViewProps {
  /** As it stands in the frame. */
  readonly project: Project
  readonly shotId: string
  readonly isSeen: boolean
}

/** Clay at once, as the shot stands: what is seen of a frame that is not rendered yet. */
export function ClayView({ project, shotId, isSeen }: ClayViewProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const viewRef = useRef<ThreeView | null>(null)
  const meshes = useMeshStore((s) => s.models)
  const shot = project.shots.find(({ id }) => id === shotId) ?? project.shots[0]
  const { width: frameWidth, height: frameHeight } = shot.frame
  const rig = rigOf(project, shot)
  const { models } = project
  useEffect(() => {
    const canvas = canvasRef.current
    const parent = canvas?.parentElement
    if (!canvas || !parent) return
    const nothing = () => undefined
    try {
      viewRef.current = new ThreeView(canvas, { onMoved: nothing, onRefused: nothing, onPress: nothing })
    } catch {
      // Without 3D what is not rendered is not seen; the status says that it is not there.
      return
    }
    return () => {
      viewRef.current?.dispose()
      viewRef.current = null
    }
  }, [])
  useEffect(() => {
    const parent = canvasRef.current?.parentElement
    if (!parent) return
    const fit = () => {
      const { clientWidth: width, clientHeight: height } = parent
      if (width > 0 && height > 0)
        viewRef.current?.resize(
          width,
          height,
          { width: frameWidth, height: frameHeight },
          { left: 0, top: 0, width, height },
        )
    }
    const observer = new ResizeObserver(fit)
    observer.observe(parent)
    fit()
    return () => observer.disconnect()
  }, [frameWidth, frameHeight])
  useEffect(() => {
    const view = viewRef.current
    if (!view) return
    view.setModels(models, (id) => meshes[id], { paint: 'clay' })
    view.setBounds(subjectExtent({ models }, (id) => meshes[id]?.outline)?.bounds ?? null)
  }, [models, meshes])
  useEffect(() => {
    // What nobody sees is not drawn.
    if (isSeen) viewRef.current?.setCamera(shot.camera, true)
  }, [shot.camera, isSeen])
  useEffect(() => {
    if (isSeen) viewRef.current?.setLamps(rig.lights)
  }, [rig.lights, shot.camera, isSeen])
  return (
    <canvas
      ref={canvasRef}
      aria-hidden="true"
      data-testid="clay-view"
      style={{
        position: 'absolute',
        inset: 0,
        width: '100%',
        height: '100%',
        pointerEvents: 'none',
        background: 'linear-gradient(#d6cfc4, #c3bbae)',
        visibility: isSeen ? 'visible' : 'hidden',
      }}
    />
  )
}
