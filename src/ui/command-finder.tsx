'use client'

import { useState } from 'react'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { actionGroups, keyLabel, useActions, useActionStore } from '@/state/actions'
import { setBench, useViewStore } from '@/state/view-store'
import { CommandFinderStyles } from './command-finder-styles'

/** Reaches every action by name. */
export function CommandFinder() {
  const open = useViewStore((s) => s.finderOpen)
  const offers = useActionStore((s) => s.offers)
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
  const found = [...actionGroups(offers)]
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
    <Dialog open={open} onClose={close} fullWidth maxWidth="xs">
      <DialogTitle className="unseen-text">Find an action</DialogTitle>
      <CommandFinderStyles />
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
          slotProps={{
            htmlInput: {
              role: 'combobox',
              'aria-label': 'Find an action',
              'aria-expanded': found.length > 0,
              'aria-controls': 'finder-list',
              'aria-activedescendant': found.length > 0 ? `finder-${at}` : undefined,
            },
          }}
        />
        {found.length === 0 && <p className="quiet">Nothing by that name here.</p>}
        <ul
          className="finder-list"
          role="listbox"
          id="finder-list"
          aria-label="Actions"
          hidden={found.length === 0}
        >
          {found.map(({ group, action }, i) => (
            <li
              key={`${group} ${action.id}`}
              id={`finder-${i}`}
              role="option"
              aria-selected={i === at}
              ref={(element) => {
                if (element && i === at) element.scrollIntoView({ block: 'nearest' })
              }}
              onClick={() => run(i)}
            >
              <span>
                {action.label} <span className="quiet">{group}</span>
              </span>
              {action.keys && <kbd>{keyLabel(action.keys)}</kbd>}
            </li>
          ))}
        </ul>
      </DialogContent>
    </Dialog>
  )
}
