'use client'

import { baseName } from '@/core/formats/file-bundle'
import { plural } from '@/core/plural'
import type { Project } from '@/data/project-schema'
import { putOutcomeAway, useImportStore, type ImportOutcome } from '@/state/import-models'
import { ImportReportStyles } from './import-report-styles'

const UNUSED = 'Given, but used by no model'

function summary(outcome: ImportOutcome, isReplaced: boolean): string {
  const said: string[] = []
  if (isReplaced) said.push('The model was replaced.')
  else if (outcome.added.length > 0) said.push(`${plural(outcome.added.length, 'model')} came in.`)
  if (outcome.pinned.length > 0) said.push(`${plural(outcome.pinned.length, 'picture')} pinned as reference.`)
  if (outcome.problems.length > 0)
    said.push(
      `${outcome.problems.length === 1 ? 'One file was' : `${outcome.problems.length} files were`} not added.`,
    )
  if (outcome.cancelled) said.push('The rest was cancelled; what had come in stays.')
  return said.join(' ')
}

/** What there is to tell of an import, by title; empty where all went well. */
export function reportLists(
  project: Project,
  { added, problems, unused, unmatched }: ImportOutcome,
): (readonly [string, readonly string[]])[] {
  const missing = project.models
    .filter((model) => added.includes(model.id))
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
    [UNUSED, unused.map(baseName)],
  ]
  return lists.filter(([, list]) => list.length > 0)
}

/** What came of the last import, in full, until it is put away. */
export function ImportReport({ project }: { project: Project }) {
  const outcome = useImportStore((s) => s.outcome)
  const projectId = useImportStore((s) => s.projectId)
  if (!outcome || projectId !== project.id) return null
  const { problems, unmatched } = outcome
  const isWrong = problems.length > 0
  return (
    <div className={`import-report ${isWrong ? 'problem' : ''}`} role={isWrong ? 'alert' : 'status'}>
      <ImportReportStyles />
      <div className="import-head">
        <b>{summary(outcome, unmatched !== null)}</b>
        {isWrong && <span> The project is as it was otherwise.</span>}
        <span className="spacer" />
        <button className="link" onClick={putOutcomeAway}>
          Put away
        </button>
      </div>
      <div className="import-lists">
        {reportLists(project, outcome).map(([title, list]) => (
          <details key={title} open={title !== UNUSED && list.length <= 8}>
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
