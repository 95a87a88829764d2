'use client'

import { useState } from 'react'
import type { Project } from '@/data/project-schema'

interface PartChecklistProps {
  readonly project: Project
  readonly label: string
  /** Keys of the chosen parts; null is all. */
  readonly keys: readonly string[] | null
  readonly onChange: (keys: string[] | null) => void
}

/** All parts, or chosen ones; the list unfolds under its line. */
export function PartChecklist({ project, label, keys, onChange }: PartChecklistProps) {
  const [open, setOpen] = useState(false)
  const all = project.models.flatMap((m) => m.parts.filter((p) => p.polygons > 0))
  const chosen = new Set(keys ?? all.map((p) => p.key))
  const set = (changed: ReadonlySet<string>) =>
    onChange(
      all.every((p) => changed.has(p.key)) ? null : all.filter((p) => changed.has(p.key)).map((p) => p.key),
    )
  const toggle = (key: string) => {
    const changed = new Set(chosen)
    if (!changed.delete(key)) changed.add(key)
    set(changed)
  }
  return (
    <div>
      <div className="row">
        <span className="label">{label}</span>
        <button
          className="link wide"
          style={{ textAlign: 'right' }}
          aria-expanded={open}
          onClick={() => setOpen((v) => !v)}
        >
          {keys === null ? 'all parts' : `${chosen.size} of ${all.length} parts`}
        </button>
      </div>
      {open && (
        <div className="pick-list">
          <div className="pick-head">
            <button className="link" onClick={() => onChange(null)}>
              All
            </button>
            <button className="link" onClick={() => onChange([])}>
              None
            </button>
          </div>
          {all.map((part) => (
            <label key={part.key}>
              <input type="checkbox" checked={chosen.has(part.key)} onChange={() => toggle(part.key)} />
              {part.name}
            </label>
          ))}
        </div>
      )}
    </div>
  )
}
