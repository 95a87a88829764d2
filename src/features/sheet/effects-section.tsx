'use client'

import { memo } from 'react'
import Switch from '@mui/material/Switch'
import { EFFECTS, effectKind, findEffect } from '@/core/effects/registry'
import { newEffect } from '@/core/sheet/new-layer'
import { effectProblem } from '@/core/sheet/evaluate/plan-sheet'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { ParamsInspector } from '@/ui/params-inspector'
import { changeLayer } from './layer-actions'

interface EffectsSectionProps {
  readonly layerId: string
  readonly effects: SheetNode['effects']
  readonly isWash: boolean
}

/** What is worked on a layer before it is blended, in order. */
export const EffectsSection = memo(function EffectsSection({
  layerId,
  effects,
  isWash,
}: EffectsSectionProps) {
  return (
    <section className="section">
      <div className="section-head">
        <span>Effects</span>
        <select
          className="plain-select"
          aria-label="Add an effect"
          value=""
          onChange={(e) => {
            const { kind, label } = effectKind(e.target.value)
            changeLayer(layerId, `add ${label}`, (l) => void l.effects.push(newEffect(newId(), kind)))
          }}
        >
          <option value="" disabled>
            Add
          </option>
          {EFFECTS.map(({ kind, label }) => (
            <option key={kind} value={kind}>
              {label}
            </option>
          ))}
        </select>
      </div>
      {effects.length === 0 && (
        <span className="quiet">
          {isWash ? 'A wash does nothing without an effect.' : 'Worked on the layer before it is blended.'}
        </span>
      )}
      {effects.map((effect, i) => (
        <EffectRow key={effect.id} layerId={layerId} effect={effect} index={i} />
      ))}
    </section>
  )
})

interface EffectRowProps {
  readonly layerId: string
  readonly effect: SheetNode['effects'][number]
  /** Its place among the layer's effects. */
  readonly index: number
}

function EffectRow({ layerId, effect, index: i }: EffectRowProps) {
  const kind = findEffect(effect.kind)
  const label = kind?.label ?? effect.kind
  const problem = effectProblem(effect)
  const patch = (label: string, apply: (e: SheetNode['effects'][number]) => void, merge?: string) =>
    changeLayer(
      layerId,
      label,
      (l) => {
        const found = l.effects.find((e) => e.id === effect.id)
        if (found) apply(found)
      },
      merge,
    )
  return (
    <div style={{ paddingBottom: 8 }}>
      <div className="term">
        <span className="sign">{i + 1}</span>
        <span className="what">{label}</span>
        {i > 0 && (
          <button
            className="link"
            onClick={() =>
              changeLayer(layerId, `move ${label} earlier`, (l) => {
                const [moved] = l.effects.splice(i, 1)
                l.effects.splice(i - 1, 0, moved)
              })
            }
          >
            Earlier
          </button>
        )}
        <Switch
          size="small"
          color="secondary"
          checked={effect.enabled}
          onChange={(e) => patch('effect on or off', (x) => void (x.enabled = e.target.checked))}
          slotProps={{ input: { 'aria-label': `${label} on` } }}
        />
        <button
          className="link"
          onClick={() =>
            changeLayer(
              layerId,
              `remove ${label}`,
              (l) => void (l.effects = l.effects.filter((e) => e.id !== effect.id)),
            )
          }
        >
          Remove
        </button>
      </div>
      {problem !== null && (
        <p className="problem" role="status" data-testid="effect-problem">
          It does nothing: {problem}.
        </p>
      )}
      {kind && (
        <ParamsInspector
          schema={kind.schema}
          values={effect.params}
          onChange={(name, value, what) =>
            patch(
              `${label} ${what.toLowerCase()}`,
              (x) => void (x.params = { ...x.params, [name]: value }),
              `${effect.id} ${name}`,
            )
          }
        />
      )}
    </div>
  )
}
