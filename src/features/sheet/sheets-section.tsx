'use client'

import { activeSheet, activeShot, sheetsOf } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { addSheet, duplicateSheet, goToSheet, removeSheet, renameSheet } from '@/state/sheet-actions'
import { setBench } from '@/state/view-store'
import { NameRow } from '@/ui/name-row'
import { SelectRow } from '@/ui/select-row'

/** The sheets of the shot at work: which one is on the bench, and what can be done with it as a whole. */
export function SheetsSection({ project }: { readonly project: Project }) {
  const sheet = activeSheet(project)
  const sheets = sheetsOf(project, activeShot(project).id)
  const then = (action: () => void) => () => {
    action()
    setBench({ layerId: null, peel: Infinity })
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Sheets</span>
        <span>
          <button className="link" onClick={then(addSheet)} data-testid="new-sheet">
            New
          </button>
          <button className="link" onClick={then(duplicateSheet)}>
            Duplicate
          </button>
          {sheets.length > 1 && (
            <button className="link" onClick={then(removeSheet)}>
              Remove
            </button>
          )}
        </span>
      </div>
      <div className="row">
        <span className="label">Look at</span>
        <span className="wide" style={{ textAlign: 'right' }}>
          <button className="link" data-testid="recipes" onClick={() => setBench({ recipe: '' })}>
            Recipes
          </button>
          <button className="link" onClick={() => setBench({ panel: 'history' })}>
            History
          </button>
          <button className="link" onClick={() => setBench({ panel: 'scopes' })}>
            Tones
          </button>
        </span>
      </div>
      {sheets.length > 1 && (
        <SelectRow
          id="sheet-at-work"
          label="At work"
          value={sheet.id}
          onChange={(picked) => {
            goToSheet(picked)
            setBench({ layerId: null, peel: Infinity })
          }}
        >
          {sheets.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </SelectRow>
      )}
      <NameRow key={sheet.id} label="Name" id="sheet-name" name={sheet.name} onRename={renameSheet} />
    </section>
  )
}
