'use client'

import { useState } from 'react'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { newMask, newTerm, surfaceTerm } from '@/core/sheet/new-layer'
import type { Mask } from '@/core/sheet/sheet-schema'
import {
  isSurfaceTerm,
  terms,
  type KnownTerm,
  type MaskTerm,
  type SurfaceTerm,
} from '@/core/sheet/terms/registry'
import { plural } from '@/core/plural'
import { useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'
import { TermRow } from './term-row'

/** Changes a mask; null: there is none. */
type Apply = (mask: Mask | null) => Mask | null

interface MaskTermsProps {
  /** What it is the mask of, for those who hear it. */
  readonly label: string
  readonly mask: Mask | null
  readonly onChange: (label: string, apply: Apply, merge?: string) => void
}

const NEW_TERM = surfaceTerm('parts', [])
const isSurfaceKind = (kind: string): kind is SurfaceTerm['kind'] =>
  ['parts', 'materials', 'groups', 'roles'].includes(kind)

/** The lines of a mask, one of them open; what the whole of it is softened by; and what is added next. */
export function MaskTerms({ label, mask, onChange }: MaskTermsProps) {
  const [open, setOpen] = useState<number | 'new' | null>(null)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [draft, setDraft] = useState<SurfaceTerm>(NEW_TERM)
  const list = mask?.terms ?? []
  const withTerms = (own: Mask | null, change: (all: MaskTerm[]) => MaskTerm[]): Mask | null => {
    const base = own ?? newMask()
    const next = change([...base.terms])
    return next.length > 0 ? { ...base, terms: next } : null
  }
  const put = (index: number, term: MaskTerm, merge?: string) =>
    onChange(
      'mask term',
      (own) => withTerms(own, (all) => all.map((before, i) => (i === index ? term : before))),
      merge,
    )
  const remove = (index: number) => {
    setOpen(null)
    onChange('remove mask term', (own) => withTerms(own, (all) => all.filter((_, i) => i !== index)))
  }
  const add = (kind: KnownTerm['kind']) => {
    if (isSurfaceKind(kind)) {
      // The first tick makes the term: an empty one would hide the layer.
      setDraft(surfaceTerm(kind, []))
      setOpen('new')
      return
    }
    setOpen(list.length)
    onChange('mask term', (own) => withTerms(own, (all) => [...all, newTerm(kind)]))
  }
  const partKeys = useViewStore((s) => s.partKeys)
  const addChosen = () => {
    setOpen(null)
    onChange('mask of the chosen parts', (own) =>
      withTerms(own, (all) => [...all, surfaceTerm('parts', [...partKeys])]),
    )
  }
  const close = () => {
    const term = typeof open === 'number' ? list[open] : undefined
    if (term && isSurfaceTerm(term) && term.keys.length === 0) remove(open as number)
    setOpen(null)
  }
  return (
    <div role="group" aria-label={label}>
      {list.map((term, i) => (
        <TermRow
          key={i}
          term={term}
          index={i}
          isOpen={open === i}
          onOpen={() => (open === i ? close() : setOpen(i))}
          onChange={(next, merge) => put(i, next, merge)}
          onMove={
            list.length > 1
              ? (by) =>
                  onChange('move mask term', (own) =>
                    withTerms(own, (all) => {
                      const [moved] = all.splice(i, 1)
                      all.splice(Math.max(0, i + by), 0, moved)
                      return all
                    }),
                  )
              : null
          }
          onRemove={() => remove(i)}
          onDone={close}
        />
      ))}
      {open === 'new' && (
        <TermRow
          term={draft}
          index={list.length}
          isOpen
          onOpen={close}
          onChange={(term) => {
            if (!isSurfaceTerm(term) || term.keys.length === 0) {
              if (isSurfaceTerm(term)) setDraft(term)
              return
            }
            setOpen(list.length)
            onChange('mask term', (own) => withTerms(own, (all) => [...all, term]))
          }}
          onMove={null}
          onRemove={() => setOpen(null)}
          onDone={close}
        />
      )}
      <div style={{ padding: '4px 0' }}>
        <button
          className="link"
          data-testid="add-term"
          aria-haspopup="menu"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          Add a term
        </button>
        {partKeys.length > 0 && (
          <button className="link" onClick={addChosen}>
            {`The ${plural(partKeys.length, 'part', 'parts')} chosen in Models`}
          </button>
        )}
      </div>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        // Within the page's landmarks, where those who hear the page find it.
        container={() => anchor?.closest('main') ?? null}
        onClose={() => setAnchor(null)}
      >
        {terms.kinds
          .filter(({ kind }) => kind !== 'picture' && kind !== 'painted')
          .map(({ kind, label: name, summary }) => (
            <MenuItem
              dense
              key={kind}
              title={summary}
              data-testid={`term-${kind}`}
              onClick={() => {
                setAnchor(null)
                add(kind)
              }}
            >
              {name}
            </MenuItem>
          ))}
      </Menu>
      {mask && (
        <>
          <SwitchRow
            label="Invert"
            note={`Invert the ${label.toLowerCase()}`}
            checked={mask.invert}
            onChange={(v) => onChange('invert mask', (own) => own && { ...own, invert: v })}
          />
          <NumberField
            label="Feather"
            value={mask.featherPx}
            min={0}
            max={200}
            step={0.5}
            unit="px"
            defaultValue={0}
            onChange={(v) => onChange('feather', (own) => own && { ...own, featherPx: v }, 'feather')}
          />
        </>
      )}
    </div>
  )
}
