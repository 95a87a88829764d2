'use client'

import { activeSheet, activeShot } from '@/data/active-shot'
import { useState } from 'react'
import Switch from '@mui/material/Switch'
import { EFFECT_KINDS, effectKind, type EffectKindName } from '@/core/effects/registry'
import { passKind } from '@/core/passes/registry'
import { paramDefaults, type ParamValues } from '@/core/params'
import { BLEND_MODES, blendDefinitions, type BlendMode } from '@/core/sheet/blend-modes'
import type { Layer } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import type { Project } from '@/data/project-schema'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { changeSheet, setSheetSize } from '@/state/sheet-actions'
import { useSourceProblems } from '@/state/source-problems'
import { passStatus } from '@/state/pass-status'
import { renderAgain } from '@/state/render-queue'
import { NumberField } from '@/ui/number-field'
import { ParamsInspector } from '@/ui/params-inspector'
import { SwitchRow } from '@/ui/switch-row'
import { changeLayer, deleteLayer, duplicateLayer, sourceIdOf } from './layer-actions'
import { HandSection } from './hand-section'
import { LookSection } from './look-section'
import { SheetDiffers } from './sheet-differs'
import { LightingSection } from './lighting-section'
import { MaskSection } from './mask-section'

interface LayerInspectorProps {
  readonly project: Project
  readonly layer: Layer
  readonly picking: 'part' | 'material' | null
  readonly setPicking: (by: 'part' | 'material' | null) => void
}

const sourceWords = { pass: 'pass layer', fill: 'fill layer', picture: 'picture layer' } as const

/** Everything of the chosen layer. */
export function LayerInspector({ project, layer, picking, setPicking }: LayerInspectorProps) {
  const { source } = layer
  const pass = source.type === 'pass' ? project.passes.find((p) => p.id === source.passId) : undefined
  const status = pass ? passStatus(project, pass) : null
  const broken = useSourceProblems((s) => s[sourceIdOf(source)])
  const [renaming, setRenaming] = useState(false)
  const rename = (name: string) => {
    setRenaming(false)
    if (name.trim()) changeLayer(layer.id, 'rename layer', (l) => void (l.name = name.trim()))
  }
  return (
    <>
      <div className="inspector-head">
        {renaming ? (
          <input
            className="plain-select"
            autoFocus
            aria-label="Layer name"
            defaultValue={layer.name}
            style={{ fontSize: 17, width: '100%' }}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') rename(e.currentTarget.value)
              if (e.key === 'Escape') setRenaming(false)
            }}
          />
        ) : (
          <h2 className="display" onDoubleClick={() => setRenaming(true)} title="Double-click to rename">
            {layer.name}
          </h2>
        )}
        <span className="quiet" style={{ whiteSpace: 'nowrap' }}>
          {sourceWords[source.type]}
        </span>
      </div>
      {status && status.state !== 'ready' && pass && (
        <div className="problem" style={{ marginBottom: 12 }}>
          {status.state === 'empty'
            ? 'Its pass is not rendered.'
            : `Out of register: ${status.reasons.join('; ')}.`}{' '}
          <button className="link" onClick={() => renderAgain([pass.id])}>
            Render again
          </button>
        </div>
      )}
      {broken && (
        <div className="problem" role="status" style={{ marginBottom: 12 }} data-testid="source-broken">
          It shows nothing: {broken}.
        </div>
      )}
      <SheetDiffers project={project} />
      <section className="section">
        <div className="section-head">
          <span>Layer</span>
          <span>
            <button className="link" onClick={() => setRenaming(true)}>
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
          onChange={(v) =>
            changeLayer(layer.id, v ? 'show layer' : 'hide layer', (l) => void (l.visible = v))
          }
        />
        <SwitchRow
          label="Confine"
          note="Show only where the layer beneath has pixels"
          checked={layer.confine}
          onChange={(v) => changeLayer(layer.id, 'confine', (l) => void (l.confine = v))}
        />
      </section>
      {source.type === 'pass' && pass && <LookSection layer={layer} pass={pass} look={source.look} />}
      {source.type === 'pass' && pass && passKind(pass.kind).lines && (
        <HandSection layer={layer} edits={source.byHand ?? []} />
      )}
      {source.type === 'fill' && <FillSection layer={layer} source={source} />}
      <LightingSection project={project} layer={layer} />
      <MaskSection key={layer.id} project={project} layer={layer} picking={picking} setPicking={setPicking} />
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
        {layer.effects.map((effect, i) => {
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
            <div key={effect.id} style={{ paddingBottom: 8 }}>
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
                values={effect.params as ParamValues}
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
        })}
      </section>
    </>
  )
}

function FillSection({
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

/** The sheet itself, when no layer is chosen. */
export function SheetInspector({ project }: { project: Project }) {
  const sheet = activeSheet(project)
  const { frame } = activeShot(project)
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{sheet.name}</h2>
        <span className="quiet">sheet</span>
      </div>
      <SheetDiffers project={project} />
      <section className="section">
        {(['width', 'height'] as const).map((side) => (
          <NumberField
            key={side}
            label={side === 'width' ? 'Width' : 'Height'}
            value={sheet[side]}
            min={64}
            max={MAX_PICTURE_SIDE}
            step={1}
            unit="px"
            defaultValue={frame[side]}
            logarithmic
            onChange={(v) => setSheetSize({ width: sheet.width, height: sheet.height, [side]: v })}
          />
        ))}
        <div className="row">
          <label htmlFor="space">Blend in</label>
          <select
            id="space"
            className="plain-select wide"
            value={sheet.blendSpace}
            onChange={(e) =>
              changeSheet('blend space', (s) => void (s.blendSpace = e.target.value as 'display' | 'linear'))
            }
          >
            <option value="display">Display values</option>
            <option value="linear">Linear light</option>
          </select>
        </div>
        <SwitchRow
          label="Background"
          checked={sheet.background !== null}
          onChange={(v) => changeSheet('background', (s) => void (s.background = v ? '#ffffff' : null))}
        />
        {sheet.background !== null && (
          <div className="row">
            <label htmlFor="background">Colour</label>
            <span className="wide" style={{ textAlign: 'right' }}>
              <input
                id="background"
                type="color"
                className="swatch"
                value={sheet.background.slice(0, 7)}
                onChange={(e) =>
                  changeSheet('background', (s) => void (s.background = e.target.value), 'background')
                }
              />
            </span>
          </div>
        )}
      </section>
      <section className="section quiet">
        Choose a card in the rack to change its layer. Click the proof to read which part is there.
      </section>
    </>
  )
}
