'use client'

import Button from '@mui/material/Button'
import Switch from '@mui/material/Switch'
import { SHEET_FORMATS, sheetFormatLabels, type SheetFormat } from '@/core/sheet/export-sheet'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import type { ProjectSheet } from '@/data/project-schema'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'

/** What kind of file the sheet becomes. */
export interface SheetFile {
  readonly format: SheetFormat
  readonly percent: number
  readonly transparent: boolean
}

interface SheetFileSectionProps {
  readonly sheet: ProjectSheet
  readonly file: SheetFile
  readonly onChange: (patch: Partial<SheetFile>) => void
  readonly name: string
  readonly width: number
  readonly height: number
  readonly busy: string | null
  readonly onExport: () => void
}

/** The sheet as a picture: format, size, background. */
export function SheetFileSection(props: SheetFileSectionProps) {
  const { sheet, file, onChange, name, width, height, busy, onExport } = props
  const { format, percent, transparent } = file
  return (
    <section className="section">
      <div className="section-head">The sheet</div>
      <SelectRow
        id="format"
        label="As"
        value={format}
        onChange={(picked) => {
          const next = SHEET_FORMATS.find((f) => f === picked) ?? format
          onChange({ format: next, percent: Math.min(percent, mostPercent(next, sheet)) })
        }}
      >
        {SHEET_FORMATS.map((f) => (
          <option key={f} value={f}>
            {sheetFormatLabels[f]}
          </option>
        ))}
      </SelectRow>
      <NumberField
        label="Size"
        value={percent}
        min={10}
        max={mostPercent(format, sheet)}
        step={5}
        unit="%"
        defaultValue={100}
        logarithmic
        onChange={(value) => onChange({ percent: value })}
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
            onChange={(e) => onChange({ transparent: !e.target.checked })}
            slotProps={{ input: { 'aria-label': 'With background' } }}
          />
        </span>
      </div>
      <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
        {name}
      </p>
      {format === 'ora' && (
        <p className="quiet" data-testid="ora-note">
          OpenRaster knows neither masks nor effects: they become part of each layer’s pixels. A wash, and a
          layer in a mode it has no name for, becomes a picture of what is seen.
          {sheet.blendSpace === 'linear' &&
            ' Programs that open it blend display values, not linear light: the layers will look different there, the merged picture inside is right.'}
        </p>
      )}
      <Button
        variant="contained"
        fullWidth
        disabled={busy !== null}
        onClick={onExport}
        data-testid="export-sheet"
      >
        {busy === 'Export' ? 'Writing …' : 'Export the sheet'}
      </Button>
    </section>
  )
}

/** A layered file holds each layer as a whole; a flat one is written row by row. */
function mostPercent(format: SheetFormat, { width, height }: ProjectSheet): number {
  const mostSide = format === 'ora' ? MAX_PICTURE_SIDE / 2 : MAX_PICTURE_SIDE
  return Math.max(100, Math.floor((100 * mostSide) / Math.max(width, height)))
}
