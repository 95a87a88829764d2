'use client'

import { useId } from 'react'
import { dot, subtract } from '@/core/math/vec3'
import { cameraBasis } from '@/core/scene/camera'
import type { Shot } from '@/data/project-schema'
import { changeShot } from '@/state/shot-actions'
import { NumberField } from '@/ui/number-field'
import type { Pointing } from './pointing'

const STARTING = { on: false, distance: null, blur: 0.02 } as const

interface FocusSectionProps {
  readonly shot: Shot
  readonly setPointing: (pointing: Pointing) => void
}

/** Depth of field, to be looked at while one composes. */
export function FocusSection({ shot, setPointing }: FocusSectionProps) {
  const id = useId()
  const { camera } = shot
  const focus = shot.focus ?? STARTING
  const toTarget = Math.hypot(...subtract(camera.eye, camera.target))
  const parallel = camera.orthoHeight !== null
  const set = (label: string, patch: Partial<NonNullable<Shot['focus']>>) =>
    changeShot(label, (s) => void (s.focus = { ...STARTING, ...s.focus, ...patch }), label)
  const point = () =>
    setPointing({
      text: 'Click what is to be sharp. Esc leaves it.',
      onPoint: (hit) => {
        if (!hit) return
        const { eye, back } = cameraBasis(camera, shot.frame)
        set('focus', { on: true, distance: Number((-dot(subtract(hit.point, eye), back)).toPrecision(6)) })
        setPointing(null)
      },
    })
  return (
    <section className="section">
      <div className="section-head">
        <label className="check" htmlFor={id}>
          <input
            id={id}
            type="checkbox"
            checked={focus.on}
            disabled={parallel}
            onChange={(e) => set('depth of field', { on: e.target.checked })}
          />
          Depth of field
        </label>
        {focus.on && (
          <button className="link" onClick={point} disabled={parallel}>
            Focus on …
          </button>
        )}
      </div>
      {focus.on && (
        <>
          <NumberField
            label="Distance"
            value={focus.distance ?? toTarget}
            min={toTarget / 50}
            max={toTarget * 50}
            step={10 ** Math.floor(Math.log10(toTarget) - 3)}
            logarithmic
            defaultValue={toTarget}
            note="World units along the line of sight"
            onChange={(v) => set('focus', { distance: v })}
          />
          <NumberField
            label="Blur"
            value={Number((100 * focus.blur).toFixed(2))}
            min={0}
            max={20}
            step={0.1}
            unit="%"
            defaultValue={2}
            note="Width of a spot far behind, of the picture’s height"
            onChange={(v) => set('blur', { blur: v / 100 })}
          />
          <p className="quiet">Seen here only: passes are sharp, so that they stay in register.</p>
        </>
      )}
    </section>
  )
}
