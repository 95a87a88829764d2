'use client'

import { memo } from 'react'
import { BLEND_MODES, blendDefinitions, type BlendMode } from '@/core/sheet/blend-modes'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'
import { changeLayer, deleteLayer, duplicateLayer } from './layer-actions'

interface LayerSectionProps {
  readonly layer: SheetNode
  readonly onRename: () => void
}

/** How a layer lies on those beneath it. Each row is drawn anew only for its own value: a hand may be moving another. */
export function LayerSection({
  layer: { id, mode, opacity, visible, confine },
  onRename,
}: LayerSectionProps) {
  return (
    <section className="section">
      <div className="section-head">
        <span>Layer</span>
        <span>
          <button className="link" onClick={onRename}>
            Rename
          </button>
          <button className="link" onClick={() => duplicateLayer(id)}>
            Duplicate
          </button>
          <button className="link" onClick={() => deleteLayer(id)}>
            Delete
          </button>
        </span>
      </div>
      <ModeRow id={id} mode={mode} />
      <OpacityRow id={id} opacity={opacity} />
      <SwitchRows id={id} visible={visible} confine={confine} />
    </section>
  )
}

const ModeRow = memo(function ModeRow({ id, mode }: Pick<SheetNode, 'id' | 'mode'>) {
  return (
    <div className="row">
      <label htmlFor="blend">Blend</label>
      <select
        id="blend"
        className="plain-select wide"
        value={mode}
        onChange={(e) => changeLayer(id, 'blend mode', (l) => void (l.mode = e.target.value as BlendMode))}
      >
        {BLEND_MODES.map((own) => (
          <option key={own} value={own}>
            {blendDefinitions[own].label}
          </option>
        ))}
      </select>
    </div>
  )
})

const OpacityRow = memo(function OpacityRow({ id, opacity }: Pick<SheetNode, 'id' | 'opacity'>) {
  return (
    <NumberField
      label="Opacity"
      value={Math.round(opacity * 100)}
      min={0}
      max={100}
      step={1}
      unit="%"
      defaultValue={100}
      onChange={(v) => changeLayer(id, 'opacity', (l) => void (l.opacity = v / 100), 'opacity')}
    />
  )
})

const SwitchRows = memo(function SwitchRows({
  id,
  visible,
  confine,
}: Pick<SheetNode, 'id' | 'visible' | 'confine'>) {
  return (
    <>
      <SwitchRow
        label="Shown"
        checked={visible}
        onChange={(v) => changeLayer(id, v ? 'show layer' : 'hide layer', (l) => void (l.visible = v))}
      />
      <SwitchRow
        label="Confine"
        note="Show only where the layer beneath has pixels"
        checked={confine}
        onChange={(v) => changeLayer(id, 'confine', (l) => void (l.confine = v))}
      />
    </>
  )
})
