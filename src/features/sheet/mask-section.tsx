'use client'

import { activePasses } from '@/data/active-shot'
import { memo, useState } from 'react'
import Switch from '@mui/material/Switch'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { surfaceTerm } from '@/core/sheet/new-layer'
import { isSurfaceTerm, type MaskTerm, type SurfaceTerm } from '@/core/sheet/terms/registry'
import { TERM_JOINS } from '@/core/sheet/terms/term-kind'
import { maskProblem } from '@/state/mask-source'
import type { BesideSheets } from '@/data/project-schema'
import { NumberField } from '@/ui/number-field'
import { addMaskTerm, changeLayer } from './layer-actions'
import { TermEditor } from './term-editor'

interface MaskSectionProps {
  readonly project: BesideSheets
  readonly layerId: string
  readonly mask: SheetNode['mask']
  readonly picking: SurfaceTerm['kind'] | null
  readonly setPicking: (kind: SurfaceTerm['kind'] | null) => void
}

const SIGNS = { add: '+', subtract: '−', intersect: '∩' } as const
const NEW_TERM = surfaceTerm('parts', [])

/** A layer's mask: terms of parts or materials, invert, feather. */
export const MaskSection = memo(function MaskSection({
  project,
  layerId,
  mask,
  picking,
  setPicking,
}: MaskSectionProps) {
  const [editing, setEditing] = useState<number | 'new' | null>(null)
  const [draft, setDraft] = useState<SurfaceTerm>(NEW_TERM)
  const hasId = activePasses(project).some((p) => p.kind === 'id' && p.rendered)
  const lost = maskProblem(project, { mask })
  const nameOf = (kind: SurfaceTerm['kind'], key: string): string => {
    const lists = project.models.flatMap((m): readonly { key: string; name: string }[] =>
      kind === 'parts' ? m.parts : m.materials,
    )
    return lists.find((x) => x.key === key)?.name ?? 'gone'
  }
  /** Which stored term is edited; null for one that is not stored yet, or gone by an undo. */
  const at = typeof editing === 'number' && mask?.terms[editing] ? editing : null
  const stored = at !== null ? mask?.terms[at] : undefined
  const shownTerm = stored && isSurfaceTerm(stored) ? stored : draft
  const removeTerm = (index: number) =>
    changeLayer(layerId, 'remove mask term', (l) => {
      if (!l.mask) return
      l.mask.terms.splice(index, 1)
      if (l.mask.terms.length === 0) l.mask = null
    })
  const changeMask = (label: string, apply: (m: NonNullable<SheetNode['mask']>) => void, merge?: string) =>
    changeLayer(
      layerId,
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
          <button
            className="link"
            onClick={() => {
              setDraft(NEW_TERM)
              setEditing('new')
            }}
            disabled={!hasId}
            data-testid="add-term"
          >
            Add a term
          </button>
          <button
            className="link"
            aria-pressed={picking !== null}
            onClick={() => setPicking(picking ? null : 'parts')}
            disabled={!hasId}
            style={picking ? { color: 'var(--clay)', fontWeight: 650 } : undefined}
          >
            {picking ? 'Picking' : 'Pick'}
          </button>
        </span>
      </div>
      {lost && (
        <p className="problem" role="status" data-testid="mask-lost">
          This mask has lost its source: {lost}.
        </p>
      )}
      {!hasId && !lost && (
        <span className="quiet">Masks are made from the ID pass: render it in Passes.</span>
      )}
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
            onChange={(e) => setPicking(e.target.value as SurfaceTerm['kind'])}
          >
            <option value="parts">The part</option>
            <option value="materials">The material</option>
          </select>
        </div>
      )}
      {mask?.terms.map((term, i) => (
        <TermRow
          key={i}
          term={term}
          index={i}
          nameOf={nameOf}
          onJoin={(join) =>
            changeMask('mask term', (m) => {
              const own = m.terms[i]
              if (own.kind !== 'unreadable') own.join = join
            })
          }
          onEdit={() => setEditing(i)}
          onRemove={() => {
            setEditing(null)
            removeTerm(i)
          }}
        />
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
        <TermEditor
          project={project}
          term={shownTerm}
          onChange={(term) => {
            if (mask && at !== null) changeMask('mask term', (m) => void (m.terms[at] = term))
            else if (term.keys.length === 0) setDraft(term)
            else {
              // The first tick makes the term: an empty one would hide the layer.
              setEditing(mask?.terms.length ?? 0)
              addMaskTerm(layerId, term)
            }
          }}
          onDone={() => {
            if (at !== null && stored && isSurfaceTerm(stored) && stored.keys.length === 0) removeTerm(at)
            setEditing(null)
          }}
        />
      )}
    </section>
  )
})

interface TermRowProps {
  readonly term: MaskTerm
  /** Its place in the list. */
  readonly index: number
  readonly nameOf: (kind: SurfaceTerm['kind'], key: string) => string
  readonly onJoin: (join: SurfaceTerm['join']) => void
  readonly onEdit: () => void
  readonly onRemove: () => void
}

/** One term of a mask as a line: how it joins, and what it names. */
function TermRow({ term, index, nameOf, onJoin, onEdit, onRemove }: TermRowProps) {
  return (
    <div className="term">
      {term.kind === 'unreadable' ? (
        <span className="sign">?</span>
      ) : (
        <button
          className="icon-button sign"
          title="Add, subtract or intersect"
          aria-label={`Term ${index + 1}: ${term.join}`}
          onClick={() => onJoin(TERM_JOINS[(TERM_JOINS.indexOf(term.join) + 1) % TERM_JOINS.length])}
        >
          {SIGNS[term.join]}
        </button>
      )}
      {isSurfaceTerm(term) ? (
        <button
          className="link what"
          style={{ textAlign: 'left' }}
          onClick={onEdit}
          title={term.keys.map((key) => nameOf(term.kind, key)).join(', ')}
        >
          {term.kind === 'parts' ? 'Part' : 'Material'}:{' '}
          {term.keys.length === 0 ? 'none' : nameOf(term.kind, term.keys[0])}
          {term.keys.length > 1 && ` and ${term.keys.length - 1} more`}
        </button>
      ) : (
        <span className="what">{term.kind === 'picture' ? 'A grey picture' : 'Cannot be read'}</span>
      )}
      <button className="link" onClick={onRemove}>
        Remove
      </button>
    </div>
  )
}
