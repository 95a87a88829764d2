'use client'

import { Fragment, useId } from 'react'
import Switch from '@mui/material/Switch'
import { assertNever } from '@/core/errors'
import type { IdleParams } from '@/core/passes/idle-params'
import type { NamedControl, ParamSchema, ParamValue, ParamValues } from '@/core/params'
import { paramControls } from '@/core/params'
import { CurveField } from './fields/curve-field'
import { PaletteField } from './fields/palette-field'
import { PathField, PointField } from './fields/place-fields'
import { useLengthUnit } from './fields/length-unit'
import { LayerField, MapField, TableField } from './fields/source-fields'
import { StopsField } from './fields/stops-field'
import { NumberField } from './number-field'
import { ToneRange } from './tone-range'

const hashOf = (value: unknown): string => JSON.stringify(value)

interface ParamsInspectorProps {
  readonly schema: ParamSchema
  readonly values: ParamValues
  /** D in world units, to say what a percentage of it comes to. */
  readonly figureDiagonal?: number | null
  /** Parameters that change nothing now, with what would wake them: they are quiet and say so. */
  readonly idle?: IdleParams
  /** Those that are drawn elsewhere. */
  readonly without?: ReadonlySet<string>
  readonly onChange: (name: string, value: ParamValue, label: string) => void
}

/** Draws the controls of any pass, look or effect from its schema's own metadata; groups of them fold. */
export function ParamsInspector({
  schema,
  values,
  figureDiagonal,
  idle = {},
  without,
  onChange,
}: ParamsInspectorProps) {
  const controls = paramControls(schema).filter(({ name }) => !without?.has(name))
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
      value={values[control.name] ?? (control.default as ParamValue)}
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
    const changed = own.filter((c) => hashOf(values[c.name] ?? c.default) !== hashOf(c.default)).length
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

const PLAIN = { perPx: 1, step: 0 }

interface ParamRowProps {
  readonly control: NamedControl
  readonly value: ParamValue
  readonly note?: string
  /** Why it changes nothing now. */
  readonly idle?: string
  readonly onChange: (value: ParamValue) => void
}

function ParamRow({ control, value, note, idle, onChange }: ParamRowProps) {
  const id = useId()
  const lengths = useLengthUnit()
  const disabled = idle !== undefined
  const quiet = disabled ? { 'data-idle': true, title: idle } : {}
  switch (control.control) {
    case 'number': {
      // Lengths of the sheet are shown in the unit of its paper.
      const { unit, perPx, step } = control.unit === 'px' ? lengths : { ...PLAIN, unit: control.unit }
      return (
        <NumberField
          label={control.label}
          value={Number(value) * perPx}
          min={control.min * perPx}
          max={control.max * perPx}
          step={step > 0 ? step : control.step}
          unit={unit}
          defaultValue={control.default * perPx}
          logarithmic={control.logarithmic}
          note={idle ?? note}
          disabled={disabled}
          onChange={(next) => onChange(next / perPx)}
        />
      )
    }
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
    case 'curve':
      return (
        <CurveField
          label={control.label}
          value={value as [number, number][]}
          defaultValue={control.default}
          onChange={onChange}
        />
      )
    case 'stops':
      return <StopsField label={control.label} value={value as [number, string][]} onChange={onChange} />
    case 'palette':
      return <PaletteField label={control.label} value={value as string[]} onChange={onChange} />
    case 'range':
      return (
        <>
          <div className="row" style={{ gridTemplateColumns: '1fr', justifyItems: 'start' }}>
            <span className="label" onDoubleClick={() => onChange([...control.default])}>
              {control.label}
            </span>
          </div>
          <ToneRange
            label={control.label}
            value={value as [number, number, number, number]}
            min={control.min}
            max={control.max}
            onChange={(range) => onChange([...range])}
          />
        </>
      )
    case 'point':
      return (
        <PointField
          label={control.label}
          value={value as [number, number]}
          defaultValue={control.default}
          onChange={onChange}
        />
      )
    case 'path':
      return <PathField label={control.label} value={value as [number, number][]} onChange={onChange} />
    case 'map':
      return <MapField label={control.label} pass={control.pass} value={String(value)} onChange={onChange} />
    case 'table':
      return <TableField label={control.label} value={String(value)} onChange={onChange} />
    case 'layer':
      return (
        <LayerField label={control.label} none={control.none} value={String(value)} onChange={onChange} />
      )
    default:
      return assertNever(control)
  }
}
