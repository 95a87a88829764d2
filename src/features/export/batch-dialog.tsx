'use client'

import { useId, useMemo, useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import {
  BATCH_WORDS,
  batchFiles,
  choiceProblem,
  isPassFormat,
  isSheetFormat,
  nextVersion,
  PURPOSES,
  type BatchChoice,
} from '@/core/batch/batch-plan'
import { CancelledError } from '@/core/errors'
import { PASS_FORMATS } from '@/core/formats/pass-file'
import { safeFileName } from '@/core/formats/safe-file-name'
import { plural } from '@/core/plural'
import { SHEET_FORMATS, sheetFormatLabels } from '@/core/sheet/export-sheet'
import type { Project } from '@/data/project-schema'
import {
  batchLog,
  batchSources,
  cancelBatch,
  filesIn,
  finishBatch,
  folderTarget,
  forgetBatch,
  isBatchBusy,
  pauseBatch,
  resumeBatch,
  retryBatch,
  runBatch,
  useBatch,
  zipTarget,
  type BatchRow,
} from '@/state/batch-run'
import { folderPicker } from '@/ui/pick-folder'
import { ProgressBar } from '@/ui/progress-bar'
import { saveFile } from '@/ui/save-file'
import { SelectRow } from '@/ui/select-row'
import { BatchDialogStyles } from './batch-dialog-styles'

const PERCENTS = [25, 50, 100, 200, 300]
const PASS_FORMAT_LABELS = { png: 'PNG, 8 bit', png16: 'PNG, 16 bit', exr: 'EXR, as rendered' } as const
const STATE_WORDS: Readonly<Record<BatchRow['state'], string>> = {
  waiting: 'waits',
  working: 'is written',
  written: 'written',
  failed: 'failed',
}

/** What was chosen last, for each project, as long as the tab is open. */
const remembered = new Map<string, BatchChoice>()

const NO_BATCH = { state: 'none', rows: [], share: 0 } as const satisfies Partial<
  ReturnType<typeof useBatch.getState>
>

/** A folder of the person's, and what is in it. */
interface Folder {
  readonly handle: FileSystemDirectoryHandle
  readonly there: ReadonlySet<string>
}

/** Many files in one press: sheets and passes, at several sizes, under names by a pattern. */
export function BatchDialog({
  project,
  onClose,
}: {
  readonly project: Project
  readonly onClose: () => void
}) {
  const id = useId()
  const batch = useBatch()
  // What another project's told is nothing of this one's.
  const isOwn = batch.projectId === project.id
  const { state, rows, share } = isOwn ? batch : NO_BATCH
  const sources = useMemo(() => batchSources(project), [project])
  const [choice, setChoice] = useState<BatchChoice>(
    () =>
      remembered.get(project.id) ?? {
        ...PURPOSES.screen.choice,
        chosen: sources.filter(({ what }) => what === 'sheet').map((own) => own.id),
      },
  )
  const [folder, setFolder] = useState<Folder | null>(null)
  const [told, setTold] = useState<{ readonly text: string; readonly bad: boolean } | null>(null)
  const change = (patch: Partial<BatchChoice>) => {
    const next = { ...choice, ...patch }
    remembered.set(project.id, next)
    setChoice(next)
    forgetBatch()
    setTold(null)
  }
  const isThere = (file: string) => folder?.there.has(file.toLowerCase()) ?? false
  const version = nextVersion(project.name, sources, choice, isThere)
  const files = batchFiles(project.name, sources, choice, version, isThere)
  const problem = choiceProblem(choice) ?? files.find((file) => file.problem !== null)?.problem ?? null
  const isBusy = isBatchBusy({ state })
  const isOtherBusy = !isOwn && isBatchBusy(batch)
  const shown: readonly (BatchRow | (typeof files)[number])[] = isBusy || state === 'over' ? rows : files
  const done = rows.filter((row) => row.state === 'written').length
  const failed = rows.filter((row) => row.state === 'failed').length
  const zipName = `${safeFileName(project.name)}_batch.zip`
  const attempt = async (action: () => Promise<Blob | null>) => {
    setTold(null)
    try {
      const zip = await action()
      if (zip) saveFile(zipName, zip)
      const now = useBatch.getState().rows
      const bad = now.filter((row) => row.state === 'failed').length
      const written = plural(now.filter((row) => row.state === 'written').length, 'file')
      setTold(
        bad > 0
          ? { text: `${plural(bad, 'file')} failed, ${written} made. Why is beside each.`, bad: true }
          : {
              text: zip
                ? `${zipName} is with your downloads: ${written}.`
                : `${written} written to ${folder?.handle.name ?? 'the folder'}.`,
              bad: false,
            },
      )
    } catch (error) {
      setTold(
        error instanceof CancelledError
          ? {
              text: folder ? 'Cancelled. What was written before stays.' : 'Cancelled. Nothing was written.',
              bad: false,
            }
          : { text: error instanceof Error ? error.message : String(error), bad: true },
      )
    }
  }
  const pick = folderPicker()
  const chooseFolder = async () => {
    try {
      const handle = await pick?.({ mode: 'readwrite' })
      if (!handle) return
      setFolder({ handle, there: await filesIn(handle) })
      forgetBatch()
      setTold(null)
    } catch (error) {
      if (!(error instanceof DOMException && error.name === 'AbortError'))
        setTold({ text: error instanceof Error ? error.message : String(error), bad: true })
    }
  }
  const start = async (target: Folder | null) => {
    await attempt(() => runBatch(project, files, choice, target ? folderTarget(target.handle) : zipTarget()))
    // What was written is there now: the next press takes the next version.
    if (target) setFolder({ ...target, there: await filesIn(target.handle).catch(() => target.there) })
  }
  const toggle = (own: string, on: boolean) =>
    change({ chosen: on ? [...choice.chosen, own] : choice.chosen.filter((other) => other !== own) })
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth aria-labelledby={`${id}-title`}>
      <BatchDialogStyles />
      <DialogTitle id={`${id}-title`}>Many files in one press</DialogTitle>
      <DialogContent className="batch">
        <fieldset className="batch-what" disabled={isBusy}>
          <legend className="section-head">What</legend>
          {(['sheet', 'pass'] as const).map((what) => (
            <ul key={what} aria-label={what === 'sheet' ? 'Sheets and pages' : 'Rendered passes'}>
              {sources
                .filter((own) => own.what === what)
                .map((own) => (
                  <li key={own.id}>
                    <label>
                      <input
                        type="checkbox"
                        checked={choice.chosen.includes(own.id)}
                        onChange={(e) => toggle(own.id, e.target.checked)}
                      />
                      <span>{own.name}</span>
                      {what === 'pass' && <span className="quiet">{own.shot}</span>}
                    </label>
                  </li>
                ))}
            </ul>
          ))}
        </fieldset>
        <fieldset className="batch-how" disabled={isBusy}>
          <legend className="section-head">How</legend>
          <SelectRow
            id={`${id}-purpose`}
            label="For"
            value=""
            onChange={(own) => change(PURPOSES[own].choice)}
            testId="batch-purpose"
          >
            <option value="">Choose …</option>
            {Object.entries(PURPOSES).map(([own, { label }]) => (
              <option key={own} value={own}>
                {label}
              </option>
            ))}
          </SelectRow>
          <SelectRow
            id={`${id}-sheets`}
            label="Sheets as"
            value={choice.sheetFormat}
            onChange={(own) => isSheetFormat(own) && change({ sheetFormat: own })}
          >
            {SHEET_FORMATS.map((own) => (
              <option key={own} value={own}>
                {sheetFormatLabels[own]}
              </option>
            ))}
          </SelectRow>
          <SelectRow
            id={`${id}-passes`}
            label="Passes as"
            value={choice.passFormat}
            onChange={(own) => isPassFormat(own) && change({ passFormat: own })}
          >
            {PASS_FORMATS.map((own) => (
              <option key={own} value={own}>
                {PASS_FORMAT_LABELS[own]}
              </option>
            ))}
          </SelectRow>
          <div className="row" role="group" aria-label="Sizes of sheets">
            <span className="label">Sizes</span>
            <span className="wide batch-sizes">
              {PERCENTS.map((own) => (
                <button
                  key={own}
                  type="button"
                  className="link"
                  aria-pressed={choice.percents.includes(own)}
                  onClick={() =>
                    change({
                      percents: choice.percents.includes(own)
                        ? choice.percents.filter((other) => other !== own)
                        : [...choice.percents, own].sort((a, b) => a - b),
                    })
                  }
                >
                  {own} %
                </button>
              ))}
            </span>
          </div>
          <div className="row">
            <label htmlFor={`${id}-pattern`}>Called</label>
            <input
              id={`${id}-pattern`}
              className="plain-text wide"
              value={choice.pattern}
              maxLength={200}
              aria-describedby={`${id}-words`}
              onChange={(e) => change({ pattern: e.target.value })}
              data-testid="batch-pattern"
            />
          </div>
          <p className="quiet" id={`${id}-words`}>
            {BATCH_WORDS.map((word) => `{${word}}`).join(' ')}; a / makes folders. A version is never written
            over.
          </p>
          <div className="row">
            <span className="label">To</span>
            <span className="wide batch-to">
              {folder ? folder.handle.name : 'a zip'}
              {pick && (
                <button type="button" className="link" onClick={() => void chooseFolder()}>
                  {folder ? 'Another folder' : 'Choose a folder'}
                </button>
              )}
              {folder && (
                <button type="button" className="link" onClick={() => setFolder(null)}>
                  A zip
                </button>
              )}
            </span>
          </div>
        </fieldset>
        <section className="batch-files" aria-label="Files">
          <div className="section-head">
            <span>Files</span>
            <span className="quiet" data-testid="batch-count">
              {isBusy || state === 'over' ? `${done} of ${rows.length} made` : plural(files.length, 'file')}
            </span>
          </div>
          <div className="batch-table" tabIndex={0} role="group" aria-label="List of files">
            <table>
              <thead>
                <tr>
                  <th>File</th>
                  <th>Pixels</th>
                  <th>State</th>
                </tr>
              </thead>
              <tbody data-testid="batch-rows">
                {shown.map((row, i) => (
                  <tr key={i}>
                    <td>{row.file}</td>
                    <td>
                      {row.width} × {row.height}
                    </td>
                    <td className={isBad(row) ? 'bad' : 'quiet'}>{stateOf(row)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {isBusy && (
            <ProgressBar
              label="Files made"
              share01={(done + failed + (state === 'running' ? share : 0)) / rows.length}
            />
          )}
          <p
            className={told?.bad || (problem && !isBusy && state !== 'over') ? 'problem' : 'quiet'}
            role="status"
            data-testid="batch-told"
          >
            {told?.text ??
              (isOtherBusy
                ? 'Files of another project are being made.'
                : !isBusy && state !== 'over' && problem
                  ? capital(problem)
                  : '')}
          </p>
        </section>
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        {rows.length > 0 && (
          <Button
            onClick={() => saveFile('batch-log.txt', new Blob([batchLog(rows)], { type: 'text/plain' }))}
          >
            Save the log
          </Button>
        )}
        <span className="spacer" />
        {isBusy ? (
          <>
            <Button onClick={cancelBatch}>Cancel</Button>
            <Button
              variant="outlined"
              onClick={state === 'paused' ? resumeBatch : pauseBatch}
              data-testid="batch-pause"
            >
              {state === 'paused' ? 'Go on' : 'Pause'}
            </Button>
          </>
        ) : null}
        <Button onClick={onClose}>Close</Button>
        {state === 'over' && failed > 0 && (
          <>
            <Button onClick={() => void attempt(finishBatch)}>Without them</Button>
            <Button variant="outlined" onClick={() => void attempt(retryBatch)} data-testid="batch-retry">
              Try again
            </Button>
          </>
        )}
        {!isBusy && (
          <Button
            variant="contained"
            disabled={problem !== null || isOtherBusy}
            onClick={() => void start(folder)}
            data-testid="batch-start"
          >
            {folder ? 'Write them' : 'Write the zip'}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  )
}

type Shown = BatchRow | ReturnType<typeof batchFiles>[number]
const isBad = (row: Shown): boolean => ('state' in row ? row.state === 'failed' : row.problem !== null)
const stateOf = (row: Shown): string =>
  'state' in row ? (row.why ?? STATE_WORDS[row.state]) : (row.problem ?? 'new')
const capital = (text: string): string =>
  `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.!]$/.test(text) ? '' : '.'}`
