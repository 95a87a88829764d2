'use client'

import { memo } from 'react'
import { activePasses } from '@/data/active-shot'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { maskProblem } from '@/state/mask-source'
import type { BesideSheets } from '@/data/project-schema'
import { SelectRow } from '@/ui/select-row'
import { changeLayer } from './layer-actions'
import { copyMask, pasteMask } from './layer-clipboard'
import { MASK_SEEN } from '@/core/sheet/mask-seen'
import { setBench, useViewStore } from '@/state/view-store'
import { MaskTerms } from './mask-terms'
import type { Picking } from './use-sheet-actions'

interface MaskSectionProps {
  readonly project: BesideSheets
  readonly layerId: string
  readonly mask: SheetNode['mask']
  readonly picking: Picking
  readonly setPicking?: (kind: Picking) => void
}

/** Where a layer shows: terms by rule, and picking in the proof. */
export const MaskSection = memo(function MaskSection({
  project,
  layerId,
  mask,
  picking,
  setPicking,
}: MaskSectionProps) {
  const hasId = activePasses(project).some((p) => p.kind === 'id' && p.rendered)
  const lost = maskProblem(project, { mask })
  return (
    <section className="section">
      <div className="section-head">
        <span>Mask</span>
        <span>
          {mask && (
            <button className="link" onClick={() => copyMask(layerId)}>
              Copy
            </button>
          )}
          <button className="link" onClick={() => pasteMask(layerId)}>
            Paste
          </button>
          {setPicking && (
            <button
              className="link"
              aria-pressed={picking !== null}
              onClick={() => setPicking(picking ? null : 'parts')}
              disabled={!hasId}
              title={hasId ? undefined : 'Picking needs the ID pass: render it in Passes'}
              style={picking ? { color: 'var(--clay)', fontWeight: 650 } : undefined}
            >
              {picking ? 'Picking' : 'Pick'}
            </button>
          )}
        </span>
      </div>
      {lost && (
        <p className="problem" role="status" data-testid="mask-lost">
          This mask has lost its source: {lost}.
        </p>
      )}
      {mask && <MaskSeenRow />}
      {!mask && !picking && (
        <span className="quiet">
          Shown everywhere.{' '}
          {!setPicking
            ? 'Add a term.'
            : hasId
              ? 'Add a term, or pick parts in the proof.'
              : 'Parts need the ID pass.'}
        </span>
      )}
      {picking && setPicking && (
        <SelectRow
          id="pick-by"
          label="Clicks take"
          value={picking}
          onChange={(picked) => setPicking(picked as Picking)}
        >
          <option value="parts">The part</option>
          <option value="materials">The material</option>
          <option value="groups">Its group</option>
        </SelectRow>
      )}
      <MaskTerms
        label="Mask"
        mask={mask}
        onChange={(label, apply, merge) =>
          changeLayer(layerId, label, (l) => void (l.mask = apply(l.mask)), merge)
        }
      />
    </section>
  )
})

const SEEN_LABELS = { off: 'At work', alone: 'Alone', tint: 'Tint', outline: 'Outline' } as const

/** How the mask is looked at in the proof. */
function MaskSeenRow() {
  const seen = useViewStore((s) => s.maskSeen)
  return (
    <div className="segments" role="radiogroup" aria-label="See the mask" style={{ marginBottom: 8 }}>
      {(['off', ...MASK_SEEN] as const).map((own) => (
        <button
          key={own}
          role="radio"
          aria-checked={seen === own}
          onClick={() => setBench({ maskSeen: own })}
        >
          {SEEN_LABELS[own]}
        </button>
      ))}
    </div>
  )
}
