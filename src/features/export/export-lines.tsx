'use client'

import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { parseHex } from '@/core/math/colour'
import { hashJson } from '@/core/math/stable-hash'
import { LINE_STYLES } from '@/core/lines/line-style'
import type { HandEdit } from '@/core/lines/hand-weights'
import type { ParamValues } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet, activeShot, rigOf } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { safeFileName } from '@/core/formats/safe-file-name'
import { attemptExport, tellExport } from '@/state/export-work'
import { useActions } from '@/state/actions'
import { findContour } from '@/state/line-export'
import { toSceneKey } from '@/state/render-scene'
import type { SheetService } from '@/engine/sheet-service'
import { sheetService, syncSheet } from '@/state/sheet-sync'
import { NumberField } from '@/ui/number-field'
import { saveFile } from '@/ui/save-file'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'

/** Height of a sheet of A3 on its side. */
const PAPER_MM = 297
/** Stands for a drawing that is found for the export alone. */
const FOUND_NOW = 'found now'

/** Lines that can be shown and written: of a layer as it is on the sheet, or found now. */
export interface ShownLines {
  readonly passId: string
  readonly look: ParamValues
  readonly byHand: HandEdit[]
}

interface ExportLinesProps {
  readonly project: Project
  /** What is being written now, or null. */
  readonly busy: string | null
  /** Lines to be shown by themselves; null shows the sheet. */
  readonly onShow: (lines: ShownLines | null) => void
}

interface LineLayer {
  readonly id: string
  readonly name: string
  /** Null: they have grown on the layer. */
  readonly lines: ShownLines | null
}

/** Layers of lines of the sheet, with what they show. */
const lineLayers = (project: Project): LineLayer[] =>
  layersOf(activeSheet(project)).flatMap(({ id, name, content }): LineLayer[] => {
    // What has grown from lines drawn by hand are lines by themselves.
    if (content.kind === 'cracks' && content.lines.length > 0) return [{ id, name, lines: null }]
    if (content.kind !== 'pass') return []
    const pass = project.passes.find((p) => p.id === content.passId)
    if (!pass?.rendered || !passKind(pass.kind).lines) return []
    return [{ id, name, lines: { passId: pass.id, look: content.look, byHand: content.byHand ?? [] } }]
  })

