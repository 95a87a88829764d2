'use client'

import { useState } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { styleDifferences } from '@/data/type-styles'
import { applyStyle, changeStyle, dropStyle, keepStyle } from './poster-layers'

interface TypeStyleRowProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly content: ContentOf<'type'>
}

/** The style that a block is set in: chosen, kept under a name, changed for all blocks that have it. */
export function TypeStyleRow({ project, layer, content }: TypeStyleRowProps) {
  const [isNaming, setNaming] = useState(false)
  const { typeStyles } = project
  const own = typeStyles.find(({ id }) => id === content.styleId)
  const differs = styleDifferences(project, content, activeSheet(project)) ?? []
  const keep = (name: string) => {
    setNaming(false)
    if (name.trim()) keepStyle(layer, name.trim().slice(0, 80))
  }
  return (
    <>
      <div className="row">
        <label htmlFor="type-style">Style</label>
        {isNaming ? (
          <input
            className="plain-select wide"
            autoFocus
            aria-label="Name of the style"
            placeholder="Name"
            onBlur={(e) => keep(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') e.currentTarget.blur()
              if (e.key === 'Escape') setNaming(false)
            }}
          />
        ) : (
          <select
            id="type-style"
            className="plain-select wide"
            value={own?.id ?? ''}
            onChange={(e) => {
              if (e.target.value === 'keep') setNaming(true)
              const next = typeStyles.find(({ id }) => id === e.target.value)
              if (next) applyStyle(layer.id, next)
            }}
          >
            <option value="">None</option>
            {typeStyles.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
            <option value="keep">Keep this as a style …</option>
          </select>
        )}
      </div>
      {own && (
        <p className="quiet" style={{ margin: '2px 0 0' }} data-testid="style-differs">
          {differs.length > 0 &&
            `Differs in ${differs.slice(0, 3).join(', ').toLowerCase()}${differs.length > 3 ? ' …' : ''}. `}
          {differs.length > 0 && (
            <>
              <button className="link" onClick={() => applyStyle(layer.id, own)}>
                Back to it
              </button>
              <button className="link" onClick={() => changeStyle(layer)}>
                Change it for all
              </button>
            </>
          )}
          <button className="link" onClick={() => dropStyle(own.id)}>
            Remove the style
          </button>
        </p>
      )}
    </>
  )
}
