'use client'

import type { BatchSource } from '@/core/batch/batch-plan'
import type { BatchPlan } from './use-batch-plan'

const LISTS: readonly { readonly what: BatchSource['what']; readonly label: string }[] = [
  { what: 'sheet', label: 'Sheets and pages' },
  { what: 'pass', label: 'Passes' },
  { what: 'turn', label: 'Turntables' },
]

/** What of the project becomes files. */
export function BatchWhat({ plan, isBusy }: { readonly plan: BatchPlan; readonly isBusy: boolean }) {
  const { sources, choice, change } = plan
  const toggle = (ids: readonly string[], on: boolean) =>
    change({
      chosen: on
        ? [...new Set([...choice.chosen, ...ids])]
        : choice.chosen.filter((other) => !ids.includes(other)),
    })
  return (
    <fieldset className="batch-what" disabled={isBusy}>
      <legend className="section-head">What</legend>
      {LISTS.map(({ what, label }) => {
        const own = sources.filter((source) => source.what === what)
        if (own.length === 0) return null
        const ids = own.map(({ id }) => id)
        const isAll = ids.every((id) => choice.chosen.includes(id))
        return (
          <section key={what} aria-label={label}>
            <div className="batch-list-head">
              <span className="quiet">{label}</span>
              <button
                type="button"
                className="link"
                onClick={() => toggle(ids, !isAll)}
                aria-label={`${label}: ${isAll ? 'none' : 'all'}`}
              >
                {isAll ? 'None' : 'All'}
              </button>
            </div>
            <ul aria-label={label}>
              {own.map(({ id, name, shot, isRendered }) => (
                <li key={id}>
                  <label>
                    <input
                      type="checkbox"
                      checked={choice.chosen.includes(id)}
                      onChange={(e) => toggle([id], e.target.checked)}
                    />
                    <span>{name}</span>
                    {what === 'pass' && (
                      <span className="quiet" title={isRendered ? shot : `${shot}, rendered for its file`}>
                        {isRendered ? shot : 'to render'}
                      </span>
                    )}
                  </label>
                </li>
              ))}
            </ul>
          </section>
        )
      })}
    </fieldset>
  )
}
