'use client'

import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import Button from '@mui/material/Button'
import { safeFileName } from '@/core/formats/safe-file-name'
import { sheetFormatExtensions } from '@/core/sheet/export-sheet'
import { activeSheet } from '@/data/active-shot'
import { packProject } from '@/data/storage-service'
import { useActions } from '@/state/actions'
import { attemptExport, cancelExport, forgetExport, tellExport, useExportWork } from '@/state/export-work'
import { flushSave } from '@/state/project-store'
import { sceneFile } from '@/state/render-scene'
import { exportSheetFile } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'
import { InspectorWithFoot } from '@/ui/inspector-with-foot'
import { useOpenProject } from '@/ui/open-project'
import { PictureView } from '@/ui/picture-view'
import { saveFile } from '@/ui/save-file'
import { ProofCanvas } from '../sheet/proof-canvas'
import { ProofLook, scaledSize } from '../sheet/proof-look'
import { BatchDialog } from './batch-dialog'
import { BatchSection } from './batch-section'
import { ExportLines, LinesAlone, type ShownLines } from './export-lines'
import { ExportProgress } from './export-progress'
import { ExportWarnings } from './export-warnings'
import { PassesSection } from './passes-section'
import { SeparationsSection } from './separations-section'
import { SheetFileSection, type SheetFile } from './sheet-file-section'

/** The sheet as a file, the shot's lines as vectors, the project as an archive. */
export function ExportStep() {
  const project = useOpenProject()
  const sheet = activeSheet(project)
  const [file, setFile] = useState<SheetFile>({ format: 'png8', percent: 100, transparent: false })
  const { format, percent, transparent } = file
  const { busy, share01, told } = useExportWork()
  const [lines, setLines] = useState<ShownLines | null>(null)
  const batch = useViewStore((s) => s.batch)
  const openBatch = () => setBench({ batch: 'all' })
  const [look] = useState(() => new ProofLook())
  const scale = useStore(look.store, (now) => now.scale)
  const width = Math.max(1, Math.round((sheet.width * percent) / 100))
  const height = Math.max(1, Math.round((sheet.height * percent) / 100))
  const name = `${safeFileName(project.name)}_${safeFileName(sheet.name)}${percent === 100 ? '' : `_${width}x${height}`}.${sheetFormatExtensions[format]}`
  const exportSheet = () =>
    attemptExport('Export', async (signal) => {
      const bytes = await exportSheetFile(
        project,
        sheet,
        { type: 'export', format, size: { width, height }, transparent },
        tellExport,
        signal,
      )
      saveFile(name, bytes, format === 'ora' ? 'image/openraster' : 'image/png')
      return `${name} is with your downloads.`
    })
  const exportArchive = () =>
    attemptExport('Archive', async (signal) => {
      await flushSave()
      const archive = `${safeFileName(project.name)}.zip`
      saveFile(archive, await packProject(project, signal, tellExport), 'application/zip')
      return `${archive} is with your downloads.`
    })
  const exportScene = () =>
    attemptExport('Scene', async (signal) => {
      const file = `${safeFileName(project.name)}.glb`
      saveFile(file, await sceneFile(project, signal), 'model/gltf-binary')
      return `${file} is with your downloads.`
    })
  // What was told is read once.
  useEffect(() => forgetExport, [])
  useActions('Export', [
    { id: 'sheet', label: 'Export the sheet', keys: 'e', run: () => void exportSheet() },
    { id: 'scene', label: 'Export the scene as GLB', run: () => void exportScene() },
    { id: 'batch', label: 'Many files in one press', keys: 'm', run: openBatch },
    {
      id: 'changed',
      label: 'Write again what changed since it was written',
      run: () => setBench({ batch: 'changed' }),
    },
    { id: 'archive', label: 'Export the project archive', keys: 'Shift+E', run: () => void exportArchive() },
  ])
  return (
    <div className="step" style={{ gridTemplateColumns: 'minmax(0, 1fr) 380px' }}>
      <PictureView
        width={sheet.width}
        height={sheet.height}
        picture={<ProofCanvas project={project} look={look} label="What will be exported" />}
        onLook={look.take}
      >
        {lines && <LinesAlone lines={lines} {...scaledSize(sheet, scale ?? 1)} />}
      </PictureView>
      <InspectorWithFoot
        foot={
          (busy !== null || told) && (
            <div className="inspector-foot">
              {busy && <ExportProgress busy={busy} share01={share01} onCancel={cancelExport} />}
              {told && (
                <div className={told.bad ? 'problem' : undefined} role="status" data-testid="export-told">
                  {told.text}
                </div>
              )}
            </div>
          )
        }
      >
        <div className="inspector-head">
          <h2 className="display">Export</h2>
          <span className="quiet">{sheet.name}</span>
        </div>
        <ExportWarnings project={project} />
        <SheetFileSection
          sheet={sheet}
          file={file}
          onChange={(patch) => setFile({ ...file, ...patch })}
          name={name}
          width={width}
          height={height}
          busy={busy}
          onExport={() => void exportSheet()}
        />
        <ExportLines project={project} busy={busy} onShow={setLines} />
        <SeparationsSection project={project} busy={busy} />
        <PassesSection project={project} busy={busy} />
        <BatchSection onOpen={openBatch} />
        <section className="section">
          <div className="section-head">The scene</div>
          <p className="quiet" style={{ marginTop: 0 }}>
            A GLB of the models as they stand, with groups, copies and the colours of now. It has triangles
            where you have polygons, and neither lights nor camera.
          </p>
          <Button
            variant="outlined"
            fullWidth
            disabled={busy !== null || project.models.length === 0}
            onClick={() => void exportScene()}
            data-testid="export-scene"
          >
            {busy === 'Scene' ? 'Writing …' : 'Export the scene'}
          </Button>
        </section>
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
      </InspectorWithFoot>
      {batch && (
        <BatchDialog
          project={project}
          onlyChanged={batch === 'changed'}
          onClose={() => setBench({ batch: null })}
        />
      )}
    </div>
  )
}
