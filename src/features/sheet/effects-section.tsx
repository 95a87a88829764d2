'use client'

import Switch from '@mui/material/Switch'
import { EFFECT_KINDS, effectKind, type EffectKindName } from '@/core/effects/registry'
import { paramDefaults } from '@/core/params'
import type { Layer } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { ParamsInspector } from '@/ui/params-inspector'
import { changeLayer } from './layer-actions'

/** What is worked on a layer before it is blended, in order. */
export function EffectsSection({ layer }: { readonly layer: Layer }) {
  return (
    <section className="section">
      <div className="section-head">
        <span>Effects</span>
        <select
          className="plain-select"
          aria-label="Add an effect"
          value=""
          onChange={(e) => {
            const kind = e.target.value as EffectKindName
            changeLayer(layer.id, `add ${effectKind(kind).label}`, (l) => {
              l.effects.push({
                id: newId(),
                kind,
                enabled: true,
                params: paramDefaults(effectKind(kind).schema) as (typeof l.effects)[number]['params'],
              })
            })
          }}
        >
          <option value="" disabled>
            Add
          </option>
          {EFFECT_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {effectKind(kind).label}
            </option>
          ))}
        </select>
      </div>
      {layer.effects.length === 0 && (
        <span className="quiet">Levels and tint, worked on the layer before it is blended.</span>
      )}
      {layer.effects.map((effect, i) => (
        <EffectRow key={effect.id} layer={layer} effect={effect} index={i} />
      ))}
    </section>
  )
}

interface EffectRowProps {
  readonly layer: Layer
  readonly effect: Layer['effects'][number]
  /** Its place among the layer's effects. */
  readonly index: number
}

function EffectRow({ layer, effect, index: i }: EffectRowProps) {
  const kind = effectKind(effect.kind)
  const patch = (label: string, apply: (e: Layer['effects'][number]) => void, merge?: string) =>
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
        <span className="what">{kind.label}</span>
        {i > 0 && (
          <button
            className="link"
            onClick={() =>
              changeLayer(layer.id, `move ${kind.label} earlier`, (l) => {
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
          slotProps={{ input: { 'aria-label': `${kind.label} on` } }}
        />
        <button
          className="link"
          onClick={() =>
            changeLayer(
              layer.id,
              `remove ${kind.label}`,
              (l) => void (l.effects = l.effects.filter((e) => e.id !== effect.id)),
            )
          }
        >
          Remove
        </button>
      </div>
      <ParamsInspector
        schema={kind.schema}
        values={effect.params}
        onChange={(name, value, label) =>
          patch(
            `${kind.label} ${label.toLowerCase()}`,
            (x) => void (x.params = { ...x.params, [name]: value }),
            `${effect.id} ${name}`,
          )
        }
      />
    </div>
  )
}
