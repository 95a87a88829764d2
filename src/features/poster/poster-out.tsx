'use client'

import { useState } from 'react'
import { safeFileName } from '@/core/formats/safe-file-name'
import { sheetFormatExtensions } from '@/core/sheet/export-sheet'
import { plateOf } from '@/data/page-inks'
import { pageOf, toPx } from '@/data/page-size'
import { pagesOf } from '@/data/poster-series'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { setPosterAuthor } from '@/state/poster-actions'
import { exportSheetFile, posterPdfFile, posterSvgFile } from '@/state/sheet-sync'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { OutPress } from './out-press'
import { useFileExport } from './use-file-export'

const OUT_FORMATS = {
  pdf: 'PDF',
  png8: 'PNG, 8 bit',
  png16: 'PNG, 16 bit',
  jpeg: 'JPEG',
  svg: 'SVG, type and lines',
  platesPdf: 'Plates, PDF with marks',
  platesPng: 'Plates, PNG',
} as const
type OutFormat = keyof typeof OUT_FORMATS

const isPlates = (format: OutFormat): boolean => format === 'platesPdf' || format === 'platesPng'

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
  const [chosen, setFormat] = useState<OutFormat>('pdf')
  const [isSeries, setSeries] = useState(false)
  const [outlines, setOutlines] = useState(false)
  const out = useFileExport()
  const { posterId } = pageOf(page)
  const own = project.posters.find(({ id }) => id === posterId)
  const poster = own?.name ?? project.name
  const author = own?.author ?? ''
  const series = pagesOf(project, posterId)
  const pages = isSeries ? series : [page]
  const inks = pageOf(page).inks
  const isInked = inks?.on ?? false
  // Plates are offered where there are inks.
  const format = isPlates(chosen) && !isInked ? 'pdf' : chosen
  const isPdf = format === 'pdf' || format === 'platesPdf'
  const picture = format === 'png16' || format === 'jpeg' ? format : 'png8'
  const ending = isPdf ? 'pdf' : format === 'svg' ? 'svg' : sheetFormatExtensions[picture]
  /** What is written: each page, or each plate of each. */
  const files = pages.flatMap((own) => {
    const name = `${safeFileName(poster)}_${safeFileName(own.name)}`
    if (!isPlates(format)) return [{ name: `${name}.${ending}`, own, title: poster }]
    return (inks?.list ?? []).map((ink, i) => ({
      name: `${name}_${i + 1}_${safeFileName(ink.name)}.${ending}`,
      own: plateOf(own, ink.id),
      title: `${poster}, ${ink.name}`,
    }))
  })
  const media = isPdf
    ? 'application/pdf'
    : format === 'svg'
      ? 'image/svg+xml'
      : picture === 'jpeg'
        ? 'image/jpeg'
        : 'image/png'
  const make = (
    { own, title }: (typeof files)[number],
    signal: AbortSignal,
    tell: (share01: number) => void,
  ): Promise<Blob | Uint8Array<ArrayBuffer>> => {
    const { widthMm, heightMm, bleedMm, marks, dpi } = pageOf(own)
    if (isPdf) {
      const paper = { widthMm, heightMm, bleedMm, marks: { ...marks } }
      return posterPdfFile(project, own, { paper, options: { title, author, outlines } }, tell, signal)
    }
    if (format === 'svg')
      return posterSvgFile(project, own, { paper: { widthMm, heightMm, bleedMm }, title }, signal)
    const size = { width: own.width, height: own.height }
    const message = {
      type: 'export',
      format: picture,
      size,
      transparent: false,
      crop: trimmed(own),
      dpi,
    } as const
    return exportSheetFile(project, own, message, tell, signal)
  }
  const run = () =>
    out.run(
      files.map((file) => ({
        name: file.name,
        media,
        make: (signal, tell) => make(file, signal, tell),
      })),
      safeFileName(poster),
    )
  useActions('Poster files', [{ id: 'export', label: 'Export the poster', keys: 'e', run: () => void run() }])
  return (
    <section className="section">
      <div className="section-head">Out</div>
      <SelectRow
        id="poster-format"
        label="As"
        value={format}
        onChange={(picked) => setFormat(picked as OutFormat)}
      >
        {Object.entries(OUT_FORMATS)
          .filter(([value]) => isInked || !isPlates(value as OutFormat))
          .map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
      </SelectRow>
      {isPdf && (
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
              maxLength={200}
              onChange={(e) => setPosterAuthor(posterId, e.target.value)}
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
        {files.length === 1 ? files[0].name : `${files.length} files, ${files[0]?.name ?? ''} …`}
      </p>
      <OutPress
        out={out}
        label={
          isPlates(format)
            ? 'Export the plates'
            : `Export ${isPdf ? 'PDF' : format === 'svg' ? 'SVG' : 'the picture'}`
        }
        onPress={() => void run()}
      />
    </section>
  )
}