/** Lines as vectors: a layer's as they are on the sheet, or a contour found now in one of the line styles. */
export function ExportLines({ project, busy, onShow }: ExportLinesProps) {
  const shot = activeShot(project)
  const layers = lineLayers(project)
  const [of, setOf] = useState(layers[0]?.id ?? FOUND_NOW)
  const [style, setStyle] = useState('technical')
  const [weight, setWeight] = useState<number | null>(null)
  const [heightMm, setHeightMm] = useState(PAPER_MM)
  const [suggestive, setSuggestive] = useState(false)
  const [alone, setAlone] = useState(false)
  const layer = layers.find(({ id }) => id === of)
  const file = `${safeFileName(project.name)}_${safeFileName(layer ? layer.name : shot.name)}_lines.svg`
  const ready = LINE_STYLES[style].style
  const foundKey = hashJson([toSceneKey(project), shot.camera, shot.frame, rigOf(project, shot), suggestive])
  const found = useRef<{ readonly key: string; readonly worker: SheetService } | null>(null)
  const { wire: _wire, ...look } = { ...ready, weight: weight ?? ready.weight }
  const isGrown = layer?.lines === null
  const lines: ShownLines = layer?.lines ?? { passId: FOUND_NOW, look, byHand: [] }

  /** Sees to it that the sheet's worker has the lines. */
  const bring = async (signal: AbortSignal) => {
    await syncSheet(project)
    // A worker that came after one that ended by itself has none.
    const isThere = found.current?.key === foundKey && found.current.worker === sheetService()
    if (layer || isThere) return
    const result = await findContour(project, { suggestive }, tellExport, signal)
    const given = { passId: FOUND_NOW, shotId: shot.id, revision: foundKey, result }
    const worker = sheetService()
    await worker.give({ type: 'pass', ...given })
    found.current = { key: foundKey, worker }
  }
  const write = () =>
    attemptExport('Lines', async (signal) => {
      await bring(signal)
      const worker = sheetService()
      const bytes =
        isGrown && layer
          ? await worker.grownLines(layer.id, heightMm)
          : await worker.linesFile({ ...lines, heightMm })
      if (!bytes) throw new Error(`the lines of ${layer?.name ?? shot.name} are not there: render them again`)
      saveFile(file, bytes, 'image/svg+xml')
      return `${file} is with your downloads.`
    })
  const show = (wanted: boolean) => {
    if (!wanted) {
      setAlone(false)
      onShow(null)
      return
    }
    void attemptExport('Lines', async (signal) => {
      await bring(signal)
      setAlone(true)
      onShow(lines)
      return ''
    })
  }
  // What is shown follows what is chosen, once it is there.
  const linesKey = hashJson([lines, foundKey])
  const latest = useRef({ alone, lines, onShow, show })
  useEffect(() => {
    latest.current = { alone, lines, onShow, show }
  })
  useEffect(() => {
    const now = latest.current
    if (!now.alone) return
    if (isGrown) {
      now.show(false)
      return
    }
    if (now.lines.passId === FOUND_NOW && found.current?.key !== foundKey) now.show(true)
    else now.onShow(now.lines)
  }, [linesKey, foundKey, isGrown])

  useActions('Export', [
    { id: 'lines', label: 'Export the lines', keys: 'Shift+L', run: () => void write() },
    { id: 'lines-alone', label: 'Show the lines alone', keys: 'l', run: () => !isGrown && show(!alone) },
  ])
  return (
    <section className="section">
      <div className="section-head">
        Lines <span className="quiet">SVG</span>
      </div>
      <SelectRow id="lines-of" label="Lines of" value={layer ? of : FOUND_NOW} onChange={setOf}>
        {layers.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}, as on the sheet
          </option>
        ))}
        <option value={FOUND_NOW}>{shot.name}, found now</option>
      </SelectRow>
      {!layer && (
        <>
          <SelectRow
            id="line-style"
            label="Style"
            value={style}
            onChange={(picked) => {
              setStyle(picked)
              setWeight(null)
            }}
          >
            {Object.entries(LINE_STYLES).map(([name, { label }]) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </SelectRow>
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
          <SwitchRow label="Suggestive lines" checked={suggestive} onChange={setSuggestive} />
        </>
      )}
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
      {!isGrown && <SwitchRow label="Show alone" checked={alone} onChange={show} />}
      <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
        {file}
      </p>
      <Button
        variant="outlined"
        fullWidth
        disabled={busy !== null || (!layer && project.models.length === 0)}
        onClick={() => void write()}
        data-testid="export-lines"
      >
        {busy === 'Lines' ? 'Drawing …' : 'Export the lines'}
      </Button>
    </section>
  )
}

interface LinesAloneProps {
  readonly lines: ShownLines
  readonly width: number
  readonly height: number
}

/** Lines on white paper, over the proof. */
export function LinesAlone({ lines, width, height }: LinesAloneProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const key = hashJson([lines, width, height])
  const latest = useRef(lines)
  useEffect(() => {
    latest.current = lines
  })
  useEffect(() => {
    let stale = false
    const { passId, look, byHand } = latest.current
    void sheetService()
      .raster({ type: 'pass-picture', passId, look, byHand, part: null, size: { width, height } })
      .then((raster) => {
        const canvas = canvasRef.current
        if (stale || !raster || !canvas) return
        canvas.width = raster.width
        canvas.height = raster.height
        canvas.getContext('2d')?.putImageData(new ImageData(raster.rgba, raster.width, raster.height), 0, 0)
      })
      .catch(() => undefined)
    return () => {
      stale = true
    }
  }, [key, width, height])
  // Light lines are meant for dark paper.
  const [r, g, b] = parseHex(String(lines.look.colour ?? '#000000'))
  const paper = 0.2126 * r + 0.7152 * g + 0.0722 * b > 0.6 ? '#24466b' : '#fff'
  return (
    <canvas
      ref={canvasRef}
      role="img"
      aria-label="The lines alone"
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', background: paper }}
    />
  )
}
