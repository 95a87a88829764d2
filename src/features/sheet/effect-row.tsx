'use client'

import { useState } from 'react'
import Switch from '@mui/material/Switch'
import { findEffect } from '@/core/effects/registry'
import { paramControls, type ParamValues } from '@/core/params'
import { effectProblem } from '@/core/sheet/evaluate/effect-works'
import type { SheetEffect, SheetNode } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { NumberField } from '@/ui/number-field'
import { ParamsInspector } from '@/ui/params-inspector'
import { EffectTools } from './effect-tools'
import { changeLayer } from './layer-actions'
import { MaskTerms } from './mask-terms'
import { setPaint } from './paint/paint-store'

/** The first number of an effect, with its unit: what tells one step from another at a glance. */
function tellingNumber(effect: SheetEffect): string {
  const kind = findEffect(effect.kind)
  if (!kind) return ''
  const control = paramControls(kind.schema).find((own) => own.control === 'number')
  if (!control || control.control !== 'number') return ''
  const value = effect.params[control.name] ?? control.default
  return typeof value === 'number' ? `${Number(value.toFixed(2))} ${control.unit}`.trim() : ''
}

interface EffectRowProps {
  readonly layerId: string
  readonly effect: SheetNode['effects'][number]
  /** Its place among the layer's effects. */
  readonly index: number
  readonly count: number
  readonly isOpen: boolean
  readonly onOpen: () => void
}

/** One step: its name and its number; opened, everything of it. */
export function EffectRow({ layerId, effect, index, count, isOpen, onOpen }: EffectRowProps) {
  const kind = findEffect(effect.kind)
  const label = kind?.label ?? effect.kind
  const problem = effectProblem(effect)
  const [isMasking, setMasking] = useState(effect.mask !== null)
  const patch = (what: string, apply: (e: SheetNode['effects'][number]) => void, merge?: string) =>
    changeLayer(
      layerId,
      what,
      (l) => {
        const found = l.effects.find((e) => e.id === effect.id)
        if (found) apply(found)
      },
      merge,
    )
  const move = (by: number) =>
    changeLayer(layerId, `move ${label}`, (l) => {
      const [moved] = l.effects.splice(index, 1)
      l.effects.splice(index + by, 0, moved)
    })
  return (
    <div className="effect" data-off={!effect.enabled} data-testid={`effect-${effect.kind}`}>
      <div className="effect-head">
        <button className="effect-name" aria-expanded={isOpen} onClick={onOpen} title={kind?.summary}>
          <b>{label}</b>
          <span className="tells">
            {tellingNumber(effect)}
            {effect.opacity < 1 && ` · ${Math.round(100 * effect.opacity)} %`}
            {effect.mask && ' · masked'}
          </span>
        </button>
        <Switch
          size="small"
          color="secondary"
          checked={effect.enabled}
          onChange={(e) => patch('effect on or off', (x) => void (x.enabled = e.target.checked))}
          slotProps={{ input: { 'aria-label': `${label} on` } }}
        />
      </div>
      {problem !== null && (
        <p className="problem" role="status" data-testid="effect-problem">
          It does nothing: {problem}.
        </p>
      )}
      {isOpen && (
        <div className="effect-body">
          <div className="effect-tools">
            <button className="link" disabled={index === 0} onClick={() => move(-1)}>
              Earlier
            </button>
            <button className="link" disabled={index === count - 1} onClick={() => move(1)}>
              Later
            </button>
            <button
              className="link"
              onClick={() =>
                changeLayer(layerId, `copy ${label}`, (l) => {
                  l.effects.splice(index + 1, 0, { ...structuredClone(effect), id: newId() })
                })
              }
            >
              Copy
            </button>
            {kind && (
              <button
                className="link"
                onClick={() => patch(`reset ${label}`, (x) => void (x.params = { ...kind.defaults }))}
              >
                Reset
              </button>
            )}
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
          <EffectTools
            layerId={layerId}
            effect={effect}
            onChange={(what, params) => patch(what, (x) => void (x.params = { ...x.params, ...params }))}
          />
          {kind && (
            <ParamsInspector
              schema={kind.schema}
              values={effect.params}
              onChange={(name, value, what) =>
                patch(
                  `${label} ${what.toLowerCase()}`,
                  (x) => void (x.params = { ...x.params, [name]: value } as ParamValues),
                  `${effect.id} ${name}`,
                )
              }
            />
          )}
          <NumberField
            label="Opacity"
            value={Math.round(100 * effect.opacity)}
            min={0}
            max={100}
            step={1}
            unit="%"
            defaultValue={100}
            onChange={(v) =>
              patch(`${label} opacity`, (x) => void (x.opacity = v / 100), `${effect.id} opacity`)
            }
          />
          {isMasking || effect.mask ? (
            <MaskTerms
              label={`Mask of ${label}`}
              mask={effect.mask}
              onChange={(what, apply, merge) =>
                patch(what, (x) => void (x.mask = apply(x.mask)), merge && `${effect.id} ${merge}`)
              }
            />
          ) : (
            <button className="link" onClick={() => setMasking(true)}>
              Work on a part of the picture only
            </button>
          )}
          <button
            className="link"
            onClick={() => setPaint({ tool: 'reveal', tip: 'softRound', onEffect: effect.id })}
          >
            Paint where it works
          </button>
        </div>
      )}
    </div>
  )
}
