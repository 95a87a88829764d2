'use client'

import { Fragment, useId } from 'react'
import Switch from '@mui/material/Switch'
import { assertNever } from '@/core/errors'
import type { IdleParams } from '@/core/passes/idle-params'
import type { NamedControl, ParamSchema, ParamValues } from '@/core/params'
import { paramControls } from '@/core/params'
import { NumberField } from './number-field'

interface ParamsInspectorProps {
  readonly schema: ParamSchema
  readonly values: ParamValues
  /** D in world units, to say what a percentage of it comes to. */
  readonly figureDiagonal?: number | null
  /** Parameters that change nothing now, with what would wake them: they are quiet and say so. */
  readonly idle?: IdleParams
  readonly onChange: (name: string, value: number | string | boolean, label: string) => void
}

/** Draws the controls of any pass, look or effect from its schema's own metadata; groups of them fold. */
export function ParamsInspector({
  schema,
  values,
  figureDiagonal,
  idle = {},
  onChange,
}: ParamsInspectorProps) {
  const controls = paramControls(schema)
  /** Neighbours that sleep for the same reason say it once, under the last of them. */
  const rows = (own: readonly NamedControl[]) =>
    own.map((control, i) => {
      const why = idle[control.name]
      const next = own[i + 1] as NamedControl | undefined
      const isLast = why !== undefined && (next === undefined || idle[next.name] !== why)
      return (
        <Fragment key={control.name}>
          {row(control, why)}
          {isLast && <p className="idle-note">{why}.</p>}
        </Fragment>
      )
    })
  const row = (control: NamedControl, why: string | undefined) => (
    <ParamRow
      control={control}
      idle={why}
      value={values[control.name] ?? control.default}
      note={
        control.control === 'number' && control.unit === '%D' && figureDiagonal
          ? `${((((values[control.name] as number) ?? control.default) * figureDiagonal) / 100).toPrecision(3)} world units; D is the figure’s diagonal`
          : undefined
      }
      onChange={(value) => onChange(control.name, value, control.label)}
    />
  )
  const groups = [...new Set(controls.map((c) => c.group))]
  return groups.map((group) => {
    const own = controls.filter((c) => c.group === group)
    if (group === null) return <Fragment key="">{rows(own)}</Fragment>
    const changed = own.filter((c) => (values[c.name] ?? c.default) !== c.default).length
    return (
      <details key={group} className="param-group">
        <summary>
          <span>{group}</span>
          {changed > 0 && <span className="quiet">{changed} set</span>}
        </summary>
        {rows(own)}
      </details>
    )
  })
}

interface ParamRowProps {
  readonly control: NamedControl
  readonly value: number | string | boolean
  readonly note?: string
  /** Why it changes nothing now. */
  readonly idle?: string
  readonly onChange: (value: number | string | boolean) => void
}

function ParamRow({ control, value, note, idle, onChange }: ParamRowProps) {
  const id = useId()
  const disabled = idle !== undefined
  const quiet = disabled ? { 'data-idle': true, title: idle } : {}
  switch (control.control) {
    case 'number':
      return (
        <NumberField
          label={control.label}
          value={Number(value)}
          min={control.min}
          max={control.max}
          step={control.step}
          unit={control.unit}
          defaultValue={control.default}
          logarithmic={control.logarithmic}
          note={idle ?? note}
          disabled={disabled}
          onChange={onChange}
        />
      )
    case 'colour':
      return (
        <div className="row" {...quiet}>
          <label htmlFor={id} onDoubleClick={() => onChange(control.default)}>
            {control.label}
          </label>
          <span
            className="wide"
            style={{ display: 'flex', justifyContent: 'flex-end', gap: 8, alignItems: 'center' }}
          >
            <span className="quiet">{String(value)}</span>
            <input
              id={id}
              type="color"
              className="swatch"
              disabled={disabled}
              value={String(value)}
              onChange={(e) => onChange(e.target.value)}
            />
          </span>
        </div>
      )
    case 'toggle':
      return (
        <div className="row" {...quiet}>
          <label htmlFor={id}>{control.label}</label>
          <span className="wide" style={{ textAlign: 'right' }}>
            <Switch
              size="small"
              color="secondary"
              checked={Boolean(value)}
              disabled={disabled}
              onChange={(e) => onChange(e.target.checked)}
              slotProps={{ input: { id } }}
            />
          </span>
        </div>
      )
    case 'choice':
      return (
        <div className="row" {...quiet}>
          <label htmlFor={id}>{control.label}</label>
          <select
            id={id}
            className="plain-select wide"
            disabled={disabled}
            value={String(value)}
            onChange={(e) => onChange(e.target.value)}
          >
            {control.options.map((option) => (
              <option key={option.value} value={option.value}>
                {option.label}
              </option>
            ))}
          </select>
        </div>
      )
    default:
      return assertNever(control)
  }
}
