'use client'

import { useEffect, useRef, useState } from 'react'
import Link from 'next/link'
import Button from '@mui/material/Button'
import { framePoints, MAX_PICTURE_SIDE } from '@/core/scene/camera'
import type { Project, Shot } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { useMeshStore } from '@/state/mesh-store'
import { changeProject, useProjectStore } from '@/state/project-store'
import { useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { subjectExtent } from './subject-extent'
import { ThreeView } from './three-view'

const FRAMES: readonly (readonly [string, number, number])[] = [
  ['Screen 16:10', 1280, 800],
  ['Film 16:9', 1920, 1080],
  ['Square', 1600, 1600],
  ['A4 upright, 150 dpi', 1240, 1754],
  ['A4 across, 150 dpi', 1754, 1240],
]
const VIEWS: readonly (readonly [string, number, number])[] = [
  ['Three-quarter', -35, 18],
  ['Front', 0, 0],
  ['Side', 90, 0],
  ['Top', 0, 90],
]

/** Focal length on a frame 24 mm high, for those who think in lenses. */
const toMillimetres = (fovDeg: number): number => 12 / Math.tan((fovDeg * Math.PI) / 360)
const toFov = (mm: number): number => (2 * Math.atan(12 / mm) * 180) / Math.PI

const changeShot = (label: string, apply: (shot: Shot) => void, merge?: string) =>
  changeProject(label, (draft) => apply(draft.shots[0] as Shot), merge)

/** Walk round the model, frame it, lock it. */
export function ShotStep() {
  const project = useProjectStore((s) => s.project) as Project
  const [shot] = project.shots
  const models = useMeshStore((s) => s.models)
  const ground = useViewStore((s) => s.ground)
  const stageRef = useRef<HTMLDivElement>(null)
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const viewRef = useRef<ThreeView | null>(null)
  const [stage, setStage] = useState({ width: 800, height: 500 })
  const [refused, setRefused] = useState(false)
  const [broken, setBroken] = useState(false)
  const locked = shot.locked
  const lock = (value: boolean) => {
    setRefused(false)
    changeShot(value ? 'lock shot' : 'unlock shot', (s) => void (s.locked = value))
  }
  const frameAll = (azimuth?: number, elevation?: number) => {
    if (locked) {
      setRefused(true)
      return
    }
    const extent = subjectExtent(project, (id) => models[id]?.outline)
    if (!extent) return
    const [x, y, z] = shot.camera.eye.map((v, i) => v - shot.camera.target[i])
    const ownAzimuth = (Math.atan2(x, z) * 180) / Math.PI
    const ownElevation = (Math.atan2(y, Math.hypot(x, z)) * 180) / Math.PI
    const camera = framePoints(
      extent.points,
      azimuth ?? ownAzimuth,
      elevation ?? ownElevation,
      shot.frame,
      shot.camera.fovDeg,
      0.05,
      shot.camera.orthoHeight !== null,
    )
    changeShot('frame all', (s) => void (s.camera = camera))
  }
  useEffect(() => {
    const element = stageRef.current
    if (!element) return
    const observer = new ResizeObserver(() =>
      setStage({ width: element.clientWidth, height: element.clientHeight }),
    )
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  useEffect(() => {
    if (!canvasRef.current) return
    try {
      viewRef.current = new ThreeView(
        canvasRef.current,
        (camera) => changeShot('move camera', (s) => void (s.camera = camera), 'camera'),
        () => setRefused(true),
      )
    } catch {
      // eslint-disable-next-line react-hooks/set-state-in-effect -- only the browser can say whether it draws 3D
      setBroken(true)
    }
    return () => {
      viewRef.current?.dispose()
      viewRef.current = null
    }
  }, [])
  const scale = Math.min((stage.width - 48) / shot.frame.width, (stage.height - 64) / shot.frame.height)
  const [width, height] = [
    Math.max(16, Math.round(shot.frame.width * scale)),
    Math.max(16, Math.round(shot.frame.height * scale)),
  ]
  useEffect(() => viewRef.current?.resize(width, height), [width, height])
  useEffect(
    () => viewRef.current?.setModels(project.models, (id) => models[id]?.display),
    [project.models, models],
  )
  useEffect(() => viewRef.current?.setCamera(shot.camera, locked), [shot.camera, locked])

  useActions('Shot', [
    { id: 'lock', label: locked ? 'Unlock the shot' : 'Lock the shot', keys: 'l', run: () => lock(!locked) },
    { id: 'frame-all', label: 'Frame all', keys: 'f', run: () => frameAll() },
    { id: 'left', label: 'Walk left', keys: 'ArrowLeft', run: () => viewRef.current?.nudge(-3, 0, 1) },
    { id: 'right', label: 'Walk right', keys: 'ArrowRight', run: () => viewRef.current?.nudge(3, 0, 1) },
    { id: 'up', label: 'Higher', keys: 'ArrowUp', run: () => viewRef.current?.nudge(0, 3, 1) },
    { id: 'down', label: 'Lower', keys: 'ArrowDown', run: () => viewRef.current?.nudge(0, -3, 1) },
    { id: 'closer', label: 'Closer', keys: ']', run: () => viewRef.current?.nudge(0, 0, 0.94) },
    { id: 'farther', label: 'Farther', keys: '[', run: () => viewRef.current?.nudge(0, 0, 1 / 0.94) },
    {
      id: 'pan-left',
      label: 'Move left',
      keys: 'Shift+ArrowLeft',
      run: () => viewRef.current?.nudge(0, 0, 1, -0.02, 0),
    },
    {
      id: 'pan-right',
      label: 'Move right',
      keys: 'Shift+ArrowRight',
      run: () => viewRef.current?.nudge(0, 0, 1, 0.02, 0),
    },
    {
      id: 'pan-up',
      label: 'Move up',
      keys: 'Shift+ArrowUp',
      run: () => viewRef.current?.nudge(0, 0, 1, 0, 0.02),
    },
    {
      id: 'pan-down',
      label: 'Move down',
      keys: 'Shift+ArrowDown',
      run: () => viewRef.current?.nudge(0, 0, 1, 0, -0.02),
    },
  ])
  const grey = Math.round(ground * 255)
  const setFrame = (w: number, h: number) =>
    changeProject(
      'picture size',
      (draft) => {
        draft.shots[0].frame = { width: w, height: h }
        // The sheet follows the shot until it holds layers of its own.
        if (draft.sheets[0].layers.length === 0) Object.assign(draft.sheets[0], { width: w, height: h })
      },
      'frame',
    )
  const azimuth =
    (Math.atan2(shot.camera.eye[0] - shot.camera.target[0], shot.camera.eye[2] - shot.camera.target[2]) *
      180) /
    Math.PI
  return (
    <div className="step">
      <div
        className="stage"
        ref={stageRef}
        style={{ background: `rgb(${grey} ${grey} ${Math.max(0, grey - 2)})` }}
      >
        <canvas
          ref={canvasRef}
          role="img"
          aria-label="The shot"
          tabIndex={0}
          data-testid="shot-view"
          style={{
            position: 'absolute',
            left: (stage.width - width) / 2,
            top: (stage.height - 20 - height) / 2,
            width,
            height,
            background: '#a3a3a1',
            outline: locked ? '3px solid var(--slate)' : '1px solid #0004',
            cursor: locked ? 'not-allowed' : 'grab',
          }}
        />
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
          <div
            className="problem"
            role="alert"
            style={{
              position: 'absolute',
              top: 14,
              left: '50%',
              transform: 'translateX(-50%)',
              whiteSpace: 'nowrap',
            }}
          >
            The shot is locked, so every pass stays in register.{' '}
            <button className="link" onClick={() => lock(false)}>
              Unlock
            </button>
            <button className="link" onClick={() => setRefused(false)}>
              Leave it
            </button>
          </div>
        )}
        <div className="status" style={{ color: ground > 0.6 ? '#1c1a17' : '#f6f4f0' }}>
          <b>{locked ? 'Locked' : 'Not locked'}</b>
          <span>
            {shot.frame.width} × {shot.frame.height}
          </span>
          {!locked && <span>Drag to walk round, right drag to move, wheel to go closer</span>}
        </div>
      </div>
      <aside className="inspector" aria-label="Inspector">
        <div className="inspector-head">
          <h2 className="display">{shot.name}</h2>
          <span className="quiet">shot</span>
        </div>
        <Button
          fullWidth
          variant={locked ? 'outlined' : 'contained'}
          onClick={() => lock(!locked)}
          sx={{ mb: 1.5 }}
          data-testid="lock"
        >
          {locked ? 'Unlock the shot' : 'Lock the shot'}
        </Button>
        <fieldset
          disabled={locked}
          style={{ border: 0, padding: 0, margin: 0, minWidth: 0, opacity: locked ? 0.6 : 1 }}
        >
          <section className="section">
            <div className="section-head">
              <span>Look from</span>
              <button className="link" onClick={() => frameAll()}>
                Frame all
              </button>
            </div>
            <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
              {VIEWS.map(([name, a, e]) => (
                <button key={name} className="pill" onClick={() => frameAll(a, e)}>
                  {name}
                </button>
              ))}
            </div>
            <div className="row">
              <span className="label">Stands at</span>
              <span />
              <b>{Math.round(azimuth)}°</b>
            </div>
          </section>
          <section className="section">
            <div className="section-head">Lens</div>
            <div className="row">
              <label htmlFor="projection">Projection</label>
              <select
                id="projection"
                className="plain-select wide"
                value={shot.camera.orthoHeight === null ? 'perspective' : 'parallel'}
                onChange={(e) =>
                  changeShot('projection', (s) => {
                    const distance = Math.hypot(...s.camera.eye.map((v, i) => v - s.camera.target[i]))
                    const height = 2 * distance * Math.tan((s.camera.fovDeg * Math.PI) / 360)
                    s.camera.orthoHeight = e.target.value === 'parallel' ? height : null
                  })
                }
              >
                <option value="perspective">Perspective</option>
                <option value="parallel">Parallel</option>
              </select>
            </div>
            <NumberField
              label="Focal length"
              value={Number(toMillimetres(shot.camera.fovDeg).toFixed(1))}
              min={10}
              max={300}
              step={0.5}
              unit="mm"
              logarithmic
              defaultValue={Number(toMillimetres(30).toFixed(1))}
              disabled={locked || shot.camera.orthoHeight !== null}
              note="On a frame 24 mm high"
              onChange={(mm) => changeShot('lens', (s) => void (s.camera.fovDeg = toFov(mm)), 'lens')}
            />
          </section>
          <section className="section">
            <div className="section-head">Picture</div>
            <div className="row">
              <label htmlFor="purpose">Size for</label>
              <select
                id="purpose"
                className="plain-select wide"
                value={FRAMES.findIndex(([, w, h]) => w === shot.frame.width && h === shot.frame.height)}
                onChange={(e) => {
                  const chosen = FRAMES[Number(e.target.value)]
                  if (chosen) setFrame(chosen[1], chosen[2])
                }}
              >
                <option value={-1}>Own size</option>
                {FRAMES.map(([name], i) => (
                  <option key={name} value={i}>
                    {name}
                  </option>
                ))}
              </select>
            </div>
            <NumberField
              label="Width"
              value={shot.frame.width}
              min={64}
              max={MAX_PICTURE_SIDE}
              step={1}
              unit="px"
              logarithmic
              onChange={(v) => setFrame(v, shot.frame.height)}
            />
            <NumberField
              label="Height"
              value={shot.frame.height}
              min={64}
              max={MAX_PICTURE_SIDE}
              step={1}
              unit="px"
              logarithmic
              onChange={(v) => setFrame(shot.frame.width, v)}
            />
          </section>
        </fieldset>
      </aside>
    </div>
  )
}
