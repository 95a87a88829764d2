'use client'

import { useId, useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import type { BatchFile } from '@/core/batch/batch-plan'
import { CancelledError } from '@/core/errors'
import { safeFileName } from '@/core/formats/safe-file-name'
import { plural } from '@/core/plural'
import type { Project } from '@/data/project-schema'
import {
  batchLog,
  cancelBatch,
  finishBatch,
  forgetBatch,
  isBatchBusy,
  pauseBatch,
  resumeBatch,
  retryBatch,
  runBatch,
  useBatch,
  type BatchRow,
} from '@/state/batch-run'
import { filesIn, folderTarget, zipTarget } from '@/state/batch-targets'
import { folderPicker } from '@/ui/pick-folder'
import { ProgressBar } from '@/ui/progress-bar'
import { saveFile } from '@/ui/save-file'
import { BatchDialogStyles } from './batch-dialog-styles'
import { BatchHow } from './batch-how'
import { BatchWhat } from './batch-what'
import { useBatchPlan, type BatchPlan } from './use-batch-plan'

const STATE_WORDS: Readonly<Record<BatchRow['state'], string>> = {
  waiting: 'waits',
  working: 'is written',
  written: 'written',
  failed: 'failed',
}

const NO_BATCH = { state: 'none', rows: [], share: 0 } as const satisfies Partial<
  ReturnType<typeof useBatch.getState>
>

/** A folder of the person's, and what is in it. */
interface Folder {
  readonly handle: FileSystemDirectoryHandle
  readonly there: ReadonlySet<string>
}

interface BatchDialogProps {
  readonly project: Project
  /** Whether it begins with what is another than when it was written. */
  readonly onlyChanged: boolean
  readonly onClose: () => void
}

const NOWHERE: ReadonlySet<string> = new Set()

/** Many files in one press: sheets and passes, at several sizes, under names by a pattern. */
export function BatchDialog({ project, onlyChanged, onClose }: BatchDialogProps) {
  const id = useId()
  const batch = useBatch()
  // What another project's told is nothing of this one's.
  const isOwn = batch.projectId === project.id
  const { state, rows, share } = isOwn ? batch : NO_BATCH
  const [folder, setFolder] = useState<Folder | null>(null)
  const [told, setTold] = useState<{ readonly text: string; readonly bad: boolean } | null>(null)
  const plan = useBatchPlan(project, folder?.there ?? NOWHERE, onlyChanged)
  const { choice, files, problem, frames } = plan
  const own: BatchPlan = {
    ...plan,
    change: (patch) => {
      plan.change(patch)
      forgetBatch()
      setTold(null)
    },
  }
  const isBusy = isBatchBusy({ state })
  const isOtherBusy = !isOwn && isBatchBusy(batch)
  const shown: readonly Shown[] = isBusy || state === 'over' ? rows : files
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
    const to = target ? folderTarget(target.handle) : zipTarget()
    await attempt(() => runBatch({ project, choice, frames, target: to }, files))
    // What was written is there now: the next press takes the next version.
    if (target) setFolder({ ...target, there: await filesIn(target.handle).catch(() => target.there) })
  }
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth aria-labelledby={`${id}-title`}>
      <BatchDialogStyles />
      <DialogTitle id={`${id}-title`}>Many files in one press</DialogTitle>
      <DialogContent className="batch">
        <BatchWhat plan={own} isBusy={isBusy} />
        <BatchHow
          id={id}
          project={project}
          plan={own}
          isBusy={isBusy}
          onProblem={(text) => setTold({ text, bad: true })}
        >
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
        </BatchHow>
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

type Shown = BatchRow | BatchFile
const isBad = (row: Shown): boolean => ('state' in row ? row.state === 'failed' : row.problem !== null)
const stateOf = (row: Shown): string =>
  'state' in row ? (row.why ?? STATE_WORDS[row.state]) : (row.problem ?? row.since)
const capital = (text: string): string =>
  `${text.charAt(0).toUpperCase()}${text.slice(1)}${/[.!]$/.test(text) ? '' : '.'}`
