'use client'

import { useId, useRef, useState } from 'react'
import { ownTableLabels } from '@/core/effects/own-tables'
import { SelectRow } from '../select-row'
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
      <SelectRow id={id} label={label} value={value} onChange={(picked) => onChange(picked)}>
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
      </SelectRow>
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
    <SelectRow id={id} label={label} value={value} onChange={(picked) => onChange(picked)}>
      <option value="">{none}</option>
      {layers.map((layer) => (
        <option key={layer.id} value={layer.id}>
          {layer.name}
        </option>
      ))}
      {value !== '' && !layers.some((layer) => layer.id === value) && <option value={value}>Gone</option>}
    </SelectRow>
  )
}

/** A grading table: one of our own, or a file. */
export function TableField({ label, value, onChange }: SourceFieldProps) {
  const id = useId()
  const { pictures, addTable } = useParamSources()
  const inputRef = useRef<HTMLInputElement>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const tables = pictures.filter(({ name }) => /\.cube$/i.test(name))
  const isKnown = value in ownTableLabels || tables.some((table) => table.id === value)
  const take = async (file: File | undefined) => {
    if (!file) return
    try {
      setProblem(null)
      onChange(await addTable(file))
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <>
      <SelectRow id={id} label={label} value={value} onChange={(picked) => onChange(picked)}>
        <optgroup label="Our own">
          {Object.entries(ownTableLabels).map(([name, own]) => (
            <option key={name} value={name}>
              {own}
            </option>
          ))}
        </optgroup>
        {tables.length > 0 && (
          <optgroup label="From files">
            {tables.map((table) => (
              <option key={table.id} value={table.id}>
                {table.name}
              </option>
            ))}
          </optgroup>
        )}
        {!isKnown && <option value={value}>Gone</option>}
      </SelectRow>
      <input
        ref={inputRef}
        type="file"
        accept=".cube"
        hidden
        data-testid="table-input"
        onChange={(e) => {
          void take(e.target.files?.[0])
          e.target.value = ''
        }}
      />
      <button className="link" onClick={() => inputRef.current?.click()}>
        Read a .cube file
      </button>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
    </>
  )
}
