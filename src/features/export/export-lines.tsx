'use client'

import { useState } from 'react'
import Button from '@mui/material/Button'
import Switch from '@mui/material/Switch'
import { DEFAULT_LINE_SETTING } from '@/core/lines/find-lines'
import { LINE_STYLES } from '@/core/lines/line-style'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { exportLines } from '@/state/line-export'
import { NumberField } from '@/ui/number-field'
import { saveFile, safeName } from '@/ui/save-file'

/** Height of a sheet of A3 on its side. */
const PAPER_MM = 297

interface ExportLinesProps {
  readonly project: Project
  /** What is being written now, or null. */
  readonly busy: string | null
  readonly attempt: (what: string, action: (signal: AbortSignal) => Promise<string>) => Promise<void>
}

/** The lines of the shot as vectors: contours found on the models, in one of the line styles. */
export function ExportLines({ project, busy, attempt }: ExportLinesProps) {
  const shot = activeShot(project)
  const [style, setStyle] = useState('technical')
  const [weight, setWeight] = useState<number | null>(null)
  const [heightMm, setHeightMm] = useState(PAPER_MM)
  const [suggestive, setSuggestive] = useState(false)
  const file = `${safeName(project.name)}_${safeName(shot.name)}_lines.svg`
  const ready = LINE_STYLES[style].style
  const write = () =>
    attempt('Lines', async (signal) => {
      const kinds = suggestive
        ? [...DEFAULT_LINE_SETTING.kinds, 'suggestive' as const]
        : DEFAULT_LINE_SETTING.kinds
      const own = { ...ready, weight: weight ?? ready.weight }
      saveFile(file, await exportLines(project, kinds, own, heightMm, signal), 'image/svg+xml')
      return `${file} is with your downloads.`
    })
  useActions('Export', [{ id: 'lines', label: 'Export the lines', keys: 'Shift+L', run: () => void write() }])
  return (
    <section className="section">
      <div className="section-head">
        The lines of {shot.name} <span className="quiet">SVG</span>
      </div>
      <div className="row">
        <label htmlFor="line-style">Style</label>
        <select
          id="line-style"
          className="plain-select wide"
          value={style}
          onChange={(e) => {
            setStyle(e.target.value)
            setWeight(null)
          }}
        >
          {Object.entries(LINE_STYLES).map(([name, { label }]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
      </div>
      <NumberField
        label="Weight"
        value={weight ?? ready.weight}
        min={0.2}
        max={20}
        step={0.1}
        unit="‰"
        defaultValue={ready.weight}
        logarithmic
        onChange={setWeight}
      />
      <NumberField
        label="Height"
        value={heightMm}
        min={20}
        max={2000}
        step={1}
        unit="mm"
        defaultValue={PAPER_MM}
        logarithmic
        onChange={setHeightMm}
      />
      <div className="row">
        <span className="label">Suggestive</span>
        <span className="wide" style={{ textAlign: 'right' }}>
          <Switch
            size="small"
            color="secondary"
            checked={suggestive}
            onChange={(e) => setSuggestive(e.target.checked)}
            slotProps={{ input: { 'aria-label': 'Suggestive lines' } }}
          />
        </span>
      </div>
      <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
        {file}
      </p>
      <Button
        variant="outlined"
        fullWidth
        disabled={busy !== null || project.models.length === 0}
        onClick={() => void write()}
        data-testid="export-lines"
      >
        {busy === 'Lines' ? 'Drawing …' : 'Export the lines'}
      </Button>
    </section>
  )
}
