'use client'

import { useId } from 'react'
import { MAX_PICTURE_SIDE, anglesOf } from '@/core/scene/camera'
import { mapPoint, placementMatrix } from '@/core/scene/placement'
import { mostDpi, PICTURE_SIZES, sizeInPixels, sizeOf } from '@/core/scene/picture-size'
import { subtract } from '@/core/math/vec3'
import { activeShot } from '@/data/active-shot'
import { GUIDES, type Guide, type Project } from '@/data/project-schema'
import {
  changeShot,
  composeShot,
  frameSubject,
  keepView,
  setCamera,
  setDpi,
  setFrame,
} from '@/state/shot-actions'
import { NumberField } from '@/ui/number-field'
import { FocusSection } from './focus-section'
import type { ShotStageProps } from './shot-stage'

export const VIEWS: readonly (readonly [name: string, azimuthDeg: number, elevationDeg: number])[] = [
  ['Three-quarter', -35, 18],
  ['Front', 0, 0],
  ['Side', 90, 0],
  ['Top', 0, 90],
  ['Low', -30, -8],
  ['Close', -25, 10],
]
/** A close view takes in less than the whole. */
const CLOSE_MARGIN = -0.28

const guideLabels: Readonly<Record<Guide, string>> = {
  thirds: 'Thirds',
  centre: 'Centre',
  diagonals: 'Diagonals',
  safe: 'Safe margin',
}

/** Focal length on a frame 24 mm high, for those who think in lenses. */
const toMillimetres = (fovDeg: number): number => 12 / Math.tan((fovDeg * Math.PI) / 360)
const toFov = (mm: number): number => (2 * Math.atan(12 / mm) * 180) / Math.PI

/** Seen from a named side. */
export const lookFrom = (name: string, azimuth: number, elevation: number): boolean =>
  frameSubject(
    azimuth,
    elevation,
    `look from: ${name.toLowerCase()}`,
    name === 'Close' ? CLOSE_MARGIN : undefined,
  )

interface CameraPanelProps {
  readonly project: Project
  readonly setPointing: (pointing: ShotStageProps['pointing']) => void
}

