'use client'

import { useId } from 'react'
import type { Shot } from '@/data/project-schema'
import { composeShot } from '@/state/shot-actions'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'

/** Focal length on a frame 24 mm high, for those who think in lenses. */
const toMillimetres = (fovDeg: number): number => 12 / Math.tan((fovDeg * Math.PI) / 360)
const toFov = (mm: number): number => (2 * Math.atan(12 / mm) * 180) / Math.PI

/** Projection, focal length, roll and shift. */
export function LensSection({ shot }: { readonly shot: Shot }) {
  const { camera, locked } = shot
  const projectionId = useId()
  const [shiftX, shiftY] = camera.shift ?? [0, 0]
  return (
    <section className="section">
      <div className="section-head">Lens</div>
      <SelectRow
        id={projectionId}
        label="Projection"
        value={camera.orthoHeight === null ? 'perspective' : 'parallel'}
        onChange={(picked) =>
          composeShot('projection', (s) => {
            const distance = Math.hypot(...s.camera.eye.map((v, i) => v - s.camera.target[i]))
            const height = 2 * distance * Math.tan((s.camera.fovDeg * Math.PI) / 360)
            s.camera.orthoHeight = picked === 'parallel' ? height : null
          })
        }
      >
        <option value="perspective">Perspective</option>
        <option value="parallel">Orthographic</option>
      </SelectRow>
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
  )
}
