'use client'

import { BLEND_MODES, blendDefinitions, type BlendMode } from '@/core/sheet/blend-modes'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'
import { changeLayer, deleteLayer, duplicateLayer } from './layer-actions'

/** How a layer lies on those beneath it. */
export function LayerSection({
  layer,
  onRename,
}: {
  readonly layer: SheetNode
  readonly onRename: () => void
}) {
  return (
    <section className="section">
      <div className="section-head">
        <span>Layer</span>
        <span>
          <button className="link" onClick={onRename}>
            Rename
          </button>
          <button className="link" onClick={() => duplicateLayer(layer.id)}>
            Duplicate
          </button>
          <button className="link" onClick={() => deleteLayer(layer.id)}>
            Delete
          </button>
        </span>
      </div>
      <div className="row">
        <label htmlFor="blend">Blend</label>
        <select
          id="blend"
          className="plain-select wide"
          value={layer.mode}
          onChange={(e) =>
            changeLayer(layer.id, 'blend mode', (l) => void (l.mode = e.target.value as BlendMode))
          }
        >
          {BLEND_MODES.map((mode) => (
            <option key={mode} value={mode}>
              {blendDefinitions[mode].label}
            </option>
          ))}
        </select>
      </div>
      <NumberField
        label="Opacity"
        value={Math.round(layer.opacity * 100)}
        min={0}
        max={100}
        step={1}
        unit="%"
        defaultValue={100}
        onChange={(v) => changeLayer(layer.id, 'opacity', (l) => void (l.opacity = v / 100), 'opacity')}
      />
      <SwitchRow
        label="Shown"
        checked={layer.visible}
        onChange={(v) => changeLayer(layer.id, v ? 'show layer' : 'hide layer', (l) => void (l.visible = v))}
      />
      <SwitchRow
        label="Confine"
        note="Show only where the layer beneath has pixels"
        checked={layer.confine}
        onChange={(v) => changeLayer(layer.id, 'confine', (l) => void (l.confine = v))}
      />
    </section>
  )
}
