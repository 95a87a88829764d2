'use client'

import { useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Switch from '@mui/material/Switch'
import type { Layer, MaskTerm } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { NumberField } from '@/ui/number-field'
import { addMaskTerm, changeLayer } from './layer-actions'

interface MaskSectionProps {
  readonly project: Project
  readonly layer: Layer
  readonly picking: 'part' | 'material' | null
  readonly setPicking: (by: 'part' | 'material' | null) => void
}

const SIGNS = { add: '+', subtract: '−', intersect: '∩' } as const
const JOINS = ['add', 'subtract', 'intersect'] as const

/** A layer's mask: terms of parts or materials, invert, feather. */
export function MaskSection({ project, layer, picking, setPicking }: MaskSectionProps) {
  const [editing, setEditing] = useState<number | 'new' | null>(null)
  const { mask } = layer
  const hasId = project.passes.some((p) => p.kind === 'id' && p.rendered)
  const nameOf = (by: MaskTerm['by'], key: string): string => {
    const lists = project.models.flatMap((m): readonly { key: string; name: string }[] =>
      by === 'part' ? m.parts : m.materials,
    )
    return lists.find((x) => x.key === key)?.name ?? 'gone'
  }
  const changeMask = (label: string, apply: (m: NonNullable<Layer['mask']>) => void, merge?: string) =>
    changeLayer(
      layer.id,
      label,
      (l) => {
        if (l.mask) apply(l.mask)
      },
      merge,
    )
  return (
    <section className="section">
      <div className="section-head">
        <span>Mask</span>
        <span>
          <button className="link" onClick={() => setEditing('new')} disabled={!hasId} data-testid="add-term">
            Add a term
          </button>
          <button
            className="link"
            aria-pressed={picking !== null}
            onClick={() => setPicking(picking ? null : 'part')}
            disabled={!hasId}
            style={picking ? { color: 'var(--clay)', fontWeight: 650 } : undefined}
          >
            {picking ? 'Picking' : 'Pick'}
          </button>
        </span>
      </div>
      {!hasId && <span className="quiet">Masks are made from the ID pass: render it in Passes.</span>}
      {hasId && !mask && !picking && (
        <span className="quiet">Shown everywhere. Add parts or materials, or pick them in the proof.</span>
      )}
      {picking && (
        <div className="row">
          <label htmlFor="pick-by">Clicks take</label>
          <select
            id="pick-by"
            className="plain-select wide"
            value={picking}
            onChange={(e) => setPicking(e.target.value as 'part' | 'material')}
          >
            <option value="part">The part</option>
            <option value="material">The material</option>
          </select>
        </div>
      )}
      {mask?.terms.map((term, i) => (
        <div className="term" key={i}>
          <button
            className="icon-button sign"
            title="Add, subtract or intersect"
            aria-label={`Term ${i + 1}: ${term.join}`}
            onClick={() =>
              changeMask(
                'mask term',
                (m) => void (m.terms[i].join = JOINS[(JOINS.indexOf(term.join) + 1) % 3]),
              )
            }
          >
            {SIGNS[term.join]}
          </button>
          <button
            className="link what"
            style={{ textAlign: 'left' }}
            onClick={() => setEditing(i)}
            title={term.keys.map((k) => nameOf(term.by, k)).join(', ')}
          >
            {term.by === 'part' ? 'Part' : 'Material'}:{' '}
            {term.keys.length === 0 ? 'none' : nameOf(term.by, term.keys[0])}
            {term.keys.length > 1 && ` and ${term.keys.length - 1} more`}
          </button>
          <button
            className="link"
            onClick={() =>
              changeLayer(layer.id, 'remove mask term', (l) => {
                if (!l.mask) return
                l.mask.terms.splice(i, 1)
                if (l.mask.terms.length === 0 && !l.mask.picture) l.mask = null
              })
            }
          >
            Remove
          </button>
        </div>
      ))}
      {mask && (
        <>
          <div className="row">
            <span className="label">Invert</span>
            <span className="wide" style={{ textAlign: 'right' }}>
              <Switch
                size="small"
                color="secondary"
                checked={mask.invert}
                onChange={(e) => changeMask('invert mask', (m) => void (m.invert = e.target.checked))}
                slotProps={{ input: { 'aria-label': 'Invert mask' } }}
              />
            </span>
          </div>
          <NumberField
            label="Feather"
            value={mask.featherPx}
            min={0}
            max={200}
            step={0.5}
            unit="px"
            defaultValue={0}
            onChange={(v) => changeMask('feather', (m) => void (m.featherPx = v), 'feather')}
          />
        </>
      )}
      {editing !== null && (
        <TermDialog
          project={project}
          term={
            editing === 'new'
              ? { join: 'add', by: 'part', keys: [] }
              : (mask?.terms[editing] ?? { join: 'add', by: 'part', keys: [] })
          }
          onClose={() => setEditing(null)}
          onDone={(term) => {
            if (editing === 'new') addMaskTerm(layer.id, term)
            else changeMask('mask term', (m) => void (m.terms[editing] = term))
            setEditing(null)
          }}
        />
      )}
    </section>
  )
}

interface TermDialogProps {
  readonly project: Project
  readonly term: MaskTerm
  readonly onClose: () => void
  readonly onDone: (term: MaskTerm) => void
}

function TermDialog({ project, term, onClose, onDone }: TermDialogProps) {
  const [draft, setDraft] = useState(term)
  const [search, setSearch] = useState('')
  const items = project.models
    .flatMap((m): readonly { key: string; name: string }[] => (draft.by === 'part' ? m.parts : m.materials))
    .filter((x) => x.name.toLowerCase().includes(search.toLowerCase()))
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="xs"
      slotProps={{
        backdrop: { sx: { background: 'transparent' } },
        paper: { sx: { position: 'absolute', right: 300, top: 60, m: 0 } },
      }}
    >
      <DialogTitle className="display">Mask term</DialogTitle>
      <DialogContent>
        <div className="row">
          <label htmlFor="term-by">Choose</label>
          <select
            id="term-by"
            className="plain-select wide"
            value={draft.by}
            onChange={(e) => setDraft({ ...draft, by: e.target.value as MaskTerm['by'], keys: [] })}
          >
            <option value="part">Parts</option>
            <option value="material">Materials</option>
          </select>
        </div>
        <div className="row">
          <label htmlFor="term-join">They</label>
          <select
            id="term-join"
            className="plain-select wide"
            value={draft.join}
            onChange={(e) => setDraft({ ...draft, join: e.target.value as MaskTerm['join'] })}
          >
            <option value="add">are added</option>
            <option value="subtract">are taken away</option>
            <option value="intersect">limit what is above</option>
          </select>
        </div>
        <input
          autoFocus
          className="plain-select"
          placeholder="Search"
          aria-label="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          style={{ width: '100%', margin: '6px 0 8px' }}
        />
        <div className="pick-list">
          {items.map((item) => (
            <label key={item.key}>
              <input
                type="checkbox"
                checked={draft.keys.includes(item.key)}
                onChange={(e) =>
                  setDraft({
                    ...draft,
                    keys: e.target.checked
                      ? [...draft.keys, item.key]
                      : draft.keys.filter((k) => k !== item.key),
                  })
                }
              />
              {item.name}
            </label>
          ))}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={draft.keys.length === 0}
          onClick={() => onDone(draft)}
          data-testid="term-done"
        >
          Use {draft.keys.length}
        </Button>
      </DialogActions>
    </Dialog>
  )
}
