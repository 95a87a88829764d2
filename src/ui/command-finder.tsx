'use client'

import { useState } from 'react'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import TextField from '@mui/material/TextField'
import { keyLabel, useActions, useActionStore } from '@/state/actions'
import { setBench, useViewStore } from '@/state/view-store'

/** Reaches every action by name. */
export function CommandFinder() {
  const open = useViewStore((s) => s.finderOpen)
  const groups = useActionStore((s) => s.groups)
  const [query, setQuery] = useState('')
  const [at, setAt] = useState(0)
  useActions('General', [
    { id: 'finder', label: 'Find an action', keys: '$mod+k', run: () => setBench({ finderOpen: true }) },
    {
      id: 'shortcuts',
      label: 'All shortcuts',
      keys: 'Shift+?',
      run: () => setBench({ shortcutsOpen: true }),
    },
  ])
  const words = query.toLowerCase().split(/\s+/).filter(Boolean)
  const found = Object.entries(groups)
    .flatMap(([group, actions]) => actions.map((action) => ({ group, action })))
    .filter(({ group, action }) => words.every((w) => `${action.label} ${group}`.toLowerCase().includes(w)))
  const close = () => {
    setBench({ finderOpen: false })
    setQuery('')
    setAt(0)
  }
  const run = (index: number) => {
    close()
    found[index]?.action.run()
  }
  return (
    <Dialog open={open} onClose={close} fullWidth maxWidth="xs" aria-label="Find an action">
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          placeholder="What do you want to do?"
          value={query}
          onChange={(e) => {
            setQuery(e.target.value)
            setAt(0)
          }}
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown') setAt((i) => Math.min(found.length - 1, i + 1))
            else if (e.key === 'ArrowUp') setAt((i) => Math.max(0, i - 1))
            else if (e.key === 'Enter') run(at)
            else return
            e.preventDefault()
          }}
          slotProps={{ htmlInput: { 'aria-label': 'Find an action' } }}
        />
        <ul className="finder-list" role="listbox">
          {found.map(({ group, action }, i) => (
            <li key={`${group} ${action.id}`} role="option" aria-selected={i === at} onClick={() => run(i)}>
              <span>
                {action.label} <span className="quiet">{group}</span>
              </span>
              {action.keys && <kbd>{keyLabel(action.keys)}</kbd>}
            </li>
          ))}
          {found.length === 0 && <li className="quiet">Nothing by that name here.</li>}
        </ul>
      </DialogContent>
    </Dialog>
  )
}
