'use client'

import type { RefObject } from 'react'
import Button from '@mui/material/Button'
import { useImportStore } from '@/state/import-models'
import { ImportProgress } from './import-progress'

interface PartsHeadProps {
  readonly searchRef: RefObject<HTMLInputElement | null>
  readonly search: string
  readonly onSearch: (search: string) => void
  readonly onFiles: () => void
  readonly onFolder: () => void
  readonly onPin: () => void
}

/** Over the tree: search, and what brings more in. */
export function PartsHead({ searchRef, search, onSearch, onFiles, onFolder, onPin }: PartsHeadProps) {
  const isBusy = useImportStore((s) => s.progress !== null)
  return (
    <div className="parts-head">
      <input
        ref={searchRef}
        className="plain-select"
        placeholder="Search parts and materials"
        aria-label="Search parts and materials"
        value={search}
        onChange={(e) => onSearch(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') onSearch('')
          if (e.key === 'ArrowDown') {
            e.preventDefault()
            const row = e.currentTarget
              .closest('.step')
              ?.querySelector<HTMLElement>('[role=treeitem][tabindex="0"]')
            row?.focus()
          }
        }}
        style={{ width: 220 }}
      />
      <span className="spacer" />
      <ImportProgress />
      <Button variant="outlined" onClick={onPin}>
        Pin a picture
      </Button>
      <Button variant="outlined" onClick={onFolder} disabled={isBusy}>
        Add a folder
      </Button>
      <Button variant="contained" onClick={onFiles} disabled={isBusy}>
        Add models
      </Button>
    </div>
  )
}
