'use client'

import { useEffect, useRef, useState, type RefObject } from 'react'
import type { Camera } from '@/core/scene/camera'
import { rigOf } from '@/data/active-shot'
import type { Project, Shot } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { setCamera } from '@/state/shot-actions'
import { subjectExtent } from '@/state/subject-extent'
import { setBench, useViewStore } from '@/state/view-store'
import { ThreeView, type FrameRect } from '@/ui/view3d/three-view'
import type { Pointing } from './pointing'

interface ShotView {
  readonly viewRef: RefObject<ThreeView | null>
  readonly pointing: Pointing
  readonly canvasRef: RefObject<HTMLCanvasElement | null>
  readonly project: Project
  readonly shot: Shot
  readonly stage: { readonly width: number; readonly height: number }
  /** Where the frame lies on the stage. */
  readonly box: FrameRect
}

/**
 * Keeps the interactive view showing the shot.
 * @returns `moving`: a hand moves the camera; `broken`: this browser cannot draw 3D.
 */
export function useShotView({ canvasRef, viewRef, project, shot, pointing, stage, box }: ShotView): {
  readonly moving: boolean
  readonly broken: boolean
} {
  const models = useMeshStore((s) => s.models)
  const preview = useViewStore((s) => s.preview)
  const [moving, setMoving] = useState(false)
  const [broken, setBroken] = useState(false)
  const { locked } = shot
  const onPoint = useRef(pointing)
  useEffect(() => {
    onPoint.current = pointing
  })
  useEffect(() => {
    if (!canvasRef.current) return
    const moved = (camera: Camera, done: boolean) => {
      setMoving(!done)
      setCamera('move camera', camera, 'camera')
    }
    try {
      viewRef.current = new ThreeView(canvasRef.current, {
        onMoved: moved,
        onRefused: () => setBench({ lockRefused: true }),
        onPress: (x, y) => onPoint.current?.onPoint(viewRef.current?.hit(x, y) ?? null),
      })
    } catch {
      // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser can say whether it draws 3D
      setBroken(true)
    }
    return () => {
      viewRef.current?.dispose()
      viewRef.current = null
    }
  }, [canvasRef, viewRef])

  const { left, top, width, height } = box
  const { width: frameWidth, height: frameHeight } = shot.frame
  useEffect(
    () =>
      viewRef.current?.resize(
        stage.width,
        stage.height,
        { width: frameWidth, height: frameHeight },
        { left, top, width, height },
      ),
    [viewRef, stage, frameWidth, frameHeight, left, top, width, height],
  )
  const rig = rigOf(project, shot)
  useEffect(() => {
    const view = viewRef.current
    if (!view) return
    const paint = (
      { model: 'materials', clay: 'clay', occlusion: 'white', contour: 'white', id: 'parts' } as const
    )[preview]
    view.setModels(project.models, (id) => models[id], { paint })
    view.setBounds(subjectExtent(project, (id) => models[id]?.outline)?.bounds ?? null)
  }, [viewRef, project, models, preview])
  useEffect(() => viewRef.current?.setCamera(shot.camera, locked), [viewRef, shot.camera, locked])
  useEffect(() => {
    const view = viewRef.current
    if (!view) return
    if (preview === 'id' || preview === 'contour') view.setFlat()
    else view.setLamps(preview === 'occlusion' ? null : rig.lights)
  }, [viewRef, preview, rig.lights, shot.camera])
  return { moving, broken }
}
