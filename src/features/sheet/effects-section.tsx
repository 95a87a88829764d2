'use client'

import Switch from '@mui/material/Switch'
import { EFFECTS, effectKind, findEffect } from '@/core/effects/registry'
import { newEffect } from '@/core/sheet/new-layer'
import { effectProblem } from '@/core/sheet/evaluate/plan-sheet'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { ParamsInspector } from '@/ui/params-inspector'
import { changeLayer } from './layer-actions'

/** What is worked on a layer before it is blended, in order. */
export function EffectsSection({ layer }: { readonly layer: SheetNode }) {
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
            changeLayer(layer.id, `add ${label}`, (l) => void l.effects.push(newEffect(newId(), kind)))
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
      {layer.effects.length === 0 && (
        <span className="quiet">
          {layer.content.kind === 'wash'
            ? 'A wash does nothing without an effect.'
            : 'Worked on the layer before it is blended.'}
        </span>
      )}
      {layer.effects.map((effect, i) => (
        <EffectRow key={effect.id} layer={layer} effect={effect} index={i} />
      ))}
    </section>
  )
}

interface EffectRowProps {
  readonly layer: SheetNode
  readonly effect: SheetNode['effects'][number]
  /** Its place among the layer's effects. */
  readonly index: number
}

function EffectRow({ layer, effect, index: i }: EffectRowProps) {
  const kind = findEffect(effect.kind)
  const label = kind?.label ?? effect.kind
  const problem = effectProblem(effect)
  const patch = (label: string, apply: (e: SheetNode['effects'][number]) => void, merge?: string) =>
    changeLayer(
      layer.id,
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
              changeLayer(layer.id, `move ${label} earlier`, (l) => {
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
              layer.id,
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
