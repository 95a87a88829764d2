'use client'

import { useState } from 'react'
import { safeFileName } from '@/core/formats/safe-file-name'
import { sheetFormatExtensions } from '@/core/sheet/export-sheet'
import { pageOf, toPx } from '@/data/page-size'
import { pagesOf } from '@/data/poster-series'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { exportSheetFile, posterPdfFile } from '@/state/sheet-sync'
import { saveFile } from '@/ui/save-file'
import { SwitchRow } from '@/ui/switch-row'
import { ExportStepStyles } from '../export/export-step-styles'
import { OutPress } from './out-press'
import { useFileExport } from './use-file-export'

const OUT_FORMATS = { pdf: 'PDF', png8: 'PNG, 8 bit', png16: 'PNG, 16 bit', jpeg: 'JPEG' } as const
type OutFormat = keyof typeof OUT_FORMATS

interface PosterOutProps {
  readonly project: Project
  readonly page: ProjectSheet
}

/** The part of a page that is left when it is cut, in pixels. */
const trimmed = (page: ProjectSheet) => {
  const { bleedMm, dpi } = pageOf(page)
  const off = Math.round(toPx(bleedMm, { dpi }))
  return { x: off, y: off, width: page.width - 2 * off, height: page.height - 2 * off }
}

/** The page, or every format of its series, as files. */
export function PosterOut({ project, page }: PosterOutProps) {
  const [format, setFormat] = useState<OutFormat>('pdf')
  const [isSeries, setSeries] = useState(false)
  const [outlines, setOutlines] = useState(false)
  const [author, setAuthor] = useState('')
  const out = useFileExport()
  const { posterId } = pageOf(page)
  const poster = project.posters.find(({ id }) => id === posterId)?.name ?? project.name
  const series = pagesOf(project, posterId)
  const pages = isSeries ? series : [page]
  const fileOf = (own: ProjectSheet) =>
    `${safeFileName(poster)}_${safeFileName(own.name)}.${format === 'pdf' ? 'pdf' : sheetFormatExtensions[format]}`
  const write = async (own: ProjectSheet, signal: AbortSignal, tell: (share01: number) => void) => {
    const { widthMm, heightMm, bleedMm, marks, dpi } = pageOf(own)
    if (format === 'pdf') {
      const paper = { widthMm, heightMm, bleedMm, marks: { ...marks } }
      const options = { title: poster, author, outlines }
      const bytes = await posterPdfFile(project, own, { paper, options }, tell, signal)
      saveFile(fileOf(own), bytes, 'application/pdf')
      return
    }
    const size = { width: own.width, height: own.height }
    const message = { type: 'export', format, size, transparent: false, crop: trimmed(own), dpi } as const
    const blob = await exportSheetFile(project, own, message, tell, signal)
    saveFile(fileOf(own), blob, format === 'jpeg' ? 'image/jpeg' : 'image/png')
  }
  const run = () =>
    out.run(pages.map((own) => ({ name: fileOf(own), write: (signal, tell) => write(own, signal, tell) })))
  useActions('Poster files', [{ id: 'export', label: 'Export the poster', keys: 'e', run: () => void run() }])
  return (
    <section className="section">
      <ExportStepStyles />
      <div className="section-head">Out</div>
      <div className="row">
        <label htmlFor="poster-format">As</label>
        <select
          id="poster-format"
          className="plain-select wide"
          value={format}
          onChange={(e) => setFormat(e.target.value as OutFormat)}
        >
          {Object.entries(OUT_FORMATS).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </div>
      {format === 'pdf' && (
        <>
          <SwitchRow
            label="As outlines"
            note="Letters as outlines rather than as text in fonts of their own"
            checked={outlines}
            onChange={setOutlines}
          />
          <div className="row">
            <label htmlFor="poster-author">Author</label>
            <input
              id="poster-author"
              className="plain-select wide"
              value={author}
              onChange={(e) => setAuthor(e.target.value)}
            />
          </div>
        </>
      )}
      {series.length > 1 && (
        <SwitchRow
          label="All formats"
          note="Every format of the series"
          checked={isSeries}
          onChange={setSeries}
        />
      )}
      <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
        {pages.length === 1 ? fileOf(page) : `${pages.length} files`}
      </p>
      <OutPress
        out={out}
        label={`Export ${format === 'pdf' ? 'PDF' : 'the picture'}`}
        onPress={() => void run()}
      />
    </section>
  )
}
