'use client'

import { useId } from 'react'
import { subtract } from '@/core/math/vec3'
import { anglesOf } from '@/core/scene/camera'
import { mapPoint, placementMatrix } from '@/core/scene/placement'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { composeShot, frameSubject, keepView, setCamera } from '@/state/shot-actions'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'

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

/** Seen from a named side. */
export const lookFrom = (name: string, azimuth: number, elevation: number): boolean =>
  frameSubject(
    azimuth,
    elevation,
    `look from: ${name.toLowerCase()}`,
    name === 'Close' ? CLOSE_MARGIN : undefined,
  )

/** Where the camera stands, and where it stood before. */
export function ViewSection({ project }: { readonly project: Project }) {
  const shot = activeShot(project)
  const { camera, locked } = shot
  const viewId = useId()
  const [azimuth, elevation] = anglesOf(subtract(camera.eye, camera.target))
  const fileCameras = project.models.flatMap((model) =>
    model.cameras.map((own, i) => ({
      key: `${model.id} ${i}`,
      label: `${own.name}, ${model.name}`,
      model,
      own,
    })),
  )
  return (
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
      <SelectRow
        id={viewId}
        label="Views"
        value=""
        onChange={(picked) => {
          const kept = shot.views.find((view) => view.id === picked)
          if (kept) setCamera(`go to ${kept.name}`, kept.camera)
          const found = fileCameras.find((entry) => entry.key === picked)
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
        <option value="">{shot.views.length + fileCameras.length === 0 ? 'None kept yet' : 'Go to …'}</option>
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
      </SelectRow>
      <button className="link" onClick={() => keepView()} data-testid="keep-view">
        Keep this view
      </button>
    </section>
  )
}
