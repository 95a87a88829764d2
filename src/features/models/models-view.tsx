'use client'

import { inkOn } from '@/ui/ink-on'
import { useEffect, useMemo, useRef, useState } from 'react'
import { plural } from '@/core/plural'
import { framePoints } from '@/core/scene/camera'
import type { Project, ProjectModel } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { useMeshStore } from '@/state/mesh-store'
import { changeModel } from '@/state/model-actions'
import { extentPoints, subjectExtent } from '@/state/subject-extent'
import { setBench, useViewStore } from '@/state/view-store'
import { References } from '@/ui/references'
import { HANDLES, PlaceHandles, type HandleKind } from '@/ui/view3d/handles'
import { ThreeView } from '@/ui/view3d/three-view'
import { ModelsViewStyles } from './models-view-styles'

const handleLabels: Readonly<Record<HandleKind, string>> = { move: 'Move', turn: 'Turn', scale: 'Scale' }

interface ModelsViewProps {
  readonly project: Project
  /** The model the handles hold. */
  readonly model: ProjectModel | undefined
}

/** The models to look over, choose parts in and place; its camera is its own and is not the shot's. */
export function ModelsView({ project, model }: ModelsViewProps) {
  const models = useMeshStore((s) => s.models)
  const problems = useMeshStore((s) => s.problems)
  const ground = useViewStore((s) => s.ground)
  const partKeys = useViewStore((s) => s.partKeys)
  const solo = useViewStore((s) => s.solo)
  const boxRef = useRef<HTMLDivElement>(null)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const viewRef = useRef<ThreeView | null>(null)
  const handlesRef = useRef<PlaceHandles | null>(null)
  const framed = useRef('')
  const [broken, setBroken] = useState(false)
  const [handle, setHandle] = useState<HandleKind | null>(null)
  const held = useRef(model)
  useEffect(() => {
    held.current = model
  })
  const projectModels = project.models
  const extent = useMemo(
    () => subjectExtent({ models: projectModels }, (id) => models[id]?.outline),
    [projectModels, models],
  )
  useEffect(() => {
    const [canvas, box] = [canvasRef.current, boxRef.current]
    if (!canvas || !box) return
    let view: ThreeView
    try {
      view = new ThreeView(canvas, {
        onMoved: () => handlesRef.current?.refresh(),
        onRefused: () => undefined,
        onPress: (x, y, event) => {
          const key = view.hit(x, y)?.partKey
          const { partKeys: chosen } = useViewStore.getState()
          if (event.shiftKey || event.ctrlKey || event.metaKey) {
            if (key === undefined) return
            setBench({
              partKeys: chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key],
            })
          } else setBench({ partKeys: key === undefined ? [] : [key] })
        },
      })
    } catch {
      // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser can say whether it draws 3D
      setBroken(true)
      return
    }
    viewRef.current = view
    handlesRef.current = new PlaceHandles(view, (placement) => {
      const { current } = held
      if (current) changeModel(current.id, 'place model', (m) => void (m.placement = placement), 'handles')
    })
    const observer = new ResizeObserver(() => {
      const size = { width: Math.max(16, box.clientWidth), height: Math.max(16, box.clientHeight) }
      view.resize(size.width, size.height, size, { left: 0, top: 0, ...size })
    })
    observer.observe(box)
    return () => {
      observer.disconnect()
      handlesRef.current?.dispose()
      handlesRef.current = null
      view.dispose()
      viewRef.current = null
      framed.current = ''
    }
  }, [])
  useEffect(() => {
    viewRef.current?.setModels(projectModels, (id) => models[id], {
      chosen: new Set(partKeys),
      solo: solo && new Set(solo),
    })
    viewRef.current?.setBounds(extent?.bounds ?? null)
  }, [projectModels, models, partKeys, solo, extent])
  useEffect(() => handlesRef.current?.show(handle, model?.placement ?? null), [handle, model])
  /** Fits the chosen parts, or else the subject, seen as they are seen now where nothing is said. */
  const fit = (keys: readonly string[], azimuthDeg = -30, elevationDeg = 18) => {
    const box = boxRef.current
    const points =
      keys.length > 0
        ? extentPoints(
            project,
            (id) => models[id]?.outline,
            (part) => keys.includes(part.key),
          )
        : extent?.points
    if (!points || !box) return
    const frame = { width: Math.max(16, box.clientWidth), height: Math.max(16, box.clientHeight) }
    viewRef.current?.setCamera(framePoints(points, azimuthDeg, elevationDeg, frame), false)
    handlesRef.current?.refresh()
  }
  const key = projectModels
    .filter((m) => models[m.id])
    .map((m) => `${m.id} ${m.source.type === 'file' ? models[m.id].summary.geometryHash : ''}`)
    .join()
  useEffect(() => {
    // Frame when models come, go or are mended, not on every change of a role or of a form made here.
    if (!extent || framed.current === key) return
    framed.current = key
    fit([])
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the framing follows the models alone
  }, [extent, key])
  const nudge = (...by: Parameters<ThreeView['nudge']>) => viewRef.current?.nudge(...by)
  useActions('View', [
    { id: 'fit', label: 'Fit what is chosen', keys: 'f', run: () => fit(partKeys) },
    { id: 'left', label: 'Walk left', keys: 'Alt+ArrowLeft', run: () => nudge(-5, 0, 1) },
    { id: 'right', label: 'Walk right', keys: 'Alt+ArrowRight', run: () => nudge(5, 0, 1) },
    { id: 'up', label: 'Higher', keys: 'Alt+ArrowUp', run: () => nudge(0, 5, 1) },
    { id: 'down', label: 'Lower', keys: 'Alt+ArrowDown', run: () => nudge(0, -5, 1) },
    { id: 'closer', label: 'Closer', keys: ']', run: () => nudge(0, 0, 0.9) },
    { id: 'farther', label: 'Farther', keys: '[', run: () => nudge(0, 0, 1 / 0.9) },
    ...HANDLES.map((kind) => ({
      id: `handle-${kind}`,
      label: handle === kind ? 'Put the handles away' : `Handles: ${handleLabels[kind].toLowerCase()}`,
      keys: { move: 'm', turn: 't', scale: 'z' }[kind],
      run: () => setHandle((h) => (h === kind ? null : kind)),
    })),
  ])
  const grey = Math.round(ground * 255)
  return (
    <div className="models-view">
      <ModelsViewStyles />
      <div
        className="stage"
        ref={boxRef}
        style={{ background: `rgb(${grey} ${grey} ${Math.max(0, grey - 2)})` }}
      >
        <canvas
          ref={canvasRef}
          role="img"
          aria-label="The models"
          data-testid="models-view"
          style={{ width: '100%', height: '100%', position: 'absolute', touchAction: 'none' }}
        />
        {model && (
          <div className="segments over-stage" role="group" aria-label="Handles">
            {HANDLES.map((kind) => (
              <button
                key={kind}
                aria-pressed={handle === kind}
                onClick={() => setHandle(handle === kind ? null : kind)}
              >
                {handleLabels[kind]}
              </button>
            ))}
          </div>
        )}
        {solo && (
          <button className="pill attention over-view" onClick={() => setBench({ solo: null })}>
            {plural(solo.length, 'part')} alone. Show all again
          </button>
        )}
        {broken && (
          <div className="problem" style={{ margin: 16 }}>
            This browser cannot draw 3D (WebGL 2 is missing).
          </div>
        )}
        {projectModels.some((m) => !(m.id in models) && !(m.id in problems)) && (
          <div className="pill over-view" role="status">
            Reading the models
          </div>
        )}
        <div className="status" style={{ color: inkOn(ground) }}>
          Drag to walk round, press a part to choose it.
        </div>
      </div>
      <References project={project} />
    </div>
  )
}
