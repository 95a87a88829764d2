'use client'

import { useState } from 'react'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'

interface KeyToolsProps {
  readonly label: string
  readonly onCopy: () => void
  readonly onStretch: (factor: number) => void
  readonly onReverse: () => void
  readonly onLoop: () => void
  readonly onClose: () => void
  readonly onClear: () => void
}

/** What can be done to all keys of a value at once. */
export function KeyTools({ label, onCopy, onStretch, onReverse, onLoop, onClose, onClear }: KeyToolsProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const item = (words: string, run: () => void) => (
    <MenuItem
      key={words}
      onClick={() => {
        setAnchor(null)
        run()
      }}
    >
      {words}
    </MenuItem>
  )
  return (
    <>
      <button
        className="link"
        aria-label={`all … keys of ${label}`}
        aria-haspopup="menu"
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        all …
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {item('Copy to the playhead', onCopy)}
        {item('Twice as slow', () => onStretch(2))}
        {item('Twice as fast', () => onStretch(0.5))}
        {item('Backwards', onReverse)}
        {item('Again and again', onLoop)}
        {item('End as it began', onClose)}
        {item('Remove all keys', onClear)}
      </Menu>
    </>
  )
}
