'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
import { framePoints } from '@/core/scene/camera'
import type { Project } from '@/data/project-schema'
import { useMeshStore } from '@/state/mesh-store'
import { useViewStore } from '@/state/view-store'
import { subjectExtent } from '../shot/subject-extent'
import { ThreeView } from '../shot/three-view'

/** The models to look over; its camera is its own and is not the shot's. */
export function ModelsView({ project }: { project: Project }) {
  const models = useMeshStore((s) => s.models)
  const ground = useViewStore((s) => s.ground)
  const partKeys = useViewStore((s) => s.partKeys)
  const boxRef = useRef<HTMLDivElement>(null)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const viewRef = useRef<ThreeView | null>(null)
  const framed = useRef('')
  const [broken, setBroken] = useState(false)
  const projectModels = project.models
  const loaded = projectModels.filter((m) => models[m.id]).map((m) => m.id)
  const extent = useMemo(
    () => subjectExtent({ models: projectModels }, (id) => models[id]?.outline),
    [projectModels, models],
  )
  useEffect(() => {
    const [canvas, box] = [canvasRef.current, boxRef.current]
    if (!canvas || !box) return
    let view: ThreeView
    try {
      view = new ThreeView(
        canvas,
        () => undefined,
        () => undefined,
      )
    } catch {
      // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser can say whether it draws 3D
      setBroken(true)
      return
    }
    viewRef.current = view
    const observer = new ResizeObserver(() => view.resize(box.clientWidth, box.clientHeight))
    observer.observe(box)
    return () => {
      observer.disconnect()
      view.dispose()
      viewRef.current = null
      framed.current = ''
    }
  }, [])
  useEffect(() => {
    viewRef.current?.setModels(projectModels, (id) => models[id]?.display, new Set(partKeys))
  }, [projectModels, models, partKeys])
  const key = loaded.join()
  useEffect(() => {
    // Frame when models come or go, not on every change of a role.
    const box = boxRef.current
    if (!extent || !box || framed.current === key) return
    framed.current = key
    const frame = { width: Math.max(16, box.clientWidth), height: Math.max(16, box.clientHeight) }
    viewRef.current?.setCamera(framePoints(extent.points, -30, 18, frame), false)
  }, [extent, key])
  const grey = Math.round(ground * 255)
  return (
    <div
      className="stage"
      ref={boxRef}
      style={{ background: `rgb(${grey} ${grey} ${Math.max(0, grey - 2)})` }}
    >
      <canvas
        ref={canvasRef}
        role="img"
        aria-label="The models"
        style={{ width: '100%', height: '100%', position: 'absolute' }}
      />
      {broken && (
        <div className="problem" style={{ margin: 16 }}>
          This browser cannot draw 3D (WebGL 2 is missing).
        </div>
      )}
      <div className="status" style={{ color: ground > 0.6 ? '#1c1a17' : '#f6f4f0' }}>
        Drag to walk round. The shot’s camera stays where it is.
      </div>
    </div>
  )
}