/** Where the camera stands, its lens, and the picture's size. */
export function CameraPanel({ project, setPointing }: CameraPanelProps) {
  const shot = activeShot(project)
  const { camera, locked } = shot
  const purposeId = useId()
  const projectionId = useId()
  const viewId = useId()
  const [azimuth, elevation] = anglesOf(subtract(camera.eye, camera.target))
  const size = sizeOf(shot.frame, shot.dpi)
  /** The paper's highest dpi, where the picture cannot be larger. */
  const atMost = size !== null && shot.dpi >= mostDpi(size.size) ? mostDpi(size.size) : null
  const fileCameras = project.models.flatMap((model) =>
    model.cameras.map((own, i) => ({
      key: `${model.id} ${i}`,
      label: `${own.name}, ${model.name}`,
      model,
      own,
    })),
  )
  const [shiftX, shiftY] = camera.shift ?? [0, 0]
  const toggleGuide = (guide: Guide) =>
    changeShot('guides', (s) => {
      s.guides = s.guides.includes(guide) ? s.guides.filter((g) => g !== guide) : [...s.guides, guide]
    })
  return (
    <>
      <fieldset className="plain-fieldset" disabled={locked}>
        <section className="section">
          <div className="section-head">
            <span>Look from</span>
            <button className="link" onClick={() => frameSubject(azimuth, elevation)}>
              Fit
            </button>
          </div>
          <div className="pills">
            {VIEWS.map(([name, a, e]) => (
              <button key={name} className="pill" onClick={() => lookFrom(name, a, e)}>
                {name}
              </button>
            ))}
          </div>
          <div className="row" style={{ marginTop: 6 }}>
            <span className="label">Stands at</span>
            <span />
            <b data-testid="stands-at">
              {Math.round(azimuth)}°, {Math.round(elevation)}° up
            </b>
          </div>
          <NumberField
            label="Margin"
            disabled={locked}
            value={Math.round(shot.margin * 1000) / 10}
            min={0}
            max={40}
            step={0.5}
            unit="%"
            defaultValue={5}
            onChange={(v) => composeShot('margin', (s) => void (s.margin = v / 100), 'margin')}
          />
          <div className="row">
            <label htmlFor={viewId}>Views</label>
            <select
              id={viewId}
              className="plain-select wide"
              value=""
              onChange={(e) => {
                const kept = shot.views.find((view) => view.id === e.target.value)
                if (kept) setCamera(`go to ${kept.name}`, kept.camera)
                const found = fileCameras.find((entry) => entry.key === e.target.value)
                if (found) {
                  const { model, own } = found
                  const map = placementMatrix(model.placement)
                  const placed = (p: readonly number[]) => {
                    const out = [0, 0, 0]
                    mapPoint(map, p[0], p[1], p[2], out)
                    return [out[0], out[1], out[2]] as const
                  }
                  setCamera(`camera of ${model.name}`, {
                    ...own.camera,
                    eye: placed(own.camera.eye),
                    target: placed(own.camera.target),
                  })
                }
              }}
            >
              <option value="">
                {shot.views.length + fileCameras.length === 0 ? 'None kept yet' : 'Go to …'}
              </option>
              {shot.views.map((view) => (
                <option key={view.id} value={view.id}>
                  {view.name}
                </option>
              ))}
              {fileCameras.map(({ key, label }) => (
                <option key={key} value={key}>
                  {label}
                </option>
              ))}
            </select>
          </div>
          <button className="link" onClick={() => keepView()} data-testid="keep-view">
            Keep this view
          </button>
        </section>
        <section className="section">
          <div className="section-head">Lens</div>
          <div className="row">
            <label htmlFor={projectionId}>Projection</label>
            <select
              id={projectionId}
              className="plain-select wide"
              value={camera.orthoHeight === null ? 'perspective' : 'parallel'}
              onChange={(e) =>
                composeShot('projection', (s) => {
                  const distance = Math.hypot(...s.camera.eye.map((v, i) => v - s.camera.target[i]))
                  const height = 2 * distance * Math.tan((s.camera.fovDeg * Math.PI) / 360)
                  s.camera.orthoHeight = e.target.value === 'parallel' ? height : null
                })
              }
            >
              <option value="perspective">Perspective</option>
              <option value="parallel">Orthographic</option>
            </select>
          </div>
          <NumberField
            label="Focal length"
            value={Number(toMillimetres(camera.fovDeg).toFixed(1))}
            min={10}
            max={300}
            step={0.5}
            unit="mm"
            logarithmic
            defaultValue={Number(toMillimetres(30).toFixed(1))}
            disabled={locked || camera.orthoHeight !== null}
            note="On a frame 24 mm high"
            onChange={(mm) => composeShot('lens', (s) => void (s.camera.fovDeg = toFov(mm)), 'lens')}
          />
          <NumberField
            label="Roll"
            disabled={locked}
            value={camera.rollDeg ?? 0}
            min={-180}
            max={180}
            step={0.5}
            unit="°"
            defaultValue={0}
            onChange={(v) => composeShot('roll', (s) => void (s.camera.rollDeg = v), 'roll')}
          />
          <label className="check">
            <input
              type="checkbox"
              checked={camera.keepVerticals ?? false}
              disabled={camera.orthoHeight !== null}
              onChange={(e) =>
                composeShot('keep verticals', (s) => void (s.camera.keepVerticals = e.target.checked))
              }
            />
            Vertical lines stay vertical
          </label>
          {(['Shift right', 'Shift up'] as const).map((label, axis) => (
            <NumberField
              key={label}
              label={label}
              disabled={locked}
              value={Math.round((axis === 0 ? shiftX : shiftY) * 1000) / 10}
              min={-100}
              max={100}
              step={0.5}
              unit="%"
              defaultValue={0}
              note="Of the picture’s height"
              onChange={(v) =>
                composeShot(
                  'lens shift',
                  (s) => {
                    const [x, y] = s.camera.shift ?? [0, 0]
                    s.camera.shift = axis === 0 ? [v / 100, y] : [x, v / 100]
                  },
                  'shift',
                )
              }
            />
          ))}
        </section>
        <section className="section">
          <div className="section-head">Picture</div>
          <div className="row">
            <label htmlFor={purposeId}>Size for</label>
            <select
              id={purposeId}
              className="plain-select wide"
              value={size ? `${size.size.name}|${size.across}` : ''}
              onChange={(e) => {
                const [name, across] = e.target.value.split('|')
                const chosen = PICTURE_SIZES.find((s) => s.name === name)
                if (!chosen) return
                const dpi = Math.min(shot.dpi, mostDpi(chosen))
                setFrame(sizeInPixels(chosen, dpi, across === 'true'), undefined, dpi)
              }}
            >
              <option value="">Own size</option>
              {(['Screen', 'Paper', 'Inches', 'Film'] as const).map((group) => (
                <optgroup key={group} label={group}>
                  {PICTURE_SIZES.filter((s) => s.group === group).flatMap((s) =>
                    s.unit === 'px' ? (
                      <option key={s.name} value={`${s.name}|false`}>
                        {s.name}
                      </option>
                    ) : (
                      [false, true].map((across) => (
                        <option key={`${s.name}${across}`} value={`${s.name}|${across}`}>
                          {s.name} {across ? 'across' : 'upright'}
                        </option>
                      ))
                    ),
                  )}
                </optgroup>
              ))}
            </select>
          </div>
          <NumberField
            label="Print at"
            disabled={locked}
            value={shot.dpi}
            min={36}
            max={1200}
            step={1}
            unit="dpi"
            logarithmic
            defaultValue={300}
            note={`${((shot.frame.width / shot.dpi) * 25.4).toFixed(0)} × ${((shot.frame.height / shot.dpi) * 25.4).toFixed(0)} mm`}
            onChange={setDpi}
          />
          {atMost !== null && (
            <p className="quiet" role="status" data-testid="paper-at-most">
              {size?.size.name} is at its largest: a side holds {MAX_PICTURE_SIDE.toLocaleString('en')}{' '}
              pixels, which is {atMost} dpi on this paper.
            </p>
          )}
          <NumberField
            label="Width"
            disabled={locked}
            value={shot.frame.width}
            min={64}
            max={MAX_PICTURE_SIDE}
            step={1}
            unit="px"
            logarithmic
            onChange={(v) => setFrame({ width: v, height: shot.frame.height }, 'frame')}
          />
          <NumberField
            label="Height"
            disabled={locked}
            value={shot.frame.height}
            min={64}
            max={MAX_PICTURE_SIDE}
            step={1}
            unit="px"
            logarithmic
            onChange={(v) => setFrame({ width: shot.frame.width, height: v }, 'frame')}
          />
        </section>
      </fieldset>
      <FocusSection shot={shot} setPointing={setPointing} />
      <section className="section">
        <div className="section-head">Guides</div>
        <div className="pills">
          {GUIDES.map((guide) => (
            <button
              key={guide}
              className="pill"
              aria-pressed={shot.guides.includes(guide)}
              onClick={() => toggleGuide(guide)}
            >
              {guideLabels[guide]}
            </button>
          ))}
        </div>
      </section>
    </>
  )
}
