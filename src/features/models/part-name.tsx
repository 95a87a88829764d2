'use client'

import { changeModel, renameGroup, renamePart } from '@/state/model-actions'
import type { TreeRow } from './tree-rows'

const rename = (row: TreeRow, name: string): void => {
  if (row.type === 'part') renamePart(row.part.key, name)
  else if (row.type === 'group') renameGroup(row.group.id, name)
  else if (name.trim()) changeModel(row.model.id, 'rename model', (m) => void (m.name = name.trim()))
}

interface PartNameProps {
  readonly row: TreeRow
  readonly name: string
  /** Whether what is under it shows; null where there is nothing. */
  readonly open: boolean | null
  readonly isRenaming: boolean
  readonly onFold: () => void
  readonly onRenamed: () => void
}

/** The name of a line of the tree, and what folds it; a field while it is renamed. */
export function PartName({ row, name, open, isRenaming, onFold, onRenamed }: PartNameProps) {
  return (
    <span className="named" style={{ paddingLeft: row.depth * 14 }}>
      {open !== null && (
        <button
          className="fold"
          tabIndex={-1}
          aria-label={open ? `Fold ${name}` : `Unfold ${name}`}
          onClick={(e) => {
            e.stopPropagation()
            onFold()
          }}
        >
          {open ? '▾' : '▸'}
        </button>
      )}
      {isRenaming ? (
        <input
          className="rename"
          autoFocus
          aria-label="Name"
          defaultValue={name}
          onFocus={(e) => e.target.select()}
          onClick={(e) => e.stopPropagation()}
          onDoubleClick={(e) => e.stopPropagation()}
          onBlur={(e) => {
            if (e.target.value !== name) rename(row, e.target.value)
            onRenamed()
          }}
          onKeyDown={(e) => {
            if (e.key === 'Escape') e.currentTarget.value = name
            if (e.key !== 'Enter' && e.key !== 'Escape') return
            const line = e.currentTarget.closest<HTMLElement>('[role=treeitem]')
            e.currentTarget.blur()
            line?.focus()
          }}
        />
      ) : (
        <span className="name" title={`${name}. Double-click to rename`}>
          {name}
        </span>
      )}
    </span>
  )
}
