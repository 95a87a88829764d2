'use client'

import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import Switch from '@mui/material/Switch'
import {
  SHEET_FORMATS,
  sheetFormatExtensions,
  sheetFormatLabels,
  type SheetFormat,
} from '@/core/sheet/export-sheet'
import { passKind } from '@/core/passes/registry'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { CancelledError } from '@/core/errors'
import { activeSheet, activeShot } from '@/data/active-shot'
import { packProject } from '@/data/storage-service'
import { safeFileName } from '@/core/formats/safe-file-name'
import { useActions } from '@/state/actions'
import { maskProblem } from '@/state/mask-source'
import { sheetSize } from '@/state/sheet-actions'
import { useSourceProblems } from '@/state/source-problems'
import { outOfRegister } from '@/state/pass-status'
import { flushSave } from '@/state/project-store'
import { exportSheetFile } from '@/state/sheet-sync'
import { useOpenProject } from '@/ui/open-project'
import { NumberField } from '@/ui/number-field'
import { saveFile } from '@/ui/save-file'
import { ExportLines, LinesAlone, type ShownLines } from './export-lines'
import { sourceIdOf } from '../sheet/layer-actions'
import { useProof, useProofScale } from '../sheet/use-proof'
import { PictureView } from '@/ui/picture-view'
import { ProgressBar } from '@/ui/progress-bar'

/** What went wrong, in words that tell what to do. */
function exportProblem(error: unknown): string {
  const text = error instanceof Error ? error.message : String(error)
  return /allocation|out of memory|invalid array length/i.test(text)
    ? 'this tab has not enough memory for a picture of that size. Choose a smaller one.'
    : `${text}.`
}

const BUSY_TEXT: Readonly<Record<string, string>> = {
  Export: 'Writing the sheet',
  Archive: 'Packing the archive',
  Lines: 'Finding the lines',
}

