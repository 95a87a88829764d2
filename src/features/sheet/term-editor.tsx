'use client'

import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { toHex } from '@/core/math/colour'
import type { SurfaceTerm } from '@/core/sheet/terms/registry'
import type { BesideSheets } from '@/data/project-schema'
import { TermEditorStyles } from './term-editor-styles'

interface TermEditorProps {
  readonly project: BesideSheets
  readonly term: SurfaceTerm
  readonly onChange: (term: SurfaceTerm) => void
  readonly onDone: () => void
}

/** One term of a mask, in the inspector: what is ticked shows in the proof at once. */
export function TermEditor({ project, term, onChange, onDone }: TermEditorProps) {
  const [search, setSearch] = useState('')
  const boxRef = useRef<HTMLDivElement>(null)
  useEffect(() => {
    void boxRef.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  const groups = project.models.map((model) => ({
    model,
    items: (term.kind === 'parts'
      ? model.parts.map(({ key, name }) => ({ key, name, colour: null }))
      : model.materials.map(({ key, name, baseColour }) => ({ key, name, colour: toHex(baseColour) }))
    ).filter((item) => item.name.toLowerCase().includes(search.toLowerCase())),
  }))
  const toggle = (key: string, on: boolean) =>
    onChange({ ...term, keys: on ? [...term.keys, key] : term.keys.filter((k) => k !== key) })
  return (
    <div
      ref={boxRef}
      className="term-editor"
      role="group"
      aria-label="Mask term"
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        onDone()
      }}
    >
      <TermEditorStyles />
      <div className="row">
        <label htmlFor="term-by">Choose</label>
        <select
          id="term-by"
          className="plain-select wide"
          value={term.kind}
          onChange={(e) => onChange({ ...term, kind: e.target.value as SurfaceTerm['kind'], keys: [] })}
        >
          <option value="parts">Parts</option>
          <option value="materials">Materials</option>
        </select>
      </div>
      <div className="row">
        <label htmlFor="term-join">They</label>
        <select
          id="term-join"
          className="plain-select wide"
          value={term.join}
          onChange={(e) => onChange({ ...term, join: e.target.value as SurfaceTerm['join'] })}
        >
          <option value="add">are added</option>
          <option value="subtract">are taken away</option>
          <option value="intersect">limit what is above</option>
        </select>
      </div>
      <input
        autoFocus
        className="plain-select"
        placeholder="Search"
        aria-label="Search"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
        style={{ width: '100%', margin: '6px 0 8px' }}
      />
      <div className="pick-list">
        {groups.map(({ model, items }) => (
          <div key={model.id} role="group" aria-label={model.name}>
            {groups.length > 1 && items.length > 0 && <div className="pick-head">{model.name}</div>}
            {items.map((item) => (
              <label key={item.key}>
                <input
                  type="checkbox"
                  checked={term.keys.includes(item.key)}
                  onChange={(e) => toggle(item.key, e.target.checked)}
                />
                {item.colour && <i style={{ background: item.colour }} />}
                {item.name}
              </label>
            ))}
          </div>
        ))}
      </div>
      <div style={{ display: 'flex', alignItems: 'center', gap: 8, paddingTop: 8 }}>
        <span className="quiet">
          {term.keys.length === 0 ? 'Nothing chosen yet' : `${term.keys.length} chosen`}
        </span>
        <span className="spacer" />
        <Button variant="outlined" onClick={onDone} data-testid="term-done">
          Done
        </Button>
      </div>
    </div>
  )
}
