'use client'

import { activeSheet, activeShot } from '@/data/active-shot'
import { isOfPoster } from '@/data/poster-series'
import type { Project } from '@/data/project-schema'
import { followShot, setSheetFit, sheetSize } from '@/state/sheet-actions'

const FITS = [
  { fit: 'extend', label: 'Extend', note: 'The picture whole, room beside it' },
  { fit: 'crop', label: 'Crop', note: 'The picture fills the sheet, its ends cut off' },
] as const

/** Says that the sheet is not of its shot's picture size, and offers what can be done about it; else nothing. */
export function SheetDiffers({ project }: { project: Project }) {
  const size = sheetSize(project)
  if (size === 'as its shot') return null
  const sheet = activeSheet(project)
  // A page has the size of its paper.
  if (isOfPoster(sheet)) return null
  const { frame, name } = activeShot(project)
  return (
    <div className="problem" style={{ marginBottom: 12 }} data-testid="sheet-differs">
      This sheet is {sheet.width} × {sheet.height}, {name} is now {frame.width} × {frame.height}.
      {size === 'another shape' && ' Nothing is stretched:'}
      <div className="pills" style={{ marginTop: 6 }}>
        <button className="pill" onClick={followShot} title="The sheet takes the shot’s size">
          Follow
        </button>
        {size === 'another shape' &&
          FITS.map(({ fit, label, note }) => (
            <button
              key={fit}
              className="pill"
              title={note}
              aria-pressed={sheet.fit === fit}
              onClick={() => setSheetFit(fit)}
            >
              {label}
            </button>
          ))}
      </div>
    </div>
  )
}
