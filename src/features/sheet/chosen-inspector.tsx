'use client'

import { BLEND_MODES, blendDefinitions, type BlendMode } from '@/core/sheet/blend-modes'
import { MARKERS, type Marker, type SheetNode } from '@/core/sheet/sheet-schema'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import {
  changeChosen,
  chooseLayer,
  deleteChosen,
  duplicateChosen,
  groupChosen,
  setChosenMode,
  shareMask,
} from './chosen-layers'
import { MARKER_LABELS } from './layer-section'

/** The value that all have; null where they differ. */
const common = <T,>(layers: readonly SheetNode[], of: (layer: SheetNode) => T): T | null => {
  const [first] = layers
  return layers.every((layer) => of(layer) === of(first)) ? of(first) : null
}

interface ChosenInspectorProps {
  readonly layers: readonly SheetNode[]
  /** The layer at work, which leads. */
  readonly lead: SheetNode
}

/** What can be done to several layers at once. */
export function ChosenInspector({ layers, lead }: ChosenInspectorProps) {
  const mode = common(layers, (layer) => layer.mode)
  const marker = common(layers, (layer) => layer.marker)
  const percents = layers.map(({ opacity }) => Math.round(100 * opacity))
  const isSame = percents.every((own) => own === percents[0])
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{layers.length} layers</h2>
        <button className="link" onClick={() => chooseLayer(lead.id)}>
          Only {lead.name}
        </button>
      </div>
      <section className="section">
        <div className="section-head">
          <span>All of them</span>
          <span>
            <button className="link" onClick={groupChosen}>
              Group
            </button>
            <button className="link" onClick={duplicateChosen}>
              Duplicate
            </button>
            <button className="link" onClick={deleteChosen}>
              Delete
            </button>
          </span>
        </div>
        <SelectRow
          id="chosen-blend"
          label="Blend"
          value={mode ?? ''}
          onChange={(picked) => setChosenMode(picked as BlendMode)}
        >
          {mode === null && (
            <option value="" disabled>
              Several
            </option>
          )}
          {BLEND_MODES.map((own) => (
            <option key={own} value={own}>
              {blendDefinitions[own].label}
            </option>
          ))}
        </SelectRow>
        <NumberField
          label={isSame ? 'Opacity' : 'Opacity, mean'}
          value={Math.round(percents.reduce((sum, own) => sum + own, 0) / percents.length)}
          min={0}
          max={100}
          step={1}
          unit="%"
          defaultValue={100}
          onChange={(v) =>
            changeChosen('opacity of layers', (layer) => void (layer.opacity = v / 100), { merge: 'opacity' })
          }
        />
        <SwitchRow
          label="Shown"
          checked={common(layers, ({ visible }) => visible) === true}
          onChange={(v) =>
            changeChosen(v ? 'show layers' : 'hide layers', (layer) => void (layer.visible = v), {
              lockedToo: true,
            })
          }
        />
        <SwitchRow
          label="Locked"
          note="Nothing of them changes until they are unlocked"
          checked={common(layers, ({ locked }) => locked) === true}
          onChange={(v) =>
            changeChosen(v ? 'lock layers' : 'unlock layers', (layer) => void (layer.locked = v), {
              lockedToo: true,
            })
          }
        />
        <SelectRow
          id="chosen-marker"
          label="Marker"
          value={marker ?? ''}
          onChange={(picked) =>
            changeChosen('marker of layers', (layer) => void (layer.marker = picked as Marker))
          }
        >
          {marker === null && (
            <option value="" disabled>
              Several
            </option>
          )}
          {MARKERS.map((own) => (
            <option key={own} value={own}>
              {MARKER_LABELS[own]}
            </option>
          ))}
        </SelectRow>
      </section>
      <section className="section">
        <div className="section-head">
          <span>Masks</span>
        </div>
        <button className="link" onClick={shareMask}>
          {lead.mask ? `Give all the mask of ${lead.name}` : `Take all masks away, as ${lead.name} has none`}
        </button>
      </section>
      <section className="section">
        <div className="section-head">
          <span>Chosen</span>
          <span className="quiet">back to front</span>
        </div>
        <ul className="chosen-list">
          {layers.map(({ id, name }) => (
            <li key={id}>
              <span>{name}</span>
              <button
                className="link"
                aria-label={`Not it: ${name}`}
                onClick={() => chooseLayer(id, 'toggle')}
              >
                Not it
              </button>
            </li>
          ))}
        </ul>
      </section>
    </>
  )
}