/** The sheet as a file, the shot's lines as vectors, the project as an archive. */
export function ExportStep() {
  const project = useOpenProject()
  const sheet = activeSheet(project)
  const [format, setFormat] = useState<SheetFormat>('png8')
  const [transparent, setTransparent] = useState(false)
  const [percent, setPercent] = useState(100)
  const [busy, setBusy] = useState<string | null>(null)
  const [share, setShare] = useState<number | null>(null)
  const abortRef = useRef<AbortController | null>(null)
  const [told, setTold] = useState<{ text: string; bad: boolean } | null>(null)
  const [lines, setLines] = useState<ShownLines | null>(null)
  const [scale, onZoom] = useProofScale()
  const proof = useProof(project, Infinity, null, scale)
  const width = Math.max(1, Math.round((sheet.width * percent) / 100))
  const height = Math.max(1, Math.round((sheet.height * percent) / 100))
  const name = `${safeFileName(project.name)}_${safeFileName(sheet.name)}${percent === 100 ? '' : `_${width}x${height}`}.${sheetFormatExtensions[format]}`
  const stale = outOfRegister(project)
  const used = new Set(
    sheet.layers.flatMap((l) => (l.visible && l.source.type === 'pass' ? [l.source.passId] : [])),
  )
  const staleUsed = stale.filter((p) => used.has(p.id))
  const drafts = project.passes.filter(
    (p) => used.has(p.id) && p.rendered?.quality === 'draft' && passKind(p.kind).isSampled,
  )
  const lost = sheet.layers.flatMap((layer) => {
    const why = layer.visible ? maskProblem(project, layer) : null
    return why ? [{ id: layer.id, name: layer.name, why }] : []
  })
  const broken = useSourceProblems()
  const unseen = sheet.layers.flatMap(({ id, name, visible, source }) => {
    const why = visible ? broken[sourceIdOf(source)] : undefined
    return why === undefined ? [] : [{ id, name, why }]
  })
  const { frame } = activeShot(project)
  const differs = sheetSize(project) === 'another shape'
  const attempt = async (what: string, action: (signal: AbortSignal) => Promise<string>) => {
    // Keys and buttons alike: one thing is written at a time.
    if (abortRef.current) return
    const abort = new AbortController()
    abortRef.current = abort
    setBusy(what)
    setShare(null)
    setTold(null)
    try {
      const text = await action(abort.signal)
      setTold(text ? { text, bad: false } : null)
    } catch (error) {
      setTold(
        error instanceof CancelledError
          ? { text: `${what} cancelled. Nothing was written.`, bad: false }
          : { text: `${what} did not succeed: ${exportProblem(error)} The project is unchanged.`, bad: true },
      )
    } finally {
      abortRef.current = null
      setBusy(null)
    }
  }
  const exportSheet = () =>
    attempt('Export', async (signal) => {
      const bytes = await exportSheetFile(
        project,
        { type: 'export', sheet, format, size: { width, height }, transparent },
        setShare,
        signal,
      )
      saveFile(name, bytes, format === 'ora' ? 'image/openraster' : 'image/png')
      return `${name} is with your downloads.`
    })
  const exportArchive = () =>
    attempt('Archive', async (signal) => {
      await flushSave()
      const file = `${safeFileName(project.name)}.zip`
      saveFile(file, await packProject(project, signal, setShare), 'application/zip')
      return `${file} is with your downloads.`
    })
  useActions('Export', [
    { id: 'sheet', label: 'Export the sheet', keys: 'e', run: () => void exportSheet() },
    { id: 'archive', label: 'Export the project archive', keys: 'Shift+E', run: () => void exportArchive() },
  ])
  return (
    <div className="step" style={{ gridTemplateColumns: 'minmax(0, 1fr) 380px' }}>
      <PictureView
        width={sheet.width}
        height={sheet.height}
        canvasRef={proof.canvasRef}
        onZoom={onZoom}
        label="What will be exported"
      >
        {lines && <LinesAlone lines={lines} width={proof.width} height={proof.height} />}
      </PictureView>
      <aside className="inspector" aria-label="Inspector">
        <div className="inspector-head">
          <h2 className="display">Export</h2>
          <span className="quiet">{sheet.name}</span>
        </div>
        {(staleUsed.length > 0 ||
          drafts.length > 0 ||
          sheet.layers.length === 0 ||
          lost.length > 0 ||
          unseen.length > 0 ||
          differs) && (
          <div className="problem" style={{ marginBottom: 12 }}>
            <b>Before you export</b>
            <ul>
              {sheet.layers.length === 0 && <li>The sheet has no layers yet.</li>}
              {unseen.map(({ id, name, why }) => (
                <li key={id}>
                  {name} shows nothing: {why}.
                </li>
              ))}
              {lost.map(({ id, name, why }) => (
                <li key={id}>
                  The mask of {name}: {why}.
                </li>
              ))}
              {differs && (
                <li>
                  The sheet is {sheet.width} × {sheet.height}, its shot {frame.width} × {frame.height}:
                  pictures are {sheet.fit === 'crop' ? 'cropped' : 'shown whole'}.
                </li>
              )}
              {staleUsed.length > 0 && (
                <li>
                  {staleUsed.length} of the passes shown {staleUsed.length === 1 ? 'is' : 'are'} out of
                  register.
                </li>
              )}
              {drafts.length > 0 && (
                <li>
                  {drafts.length} of the passes shown {drafts.length === 1 ? 'is a draft' : 'are drafts'}.
                </li>
              )}
            </ul>
          </div>
        )}
        <section className="section">
          <div className="section-head">The sheet</div>
          <div className="row">
            <label htmlFor="format">As</label>
            <select
              id="format"
              className="plain-select wide"
              value={format}
              onChange={(e) => setFormat(e.target.value as SheetFormat)}
            >
              {SHEET_FORMATS.map((f) => (
                <option key={f} value={f}>
                  {sheetFormatLabels[f]}
                </option>
              ))}
            </select>
          </div>
          <NumberField
            label="Size"
            value={percent}
            min={10}
            max={Math.max(
              100,
              Math.floor((100 * Math.min(MAX_PICTURE_SIDE, 8192)) / Math.max(sheet.width, sheet.height)),
            )}
            step={5}
            unit="%"
            defaultValue={100}
            logarithmic
            onChange={setPercent}
          />
          <div className="row">
            <span className="label">Pixels</span>
            <span />
            <b>
              {width} × {height}
            </b>
          </div>
          <div className="row">
            <span className="label">Background</span>
            <span className="wide" style={{ textAlign: 'right' }}>
              <Switch
                size="small"
                color="secondary"
                disabled={sheet.background === null}
                checked={!transparent && sheet.background !== null}
                onChange={(e) => setTransparent(!e.target.checked)}
                slotProps={{ input: { 'aria-label': 'With background' } }}
              />
            </span>
          </div>
          <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
            {name}
          </p>
          <Button
            variant="contained"
            fullWidth
            disabled={busy !== null}
            onClick={() => void exportSheet()}
            data-testid="export-sheet"
          >
            {busy === 'Export' ? 'Writing …' : 'Export the sheet'}
          </Button>
        </section>
        <ExportLines project={project} busy={busy} attempt={attempt} onShare={setShare} onShow={setLines} />
        <section className="section">
          <div className="section-head">The whole project</div>
          <p className="quiet" style={{ marginTop: 0 }}>
            A zip of JSON, your models as you gave them, and the passes as EXR and PLY. Open it on any machine
            from the projects page.
          </p>
          <Button
            variant="outlined"
            fullWidth
            disabled={busy !== null}
            onClick={() => void exportArchive()}
            data-testid="export-archive"
          >
            {busy === 'Archive' ? 'Packing …' : 'Export the archive'}
          </Button>
        </section>
        {busy && (
          <div style={{ paddingTop: 4 }}>
            <div style={{ display: 'flex', gap: 8 }}>
              <span role="status">
                {BUSY_TEXT[busy] ?? busy}
                {share !== null && `, ${Math.round(share * 100)} %`}
              </span>
              <span className="spacer" />
              <button className="link" onClick={() => abortRef.current?.abort()}>
                Cancel
              </button>
            </div>
            <ProgressBar label={busy} share01={share} />
          </div>
        )}
        {sheet.blendSpace === 'linear' && format === 'ora' && (
          <p className="quiet">
            This sheet blends in linear light. Programs that open OpenRaster blend display values: the layers
            will look different there, the merged picture inside is right.
          </p>
        )}
        {told && (
          <div className={told.bad ? 'problem' : 'section'} role="status" data-testid="export-told">
            {told.text}
          </div>
        )}
      </aside>
    </div>
  )
}
