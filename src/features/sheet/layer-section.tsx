'use client'

import { memo } from 'react'
import { BLEND_MODES, blendDefinitions, type BlendMode } from '@/core/sheet/blend-modes'
import { MARKERS, MAX_NOTE, type Marker, type SheetNode } from '@/core/sheet/sheet-schema'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { LayerSectionStyles } from './layer-section-styles'
import { changeAnyLayer, changeLayer, deleteLayer, duplicateLayer } from './layer-actions'

interface LayerSectionProps {
  readonly layer: SheetNode
  readonly onRename: () => void
}

/** How a layer lies on those beneath it. Each row is drawn anew only for its own value: a hand may be moving another. */
export function LayerSection({
  layer: { id, mode, opacity, visible, confine, locked, marker, note },
  onRename,
}: LayerSectionProps) {
  return (
    <section className="section">
      <LayerSectionStyles />
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
      <SwitchRows id={id} visible={visible} confine={confine} locked={locked} />
      <MarkerRow id={id} marker={marker} />
      <NoteRow id={id} note={note} />
    </section>
  )
}

const ModeRow = memo(function ModeRow({ id, mode }: Pick<SheetNode, 'id' | 'mode'>) {
  return (
    <SelectRow
      id="blend"
      label="Blend"
      value={mode}
      onChange={(picked) => changeLayer(id, 'blend mode', (l) => void (l.mode = picked as BlendMode))}
    >
      {BLEND_MODES.map((own) => (
        <option key={own} value={own}>
          {blendDefinitions[own].label}
        </option>
      ))}
    </SelectRow>
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
  locked,
}: Pick<SheetNode, 'id' | 'visible' | 'confine' | 'locked'>) {
  return (
    <>
      <SwitchRow
        label="Shown"
        checked={visible}
        onChange={(v) => changeAnyLayer(id, v ? 'show layer' : 'hide layer', (l) => void (l.visible = v))}
      />
      <SwitchRow
        label="Confine"
        note="Show only where the layer beneath has pixels"
        checked={confine}
        onChange={(v) => changeLayer(id, 'confine', (l) => void (l.confine = v))}
      />
      <SwitchRow
        label="Locked"
        note="Nothing of it changes until it is unlocked"
        checked={locked}
        onChange={(v) => changeAnyLayer(id, v ? 'lock layer' : 'unlock layer', (l) => void (l.locked = v))}
      />
    </>
  )
})

export const MARKER_LABELS: Readonly<Record<Marker, string>> = {
  none: 'None',
  clay: 'Clay',
  slate: 'Slate',
  ochre: 'Ochre',
  moss: 'Moss',
  plum: 'Plum',
}

const MarkerRow = memo(function MarkerRow({ id, marker }: Pick<SheetNode, 'id' | 'marker'>) {
  return (
    <SelectRow
      id="marker"
      label="Marker"
      value={marker}
      onChange={(picked) => changeAnyLayer(id, 'marker', (l) => void (l.marker = picked as Marker))}
    >
      {MARKERS.map((own) => (
        <option key={own} value={own}>
          {MARKER_LABELS[own]}
        </option>
      ))}
    </SelectRow>
  )
})

/** What a layer is for: read where the sheet is gone through from the back. */
const NoteRow = memo(function NoteRow({ id, note }: Pick<SheetNode, 'id' | 'note'>) {
  return (
    <div className="note-row">
      <label htmlFor="layer-note">Note</label>
      <textarea
        id="layer-note"
        value={note}
        maxLength={MAX_NOTE}
        rows={note.length > 40 ? 3 : 1}
        placeholder="What it is for"
        onChange={(e) => {
          const { value } = e.target
          changeAnyLayer(id, 'note of layer', (l) => void (l.note = value), 'note')
        }}
      />
    </div>
  )
})
