'use client'

import Button from '@mui/material/Button'
import { plural } from '@/core/plural'
import { isBatchBusy, useBatch } from '@/state/batch-run'

/** The way to many files in one press, and how far they are. */
export function BatchSection({ onOpen }: { readonly onOpen: () => void }) {
  const { state, rows } = useBatch()
  const done = rows.filter((row) => row.state === 'written').length
  return (
    <section className="section">
      <div className="section-head">Many at once</div>
      <p className="quiet" style={{ marginTop: 0 }}>
        {isBatchBusy({ state })
          ? `${done} of ${plural(rows.length, 'file')} made.`
          : 'Sheets, pages and passes at several sizes, under names by a pattern, as a zip or into a folder.'}
      </p>
      <Button variant="outlined" fullWidth onClick={onOpen} data-testid="open-batch">
        Many files in one press
      </Button>
    </section>
  )
}
