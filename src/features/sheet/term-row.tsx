'use client'

import { useEffect, useRef } from 'react'
import Button from '@mui/material/Button'
import type { ParamValues } from '@/core/params'
import {
  isSurfaceTerm,
  termKind,
  type KnownTerm,
  type MaskTerm,
  type SurfaceTerm,
} from '@/core/sheet/terms/registry'
import { TERM_JOINS, type TermJoin } from '@/core/sheet/terms/term-kind'
import { useBesideSheets } from '@/state/use-beside-sheets'
import { NumberField } from '@/ui/number-field'
import { ParamsInspector } from '@/ui/params-inspector'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { colourSeen, waitForPick } from './proof-pick'
import { SurfaceList, surfaceNames } from './surface-list'
import { TermEditorStyles } from './term-editor-styles'

const SIGNS: Readonly<Record<TermJoin, string>> = { add: '+', subtract: '−', intersect: '∩' }
const JOIN_WORDS: Readonly<Record<TermJoin, string>> = {
  add: 'is added',
  subtract: 'is taken away',
  intersect: 'limits what is above',
}

interface TermRowProps {
  readonly term: MaskTerm
  /** Its place in the list. */
  readonly index: number
  readonly isOpen: boolean
  readonly onOpen: () => void
  readonly onChange: (term: MaskTerm, merge?: string) => void
  /** By one up or down; null where there is nowhere to go. */
  readonly onMove: ((by: -1 | 1) => void) | null
  readonly onRemove: () => void
  readonly onDone: () => void
}

/** One line of a mask: how it joins, and what it names; opened, all of it. */
export function TermRow(props: TermRowProps) {
  const { term, index, isOpen, onOpen, onChange, onRemove } = props
  const project = useBesideSheets()
  if (term.kind === 'unreadable')
    return (
      <div className="term">
        <span className="sign">?</span>
        <span className="what" title={term.why}>
          Cannot be read
        </span>
        <button className="link" onClick={onRemove}>
          Remove
        </button>
      </div>
    )
  const label = termKind(term)?.label ?? term.kind
  const names = isSurfaceTerm(term) && project ? surfaceNames(project, term) : []
  return (
    <>
      <div className="term" data-off={!term.enabled || undefined}>
        <button
          className="icon-button sign"
          title="Add, subtract or intersect"
          aria-label={`Term ${index + 1}: ${term.join}`}
          onClick={() =>
            onChange({
              ...term,
              join: TERM_JOINS[(TERM_JOINS.indexOf(term.join) + 1) % TERM_JOINS.length],
            })
          }
        >
          {SIGNS[term.join]}
        </button>
        <button
          className="link what"
          style={{ textAlign: 'left', opacity: term.enabled ? 1 : 0.55 }}
          aria-expanded={isOpen}
          onClick={onOpen}
          title={names.join(', ') || undefined}
        >
          {label}
          {isSurfaceTerm(term) && `: ${names[0] ?? 'none'}`}
          {names.length > 1 && ` and ${names.length - 1} more`}
          {term.invert && ', inverted'}
        </button>
        <button className="link" onClick={onRemove}>
          Remove
        </button>
      </div>
      {isOpen && <TermBody {...props} term={term} />}
    </>
  )
}

function TermBody({ term, onChange, onMove, onDone }: TermRowProps & { readonly term: KnownTerm }) {
  const boxRef = useRef<HTMLDivElement>(null)
  useEffect(() => {
    void boxRef.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  const project = useBesideSheets()
  const schema = termKind(term)?.schema
  const set = (changes: Partial<KnownTerm> | ParamValues, merge?: string) =>
    onChange({ ...term, ...changes } as MaskTerm, merge)
  return (
    <div
      ref={boxRef}
      className="term-editor"
      role="group"
      aria-label="Mask term"
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        onDone()
      }}
    >
      <TermEditorStyles />
      {isSurfaceTerm(term) && project && (
        <SurfaceList project={project} term={term} onChange={(next: SurfaceTerm) => onChange(next)} />
      )}
      {schema && (
        <ParamsInspector
          schema={schema}
          values={term as unknown as ParamValues}
          onChange={(name, value) => set({ [name]: value }, `term ${name}`)}
        />
      )}
      {schema && 'colour' in schema.shape && (
        <button
          className="link"
          data-testid="pick-colour"
          onClick={() =>
            waitForPick({
              id: 'term colour',
              label: 'Click a colour in the proof',
              take: (x, y) => void colourSeen(x, y).then((colour) => colour && set({ colour })),
            })
          }
        >
          Pick it in the proof
        </button>
      )}
      <SelectRow
        id="term-join"
        label="It"
        value={term.join}
        onChange={(picked) => set({ join: picked as TermJoin })}
      >
        {TERM_JOINS.map((join) => (
          <option key={join} value={join}>
            {JOIN_WORDS[join]}
          </option>
        ))}
      </SelectRow>
      <details className="param-group">
        <summary>
          <span>Edge and strength</span>
        </summary>
        <SwitchRow label="On" checked={term.enabled} onChange={(v) => set({ enabled: v })} />
        <SwitchRow label="All but this" checked={term.invert} onChange={(v) => set({ invert: v })} />
        <NumberField
          label="Grow"
          note="How far it reaches beyond what it names; below nothing, within it"
          value={term.growPx}
          min={-60}
          max={60}
          step={0.5}
          unit="px"
          defaultValue={0}
          onChange={(v) => set({ growPx: v }, 'term grow')}
        />
        <NumberField
          label="Feather"
          value={term.featherPx}
          min={0}
          max={200}
          step={0.5}
          unit="px"
          defaultValue={0}
          onChange={(v) => set({ featherPx: v }, 'term feather')}
        />
        <NumberField
          label="Strength"
          value={Math.round(100 * term.strength)}
          min={0}
          max={100}
          step={1}
          unit="%"
          defaultValue={100}
          onChange={(v) => set({ strength: v / 100 }, 'term strength')}
        />
      </details>
      <div style={{ display: 'flex', alignItems: 'center', gap: 8, paddingTop: 8 }}>
        {onMove && (
          <>
            <button className="link" onClick={() => onMove(-1)}>
              Up
            </button>
            <button className="link" onClick={() => onMove(1)}>
              Down
            </button>
          </>
        )}
        <span className="spacer" />
        <Button variant="outlined" onClick={onDone} data-testid="term-done">
          Done
        </Button>
      </div>
    </div>
  )
}
