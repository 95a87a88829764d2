'use client'

import { useState } from 'react'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { styled } from '@mui/material/styles'
import { PASS_SETS } from '@/core/passes/pass-sets'
import { PASS_KINDS, passKind } from '@/core/passes/registry'
import { addPass, addPassSet } from '@/state/pass-actions'

/** A name, and under it what it is for. */
const Line = styled('span')({ display: 'grid', maxWidth: 340, whiteSpace: 'normal', lineHeight: 1.3 })

interface PassMenuProps {
  readonly onAdd: (passId: string) => void
  readonly onOneThing: () => void
}

/** Adds passes to the shot: one, or a set that is wanted together. */
export function PassMenu({ onAdd, onOneThing }: PassMenuProps) {
  const [anchor, setAnchor] = useState<{ element: HTMLElement; list: 'pass' | 'set' } | null>(null)
  const close = () => setAnchor(null)
  return (
    <div style={{ display: 'flex', gap: 8, paddingBottom: 10, whiteSpace: 'nowrap' }}>
      {(
        [
          ['pass', 'Add a pass'],
          ['set', 'Add a set'],
        ] as const
      ).map(([list, label]) => (
        <button
          key={list}
          className="link"
          aria-haspopup="menu"
          data-testid={`add-${list}`}
          onClick={(e) => setAnchor({ element: e.currentTarget, list })}
        >
          {label}
        </button>
      ))}
      <button
        className="link"
        onClick={onOneThing}
        data-testid="open-one-thing"
        style={{ marginLeft: 'auto' }}
      >
        One thing again
      </button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor?.element}
        container={() => anchor?.element.closest('main') ?? null}
        onClose={close}
      >
        {anchor?.list === 'set'
          ? PASS_SETS.map((set) => (
              <MenuItem
                key={set.name}
                data-testid={`add-set-${set.name}`}
                onClick={() => {
                  addPassSet(set.name)
                  close()
                }}
              >
                <Line>
                  <b>{set.label}</b>
                  <span className="quiet">{set.summary}</span>
                </Line>
              </MenuItem>
            ))
          : PASS_KINDS.map((kind) => (
              <MenuItem
                key={kind}
                data-testid={`add-pass-${kind}`}
                onClick={() => {
                  const id = addPass(kind)
                  if (id) onAdd(id)
                  close()
                }}
              >
                <Line>
                  <b>{passKind(kind).label}</b>
                  <span className="quiet">{passKind(kind).summary}</span>
                </Line>
              </MenuItem>
            ))}
      </Menu>
    </div>
  )
}
