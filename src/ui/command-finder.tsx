'use client'

import { useRef, useState } from 'react'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { actionGroups, keyLabel, useActions, useActionStore } from '@/state/actions'
import { setBench, useViewStore } from '@/state/view-store'
import { CommandFinderStyles } from './command-finder-styles'
import { goToControl, seenControls, type SeenControl } from './seen-controls'

/** One thing that is found: an action, or what is pressed or filled in on the screen. */
interface Found {
  readonly key: string
  readonly label: string
  readonly where: string
  readonly keys?: string
  /** What it does at once; what stands on the screen is gone to when the finder is gone. */
  readonly does: (() => void) | SeenControl
}

/** Reaches every action by name, and all that stands on the screen. */
export function CommandFinder() {
  const open = useViewStore((s) => s.finderOpen)
  const offers = useActionStore((s) => s.offers)
  const [query, setQuery] = useState('')
  const [at, setAt] = useState(0)
  /** What stood on the screen when the finder was opened. */
  const [controls, setControls] = useState<readonly Found[]>([])
  /** Where to go once the finder is gone. */
  const next = useRef<SeenControl | null>(null)
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
  const isFound = ({ label, where }: Found) =>
    words.every((word) => `${label} ${where}`.toLowerCase().includes(word))
  const actions = [...actionGroups(offers)]
    .flatMap(([group, own]) =>
      own.map(({ id, label, keys, run }): Found => ({
        key: `${group} ${id}`,
        label,
        where: group,
        keys,
        does: run,
      })),
    )
    .filter(isFound)
  const seen = words.length === 0 ? [] : controls.filter(isFound)
  const found = [...actions, ...seen]
  const close = () => {
    setBench({ finderOpen: false })
    setQuery('')
    setAt(0)
  }
  const run = (index: number) => {
    close()
    const does = found[index]?.does
    if (typeof does === 'function') does()
    else next.current = does ?? null
  }
  return (
    <Dialog
      open={open}
      onClose={close}
      fullWidth
      maxWidth="xs"
      slotProps={{
        transition: {
          onEnter: () => setControls(controlsOfScreen().map(foundControl)),
          // While it stands it has the focus to itself.
          onExited: () => {
            if (next.current) goToControl(next.current, controlsOfScreen())
            next.current = null
          },
        },
      }}
    >
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
          {found.map(({ key, label, where, keys, does }, i) => (
            <li
              key={key}
              data-of={typeof does === 'function' ? 'actions' : 'screen'}
              id={`finder-${i}`}
              role="option"
              aria-selected={i === at}
              ref={(element) => {
                if (element && i === at) element.scrollIntoView({ block: 'nearest' })
              }}
              onClick={() => run(i)}
            >
              <span>
                {label} <span className="quiet">{where}</span>
              </span>
              {keys && <kbd>{keyLabel(keys)}</kbd>}
            </li>
          ))}
        </ul>
      </DialogContent>
    </Dialog>
  )
}

function controlsOfScreen(): readonly SeenControl[] {
  const page = document.querySelector('.bench, main')
  return page ? seenControls(page) : []
}

const foundControl = (control: SeenControl, i: number): Found => ({
  key: `screen ${i}`,
  label: control.label,
  where: control.section,
  does: control,
})
