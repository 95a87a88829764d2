'use client'

import { baseName } from '@/core/formats/file-bundle'
import type { Project } from '@/data/project-schema'
import { putOutcomeAway, useImportStore, type ImportOutcome } from '@/state/import-models'

const some = (n: number, one: string): string => (n === 1 ? `1 ${one}` : `${n} ${one}s`)

function summary(outcome: ImportOutcome, isReplaced: boolean): string {
  const said: string[] = []
  if (isReplaced) said.push('The model was replaced.')
  else if (outcome.added.length > 0) said.push(`${some(outcome.added.length, 'model')} came in.`)
  if (outcome.pinned.length > 0) said.push(`${some(outcome.pinned.length, 'picture')} pinned as reference.`)
  if (outcome.problems.length > 0)
    said.push(
      `${outcome.problems.length === 1 ? 'One file was' : `${outcome.problems.length} files were`} not added.`,
    )
  if (outcome.cancelled) said.push('The rest was cancelled; what had come in stays.')
  return said.join(' ')
}

/** What came of the last import, in full, until it is put away. */
export function ImportReport({ project }: { project: Project }) {
  const outcome = useImportStore((s) => s.outcome)
  if (!outcome) return null
  const { problems, unused, unmatched } = outcome
  const missing = project.models
    .filter((model) => outcome.added.includes(model.id))
    .flatMap((model) =>
      model.warnings
        .filter((w) => w.code.endsWith('-missing'))
        .map((w) => `${model.name}: ${w.part ? `${w.part}: ` : ''}${w.message}`),
    )
  const lists: readonly (readonly [string, readonly string[]])[] = [
    ['Not added', problems],
    ['Missing, and what stands in', missing],
    ['Parts that the new file no longer has', unmatched?.gone ?? []],
    ['Parts that are new', unmatched?.added ?? []],
    ['Materials that the new file no longer has', unmatched?.goneMaterials ?? []],
    ['Materials that are new', unmatched?.addedMaterials ?? []],
    ['Given, but used by no model', unused.map(baseName)],
  ]
  const isWrong = problems.length > 0
  return (
    <div className={`import-report ${isWrong ? 'problem' : ''}`} role={isWrong ? 'alert' : 'status'}>
      <div className="import-head">
        <b>{summary(outcome, unmatched !== null)}</b>
        {isWrong && <span> The project is as it was otherwise.</span>}
        <span className="spacer" />
        <button className="link" onClick={putOutcomeAway}>
          Put away
        </button>
      </div>
      <div className="import-lists">
        {lists
          .filter(([, list]) => list.length > 0)
          .map(([title, list]) => (
            <details key={title} open={title !== 'Given, but used by no model' && list.length <= 8}>
              <summary>
                {title} <span className="quiet">{list.length}</span>
              </summary>
              <ul>
                {list.map((line, i) => (
                  <li key={i}>{line}</li>
                ))}
              </ul>
            </details>
          ))}
      </div>
    </div>
  )
}
