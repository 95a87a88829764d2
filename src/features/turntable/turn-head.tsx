'use client'

import { useState } from 'react'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import type { Turn } from '@/core/turn/turn-schema'
import type { Project } from '@/data/project-schema'
import { addTurn, copyTurn, removeTurn, renameTurn } from '@/state/turn-actions'
import { setBench } from '@/state/view-store'

/** The turntable at work: its name, the others, another. */
export function TurnHead({ project, turn }: { readonly project: Project; readonly turn: Turn }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const run = (act: () => void) => () => {
    setAnchor(null)
    act()
  }
  return (
    <>
      <div className="inspector-head">
        <input
          key={`${turn.id} ${turn.name}`}
          className="title-input display"
          aria-label="Name of the turntable"
          defaultValue={turn.name}
          onBlur={(e) => {
            const name = e.target.value.trim()
            if (name && name !== turn.name) renameTurn(name)
            else e.target.value = turn.name
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        <button
          className="link"
          aria-haspopup="menu"
          data-testid="turns"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          turntables
        </button>
      </div>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {project.turns.map(({ id, name }) => (
          <MenuItem
            key={id}
            selected={id === turn.id}
            onClick={run(() => setBench({ turnId: id, turnFrame: 0, laneId: null }))}
          >
            {name}
          </MenuItem>
        ))}
        <MenuItem divider sx={{ minHeight: 0, p: 0 }} disabled aria-hidden="true" />
        <MenuItem onClick={run(addTurn)}>New, of the sheet at work</MenuItem>
        <MenuItem onClick={run(copyTurn)}>Copy this one</MenuItem>
        <MenuItem onClick={run(removeTurn)}>Remove this one</MenuItem>
      </Menu>
    </>
  )
}
