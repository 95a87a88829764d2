'use client'

import type { Layer } from '@/core/sheet/sheet-schema'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'
import { changeLayer } from './layer-actions'

/** Colour and gradient of a fill layer. */
export function FillSection({
  layer,
  source,
}: {
  layer: Layer
  source: Extract<Layer['source'], { type: 'fill' }>
}) {
  const set = (label: string, patch: Partial<typeof source>, merge: string) =>
    changeLayer(layer.id, label, (l) => void (l.source = { ...source, ...patch }), merge)
  return (
    <section className="section">
      <div className="section-head">Fill</div>
      <div className="row">
        <label htmlFor="fill-colour">Colour</label>
        <span className="wide" style={{ textAlign: 'right' }}>
          <input
            id="fill-colour"
            type="color"
            className="swatch"
            value={source.colour.slice(0, 7)}
            onChange={(e) => set('fill colour', { colour: e.target.value }, 'colour')}
          />
        </span>
      </div>
      <SwitchRow
        label="Gradient"
        checked={source.to !== null}
        onChange={(v) => set('gradient', { to: v ? '#8a6f5a' : null }, 'gradient')}
      />
      {source.to !== null && (
        <>
          <div className="row">
            <label htmlFor="fill-to">To</label>
            <span className="wide" style={{ textAlign: 'right' }}>
              <input
                id="fill-to"
                type="color"
                className="swatch"
                value={source.to.slice(0, 7)}
                onChange={(e) => set('fill colour', { to: e.target.value }, 'to')}
              />
            </span>
          </div>
          <NumberField
            label="Angle"
            value={source.angleDeg}
            min={-180}
            max={180}
            step={1}
            unit="°"
            defaultValue={90}
            onChange={(v) => set('gradient angle', { angleDeg: v }, 'angle')}
          />
        </>
      )}
    </section>
  )
}
