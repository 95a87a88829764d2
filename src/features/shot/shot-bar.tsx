'use client'

import { useState } from 'react'
import type { Project } from '@/data/project-schema'
import { activeShot } from '@/data/active-shot'
import { addShotFromHere, changeShot, goToShot, removeShot } from '@/state/shot-actions'
import type { Preview } from '@/state/view-store'
import { PREVIEWS, setBench, useViewStore } from '@/state/view-store'
import { onRovingKey } from '@/ui/roving-keys'
import { ShotBarStyles } from './shot-bar-styles'

export const previewLabels: Readonly<Record<Preview, string>> = {
  model: 'Materials',
  clay: 'Clay',
  occlusion: 'Occlusion',
  contour: 'Contour',
  id: 'ID',
}

/** The shots of the project, and how the view shows the one at work. */
export function ShotBar({ project }: { project: Project }) {
  const shot = activeShot(project)
  const preview = useViewStore((s) => s.preview)
  const [renaming, setRenaming] = useState(false)
  const rename = (name: string) => {
    setRenaming(false)
    const trimmed = name.trim()
    if (trimmed && trimmed !== shot.name) changeShot('rename shot', (s) => void (s.name = trimmed))
  }
  return (
    <div className="view-bar">
      <ShotBarStyles />
      <div className="tabs" role="group" aria-label="Shots">
        {project.shots.map((s) =>
          renaming && s.id === shot.id ? (
            <input
              key={s.id}
              className="rename"
              autoFocus
              aria-label="Shot name"
              defaultValue={s.name}
              onFocus={(e) => e.target.select()}
              onBlur={(e) => rename(e.target.value)}
              onKeyDown={(e) => {
                if (e.key === 'Enter') rename(e.currentTarget.value)
                if (e.key === 'Escape') setRenaming(false)
              }}
            />
          ) : (
            <button
              key={s.id}
              className="tab"
              aria-pressed={s.id === shot.id}
              title={s.id === shot.id ? 'Double-click or F2 to rename' : undefined}
              onClick={() => goToShot(s.id)}
              onDoubleClick={() => setRenaming(true)}
              onKeyDown={(e) => {
                if (e.key === 'F2') setRenaming(true)
                if (e.key === 'Delete') removeShot()
              }}
            >
              {s.name}
              {s.locked && <span className="quiet"> locked</span>}
            </button>
          ),
        )}
        <button className="link" onClick={() => addShotFromHere()} data-testid="add-shot">
          + New shot from here
        </button>
        {project.shots.length > 1 && (
          <button className="link" onClick={removeShot}>
            Remove
          </button>
        )}
      </div>
      <span className="spacer" />
      <div className="segments" role="radiogroup" aria-label="The view shows" onKeyDown={onRovingKey}>
        {PREVIEWS.map((kind) => (
          <button
            key={kind}
            role="radio"
            aria-checked={preview === kind}
            tabIndex={preview === kind ? 0 : -1}
            onClick={() => setBench({ preview: kind })}
            data-testid={`preview-${kind}`}
          >
            {previewLabels[kind]}
          </button>
        ))}
      </div>
    </div>
  )
}
