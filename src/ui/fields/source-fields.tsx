'use client'

import { useId } from 'react'
import { useParamSources } from './param-sources'

interface SourceFieldProps {
  readonly label: string
  readonly value: string
  readonly onChange: (id: string) => void
}

/** A pass of the shot that something is made from, or a picture in its place. */
export function MapField({ label, pass, value, onChange }: SourceFieldProps & { readonly pass: string }) {
  const id = useId()
  const { passes, pictures } = useParamSources()
  const own = passes(pass)
  const known = value === '' || [...own, ...pictures].some((source) => source.id === value)
  return (
    <>
      <div className="row">
        <label htmlFor={id}>{label}</label>
        <select
          id={id}
          className="plain-select wide"
          value={value}
          onChange={(e) => onChange(e.target.value)}
        >
          <option value="">The shot’s {pass} pass</option>
          {own.length > 1 &&
            own.map((source) => (
              <option key={source.id} value={source.id}>
                {source.name}
              </option>
            ))}
          {pictures.map((source) => (
            <option key={source.id} value={source.id}>
              Picture: {source.name}
            </option>
          ))}
          {!known && <option value={value}>Gone</option>}
        </select>
      </div>
      {value === '' && own.length === 0 && (
        <p className="idle-note" role="status">
          The shot has no rendered {pass} pass yet: render one in Passes.
        </p>
      )}
    </>
  )
}

/** Another layer of the sheet. */
export function LayerField({ label, none, value, onChange }: SourceFieldProps & { readonly none: string }) {
  const id = useId()
  const { layers } = useParamSources()
  return (
    <div className="row">
      <label htmlFor={id}>{label}</label>
      <select id={id} className="plain-select wide" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">{none}</option>
        {layers.map((layer) => (
          <option key={layer.id} value={layer.id}>
            {layer.name}
          </option>
        ))}
        {value !== '' && !layers.some((layer) => layer.id === value) && <option value={value}>Gone</option>}
      </select>
    </div>
  )
}
