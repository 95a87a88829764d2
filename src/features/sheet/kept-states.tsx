'use client'

import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { bringBackState, forgetState, keepState, renameState } from '@/state/sheet-actions'
import { setBench } from '@/state/view-store'
import { SheetThumbnail } from './sheet-thumbnail'

/** "State 3": a name that none of them has. */
export function nextStateName({ kept }: Pick<Project, 'kept'>): string {
  const taken = new Set(kept.map(({ name }) => name))
  for (let n = kept.length + 1; ; n++) if (!taken.has(`State ${n}`)) return `State ${n}`
}

/** States of the sheet that were kept: to compare with, and to come back to. */
export function KeptStates({ project }: { readonly project: Project }) {
  const sheet = activeSheet(project)
  const states = project.kept.filter((state) => state.sheet.id === sheet.id).reverse()
  return (
    <section className="section">
      <div className="section-head">
        <span>Kept states</span>
        <span>
          <button className="link" data-testid="keep-state" onClick={() => keepState(nextStateName(project))}>
            Keep this one
          </button>
        </span>
      </div>
      {states.length === 0 && (
        <p className="quiet">
          None yet. A kept state can be compared with what comes after it, and brought back.
        </p>
      )}
      <ul className="kept-states">
        {states.map(({ id, name, at, sheet: own }) => (
          <li key={id}>
            <SheetThumbnail project={project} sheet={own} />
            <div>
              <input
                className="plain-select"
                aria-label={`Name of ${name}`}
                defaultValue={name}
                key={name}
                onBlur={(e) => {
                  const wanted = e.target.value.trim()
                  if (wanted && wanted !== name) renameState(id, wanted)
                }}
                onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
              />
              <span className="quiet">
                {new Date(at).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}
              </span>
              <span>
                <button
                  className="link"
                  aria-label={`Compare with ${name}`}
                  onClick={() => setBench({ seam: 0.5, compareLeft: `kept ${id}`, compareRight: 'now' })}
                >
                  Compare
                </button>
                <button className="link" aria-label={`Bring back ${name}`} onClick={() => bringBackState(id)}>
                  Bring back
                </button>
                <button className="link" aria-label={`Forget ${name}`} onClick={() => forgetState(id)}>
                  Forget
                </button>
              </span>
            </div>
          </li>
        ))}
      </ul>
    </section>
  )
}
