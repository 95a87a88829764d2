'use client'

import { useEffect, useId, useMemo, useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import { CancelledError } from '@/core/errors'
import { FILM_FORMATS, filmFormats, patternProblem, type FilmFormat } from '@/core/film/film-formats'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { measureFilm, writeFilm } from '@/data/film-service'
import type { FilmOrder } from '@/data/film-worker'
import { amountText } from '@/data/storage-room'
import type { TurnPlan } from '@/state/turn-plan'
import { useTurnJob } from '@/state/turn-render'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { useFileExport } from '../poster/use-file-export'
import { FilmExtras, NO_EXTRAS, useFilmFrames } from './film-extras'
import { FrameRow } from './frame-row'

interface FilmDialogProps {
  readonly turn: Turn
  readonly plan: TurnPlan
  readonly onClose: () => void
}

/** A hand that goes on choosing is not measured for. Milliseconds. */
const REST_MS = 350

/** How a turntable leaves: as what, how good or how large, how often it goes round. */
export function FilmDialog({ turn, plan, onClose }: FilmDialogProps) {
  const id = useId()
  const there = useTurnJob((s) => s.there)
  const [format, setFormat] = useState<FilmFormat>('mp4')
  const [by, setBy] = useState<'quality' | 'bytes'>('quality')
  const [quality, setQuality] = useState(78)
  const [megabytes, setMegabytes] = useState(20)
  const [dither, setDither] = useState(100)
  const [plays, setPlays] = useState(1)
  const [isEndless, setEndless] = useState(true)
  const [pattern, setPattern] = useState(`${plain(turn.name)}_####`)
  const [extras, setExtras] = useState(NO_EXTRAS)
  const { busy, share, told, run, cancel } = useFileExport()
  const count = frameCount(turn.motion)
  const [from, to] = turn.marks ?? [0, count]
  const facts = filmFormats[format]
  const isStills = format === 'stills'
  const frames = useFilmFrames(plan, { from, to, isStills }, extras, there)
  const missing = frames ? frames.names.filter((name) => !there.has(name)).length : 0
  const projectId = plan.stage.project.id
  const problem = (format === 'png' ? patternProblem(pattern, to) : null) ?? frames?.problem ?? null
  const order = useMemo<FilmOrder | null>(() => {
    if (!frames) return null
    const { problem: _problem, ...seen } = frames
    return {
      ...seen,
      projectId,
      from,
      format,
      ...plan.size,
      rate: turn.motion.rate,
      plays: facts.saysPlays && isEndless ? 0 : plays,
      by: by === 'quality' ? { quality } : { bytes: megabytes * 1e6 },
      dither: dither / 100,
      isClear: turn.isClear && facts.hasAlpha,
      pattern,
    }
  }, [
    frames,
    projectId,
    from,
    format,
    plan.size,
    turn,
    facts,
    isEndless,
    plays,
    by,
    quality,
    megabytes,
    dither,
    pattern,
  ])
  const size = useMeasured(order, missing === 0 && busy === null && problem === null)
  const name = `${plain(turn.name)}${isStills ? '_stills' : ''}.${facts.extension}`
  const write = () =>
    order &&
    void run(
      [{ name, media: facts.media, make: (signal, tell) => writeFilm(order, signal, tell) }],
      plain(turn.name),
    )
  const seconds = ((to - from) * (facts.saysPlays ? 1 : Math.max(1, plays))) / turn.motion.rate
  return (
    <Dialog
      open
      onClose={() => busy === null && onClose()}
      maxWidth="sm"
      fullWidth
      aria-labelledby={`${id}-title`}
    >
      <DialogTitle id={`${id}-title`}>Export {turn.name}</DialogTitle>
      <DialogContent>
        <SelectRow
          id={`${id}-format`}
          label="As"
          value={format}
          testId="film-format"
          onChange={(value) => setFormat(FILM_FORMATS.find((own) => own === value) ?? 'mp4')}
        >
          {FILM_FORMATS.map((own) => (
            <option key={own} value={own}>
              {filmFormats[own].label}
            </option>
          ))}
        </SelectRow>
        {facts.isLossy && (
          <SelectRow
            id={`${id}-by`}
            label="Chosen by"
            value={by}
            onChange={(value) => setBy(value === 'bytes' ? 'bytes' : 'quality')}
          >
            <option value="quality">Quality</option>
            <option value="bytes">Size of the file</option>
          </SelectRow>
        )}
        {facts.isLossy && by === 'quality' && (
          <NumberField
            label="Quality"
            value={quality}
            min={0}
            max={100}
            step={1}
            defaultValue={78}
            onChange={setQuality}
          />
        )}
        {facts.isLossy && by === 'bytes' && (
          <FrameRow
            label="At the most"
            unit="MB"
            value={megabytes}
            min={0.1}
            max={100_000}
            step={0.1}
            onChange={setMegabytes}
          />
        )}
        {format === 'gif' && (
          <NumberField
            label="Dithering"
            value={dither}
            min={0}
            max={100}
            step={1}
            unit="%"
            defaultValue={100}
            note="Colours between those of the palette, by patterns"
            onChange={setDither}
          />
        )}
        {format === 'png' ? (
          <div className="row two">
            <label htmlFor={`${id}-pattern`}>Names</label>
            <input
              id={`${id}-pattern`}
              className="plain-text"
              value={pattern}
              aria-invalid={problem !== null}
              onChange={(e) => setPattern(e.target.value)}
            />
          </div>
        ) : isStills ? null : facts.saysPlays ? (
          <SelectRow
            id={`${id}-plays`}
            label="Goes round"
            value={isEndless ? 0 : plays}
            onChange={(value) => {
              setEndless(value === '0')
              if (value !== '0') setPlays(Number(value))
            }}
          >
            <option value={0}>Again and again</option>
            {[1, 2, 3, 5, 10].map((times) => (
              <option key={times} value={times}>
                {times === 1 ? 'Once' : `${times} times`}
              </option>
            ))}
          </SelectRow>
        ) : (
          <FrameRow
            label="Written so often"
            unit="times"
            value={plays}
            min={1}
            max={1000}
            onChange={setPlays}
          />
        )}
        <FilmExtras
          turns={plan.stage.project.turns}
          turn={turn}
          isStills={isStills}
          extras={extras}
          onExtras={setExtras}
        />
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        <p className="quiet film-size" role="status" data-testid="film-size">
          {plan.size.width} × {plan.size.height}, {frames?.names.length ?? to - from}{' '}
          {isStills ? 'stills' : 'frames'}
          {format !== 'png' && !isStills && `, ${Number(seconds.toFixed(2))} s`}
          {turn.isClear && !facts.hasAlpha && '; what is clear becomes white'}
          {missing > 0
            ? `. ${missing} of them are not rendered yet: render them first, or play a part of it.`
            : size === null
              ? '. Its size is being worked out.'
              : typeof size === 'string'
                ? `. Its size cannot be told: ${size.replace(/\.$/, '')}.`
                : `. About ${amountText(size)}.`}
        </p>
        {busy !== null && (
          <p role="status" aria-live="polite">
            Writing {name}: {Math.round(100 * (share ?? 0))} %
          </p>
        )}
        {told && (
          <p
            className={told.bad ? 'problem' : undefined}
            role={told.bad ? 'alert' : 'status'}
            data-testid="film-told"
          >
            {told.text}
          </p>
        )}
      </DialogContent>
      <DialogActions>
        {busy !== null ? <Button onClick={cancel}>Cancel</Button> : <Button onClick={onClose}>Close</Button>}
        <Button
          variant="contained"
          disabled={busy !== null || missing > 0 || problem !== null || order === null}
          onClick={write}
          data-testid="write-film"
        >
          Write {facts.extension === 'zip' ? 'the zip' : `the .${facts.extension}`}
        </Button>
      </DialogActions>
    </Dialog>
  )
}

/** A name as files have it. */
const plain = (name: string): string =>
  name
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '') || 'turntable'

/** About how large it will be, or why that cannot be told; null until either is known. */
function useMeasured(order: FilmOrder | null, isOn: boolean): number | string | null {
  const [found, setFound] = useState<{ readonly order: FilmOrder; readonly told: number | string } | null>(
    null,
  )
  useEffect(() => {
    if (!isOn || !order) return
    const abort = new AbortController()
    const timer = setTimeout(() => {
      measureFilm(order, abort.signal)
        .then((told) => setFound({ order, told }))
        .catch((error: unknown) => {
          if (error instanceof CancelledError) return
          setFound({ order, told: error instanceof Error ? error.message : String(error) })
        })
    }, REST_MS)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
  }, [order, isOn])
  return found?.order === order ? found.told : null
}
