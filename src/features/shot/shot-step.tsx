'use client'

import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { subtract } from '@/core/math/vec3'
import { anglesOf } from '@/core/scene/camera'
import { moveAt } from '@/core/scene/camera-move'
import { activeShot } from '@/data/active-shot'
import { useActions } from '@/state/actions'
import { addShotFromHere, frameSubject, goToShot, keepView, lockShot } from '@/state/shot-actions'
import { PREVIEWS, setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { PanelTabs } from '@/ui/panel-tabs'
import { References } from '@/ui/references'
import type { ThreeView } from '@/ui/view3d/three-view'
import { CameraPanel } from './camera-panel'
import { lookFrom, VIEWS } from './view-section'
import { LightPanel } from './light-panel'
import { MovesPanel, type Moment } from './moves-panel'
import { previewLabels, ShotBar } from './shot-bar'
import type { Pointing } from './pointing'
import { ShotStage } from './shot-stage'
import { turnedSubject } from './turned-subject'
import { ShotStepStyles } from './shot-step-styles'

const PANELS = ['camera', 'light', 'moves'] as const
type Panel = (typeof PANELS)[number]
const panelLabels: Readonly<Record<Panel, string>> = { camera: 'Camera', light: 'Light', moves: 'Moves' }

/** Walk round the model, frame it, light it, lock it. */
export function ShotStep() {
  const project = useOpenProject()
  const shot = activeShot(project)
  const preview = useViewStore((s) => s.preview)
  const viewRef = useRef<ThreeView | null>(null)
  const [panel, setPanel] = useState<Panel>('camera')
  const [letterbox, setLetterbox] = useState(true)
  const [pointing, setPointing] = useState<Pointing>(null)
  const [moment, setMoment] = useState<Moment | null>(null)
  const { locked, camera } = shot
  const lock = lockShot
  const nudge = (...by: Parameters<ThreeView['nudge']>) => viewRef.current?.nudge(...by)
  const fit = () => {
    if (locked) nudge(0, 0, 1)
    else frameSubject(...anglesOf(subtract(camera.eye, camera.target)))
  }
  const step = (list: readonly { readonly id: string }[], id: string, by: number) =>
    list[(list.findIndex((item) => item.id === id) + by + list.length) % list.length].id

  useActions('Shot', [
    { id: 'lock', label: locked ? 'Unlock the shot' : 'Lock the shot', keys: 'l', run: () => lock(!locked) },
    { id: 'fit', label: 'Fit the subject', keys: 'f', run: fit },
    { id: 'left', label: 'Walk left', keys: 'ArrowLeft', run: () => nudge(-3, 0, 1) },
    { id: 'right', label: 'Walk right', keys: 'ArrowRight', run: () => nudge(3, 0, 1) },
    { id: 'up', label: 'Higher', keys: 'ArrowUp', run: () => nudge(0, 3, 1) },
    { id: 'down', label: 'Lower', keys: 'ArrowDown', run: () => nudge(0, -3, 1) },
    { id: 'closer', label: 'Closer', keys: ']', run: () => nudge(0, 0, 0.94) },
    { id: 'farther', label: 'Farther', keys: '[', run: () => nudge(0, 0, 1 / 0.94) },
    { id: 'slide-left', label: 'Move left', keys: 'Shift+ArrowLeft', run: () => nudge(0, 0, 1, -0.02, 0) },
    { id: 'slide-right', label: 'Move right', keys: 'Shift+ArrowRight', run: () => nudge(0, 0, 1, 0.02, 0) },
    { id: 'slide-up', label: 'Move up', keys: 'Shift+ArrowUp', run: () => nudge(0, 0, 1, 0, 0.02) },
    { id: 'slide-down', label: 'Move down', keys: 'Shift+ArrowDown', run: () => nudge(0, 0, 1, 0, -0.02) },
    ...VIEWS.map(([name, azimuth, elevation], i) => ({
      id: `view-${name}`,
      label: `Look from: ${name.toLowerCase()}`,
      keys: `Alt+Digit${i + 1}`,
      run: () => (locked ? nudge(0, 0, 1) : void lookFrom(name, azimuth, elevation)),
    })),
    { id: 'keep-view', label: 'Keep this view', keys: 'k', run: () => keepView() },
    { id: 'new-shot', label: 'New shot from here', keys: 'n', run: () => addShotFromHere() },
    ...(project.shots.length > 1
      ? [
          {
            id: 'next-shot',
            label: 'Next shot',
            keys: '.',
            run: () => goToShot(step(project.shots, shot.id, 1)),
          },
          {
            id: 'previous-shot',
            label: 'Previous shot',
            keys: ',',
            run: () => goToShot(step(project.shots, shot.id, -1)),
          },
        ]
      : []),
    {
      id: 'preview',
      label: 'Show the view another way',
      keys: 'v',
      run: () => setBench({ preview: PREVIEWS[(PREVIEWS.indexOf(preview) + 1) % PREVIEWS.length] }),
    },
    ...PREVIEWS.map((kind) => ({
      id: `preview-${kind}`,
      label: `View: ${previewLabels[kind]}`,
      run: () => setBench({ preview: kind }),
    })),
    {
      id: 'letterbox',
      label: letterbox ? 'Show what falls outside' : 'Darken what falls outside',
      keys: 'b',
      run: () => setLetterbox((v) => !v),
    },
    ...PANELS.map((name) => ({
      id: `panel-${name}`,
      label: `Inspector: ${panelLabels[name]}`,
      keys: { camera: 'Shift+C', light: 'Shift+L', moves: 'Shift+M' }[name],
      run: () => setPanel(name),
    })),
    ...(pointing
      ? [{ id: 'stop-pointing', label: 'Stop pointing', keys: 'Escape', run: () => setPointing(null) }]
      : []),
    ...(moment
      ? [{ id: 'still', label: 'Back to the still', keys: 'Escape', run: () => setMoment(null) }]
      : []),
  ])

  // A move is looked at without touching the project.
  const move = moment && shot.moves.find((m) => m.id === moment.moveId)
  const moved = move ? moveAt(move, camera, moment.t01) : null
  const seenShot = moved ? { ...shot, camera: moved.camera, locked: true } : shot
  const seenProject =
    moved && moved.subjectTurnDeg !== 0 ? turnedSubject(project, moved.subjectTurnDeg) : project
  return (
    <div className="step">
      <ShotStepStyles />
      <div className="view-column">
        <ShotBar project={project} />
        <ShotStage
          project={seenProject}
          shot={seenShot}
          viewRef={viewRef}
          letterbox={letterbox}
          pointing={pointing}
          watching={moved ? (move?.name ?? null) : null}
          onUnlock={() => (moved ? setMoment(null) : lock(false))}
          status={
            moved && moment ? (
              <span>{(moment.t01 * (move?.seconds ?? 0)).toFixed(1)} s</span>
            ) : (
              !locked && <span>Drag to walk round, right drag to move, wheel to go closer</span>
            )
          }
        />
        <References project={project} />
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
        <PanelTabs label="What is set" names={PANELS} labels={panelLabels} chosen={panel} onChoose={setPanel}>
          {panel === 'camera' && <CameraPanel project={project} setPointing={setPointing} />}
          {panel === 'light' && <LightPanel project={project} viewRef={viewRef} setPointing={setPointing} />}
          {panel === 'moves' && <MovesPanel project={project} moment={moment} setMoment={setMoment} />}
        </PanelTabs>
      </aside>
    </div>
  )
}
