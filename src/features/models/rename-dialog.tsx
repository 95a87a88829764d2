'use client'

import { PanelTabs } from '@/ui/panel-tabs'
import { useId, useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { plural } from '@/core/plural'
import { renameAll, type RenameRule } from '@/data/part-names'
import type { ProjectPart } from '@/data/project-schema'
import { renameParts } from '@/state/model-actions'
import { RenameDialogStyles } from './rename-dialog-styles'

const SHOWN = 6

interface RenameDialogProps {
  readonly parts: readonly ProjectPart[]
  readonly onClose: () => void
}

/** Renames many parts: one word for another, or numbered anew. What comes of it is seen before. */
const KINDS: readonly RenameRule['kind'][] = ['replace', 'number']

export function RenameDialog({ parts, onClose }: RenameDialogProps) {
  const id = useId()
  const [kind, setKind] = useState<RenameRule['kind']>('replace')
  const [find, setFind] = useState('')
  const [replace, setReplace] = useState('')
  const [matchCase, setMatchCase] = useState(false)
  const [pattern, setPattern] = useState(`${parts[0]?.name.replace(/[\s\d._-]+$/, '') || 'Part'} ##`)
  const [from, setFrom] = useState('1')
  const rule: RenameRule =
    kind === 'replace'
      ? { kind, find, replace, matchCase }
      : { kind, pattern, from: Number.isFinite(Number(from)) ? Number(from) : 1 }
  const before = parts.map((part) => part.name)
  const after = renameAll(before, rule)
  const changed = after.filter((name, i) => name !== before[i]).length
  const text = (label: string, value: string, set: (v: string) => void, first = false) => (
    <div className="row two">
      <label htmlFor={`${id} ${label}`}>{label}</label>
      <input
        id={`${id} ${label}`}
        className="plain-text"
        autoFocus={first}
        value={value}
        onChange={(e) => set(e.target.value)}
      />
    </div>
  )
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby={`${id}-title`}>
      <RenameDialogStyles />
      <form
        onSubmit={(e) => {
          e.preventDefault()
          if (changed > 0)
            renameParts(
              parts.map((p) => p.key),
              rule,
            )
          onClose()
        }}
      >
        <DialogTitle id={`${id}-title`}>Rename {plural(parts.length, 'part')}</DialogTitle>
        <DialogContent>
          <PanelTabs
            label="How"
            names={KINDS}
            labels={{ replace: 'Find and replace', number: 'Number anew' }}
            chosen={kind}
            onChoose={setKind}
          >
            {kind === 'replace' ? (
              <div key="replace">
                {text('Find', find, setFind, true)}
                {text('Put in its place', replace, setReplace)}
                <div className="row two">
                  <label htmlFor={`${id} case`}>Upper and lower case</label>
                  <span>
                    <input
                      id={`${id} case`}
                      type="checkbox"
                      checked={matchCase}
                      onChange={(e) => setMatchCase(e.target.checked)}
                    />{' '}
                    must agree
                  </span>
                </div>
              </div>
            ) : (
              <div key="number">
                {text('Name, # for the number', pattern, setPattern, true)}
                {text('Count from', from, setFrom)}
              </div>
            )}
          </PanelTabs>
          <ul className="rename-list" aria-label="What comes of it" aria-live="polite">
            {before.slice(0, SHOWN).map((name, i) => (
              <li key={parts[i].key}>
                <span className="quiet">{name}</span> <b>{after[i] === name ? 'stays' : after[i]}</b>
              </li>
            ))}
            {before.length > SHOWN && <li className="quiet">and {before.length - SHOWN} more</li>}
          </ul>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={changed === 0}>
            Rename {changed}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
