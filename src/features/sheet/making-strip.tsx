'use client'

import type { ProjectSheet } from '@/data/project-schema'
import { useViewStore } from '@/state/view-store'
import { pageStyles } from '@/ui/page-styles'
import { endMaking, lastShown, liesIn, makingStops, showStop, stopBeside } from './making'

/** A line above the proof while a sheet is gone through from the back: the layer that came last, and what was noted of it. */
export function MakingStrip({ sheet }: { readonly sheet: ProjectSheet }) {
  const peel = useViewStore((s) => s.peel)
  const stops = makingStops(sheet)
  const shown = Math.min(peel, sheet.roots.length)
  const layer = lastShown(sheet, shown)
  const at = stops.filter((stop) => stop <= shown).length
  const step = (by: 1 | -1) => showStop(sheet, stopBeside(stops, shown, by))
  return (
    <aside className="making" aria-label="How it was made" data-testid="making">
      <MakingStyles />
      <div className="making-steps">
        <button aria-label="Layer before" disabled={at <= 1} onClick={() => step(-1)}>
          ←
        </button>
        <span className="making-count">
          {at} of {stops.length}
        </span>
        <button
          aria-label="Layer after"
          disabled={at >= stops.length}
          onClick={() => step(1)}
          data-testid="making-next"
        >
          →
        </button>
      </div>
      <div className="making-words" role="status">
        {layer ? (
          <>
            <b className="display">{layer.name}</b> <span className="quiet">{liesIn(layer)}</span>
            <p>
              {layer.note || 'Nothing was noted of it. What is written under Note at the right is read here.'}
            </p>
          </>
        ) : (
          <p>Nothing is shown yet.</p>
        )}
      </div>
      <button className="link" onClick={endMaking}>
        Put all back
      </button>
    </aside>
  )
}

const MakingStyles = pageStyles({
  '.making': {
    display: 'grid',
    gridTemplateColumns: 'auto minmax(0, 1fr) auto',
    alignItems: 'start',
    gap: 18,
    // As high for a short note as for a long one: the picture stays where it is from layer to layer.
    height: 78,
    padding: '9px 16px',
    overflowY: 'auto',
    background: 'var(--paper)',
    borderBottom: '1px solid var(--rule)',
  },
  '.making-steps': { display: 'flex', alignItems: 'center', gap: 6 },
  '.making-steps button': {
    width: 30,
    height: 30,
    border: '1px solid var(--rule-strong)',
    borderRadius: '50%',
    background: 'var(--raised)',
    color: 'var(--ink)',
    font: 'inherit',
    cursor: 'pointer',
  },
  '.making-steps button:disabled': { opacity: 0.4, cursor: 'default' },
  '.making-count': { minWidth: '4.6em', textAlign: 'center', fontVariantNumeric: 'tabular-nums' },
  '.making-words b': { fontSize: 16 },
  '.making-words p': { margin: '2px 0 0', maxWidth: '100ch', textWrap: 'pretty' },
})
