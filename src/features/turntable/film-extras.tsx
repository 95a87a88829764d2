'use client'

import { useEffect, useId, useState } from 'react'
import { BESIDE, besideLabels, type Beside } from '@/core/film/beside'
import { stillFrames } from '@/core/film/stills-sheet'
import { turnWords } from '@/core/turn/turn-words'
import { groundColour } from '@/core/turn/presentation'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import type { FilmOrder } from '@/data/film-worker'
import { fontFiles } from '@/state/font-files'
import { planTurn, type TurnPlan } from '@/state/turn-plan'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { FrameRow } from './frame-row'

/** What is laid over frames as they leave, and what they are seen together with. */
export interface Extras {
  readonly isBurnedIn: boolean
  /** Another turntable; empty for none. */
  readonly besideId: string
  readonly how: Beside
  readonly stills: number
  readonly columns: number
  /** The turntable that shows closer what stills show; empty for none. */
  readonly closerId: string
}
export const NO_EXTRAS: Extras = {
  isBurnedIn: false,
  besideId: '',
  how: 'side',
  stills: 8,
  columns: 4,
  closerId: '',
}

const BURNED_FONT = 'barlow-condensed'

/** Words that are burned into a frame. */
const burnedWords = ({ name, motion }: Turn, frame: number): string => {
  const { frames, turns, turn, angle } = turnWords(motion, frame)
  const round = motion.what === 'nothing' ? '' : `   turn ${turn} of ${turns}, ${angle}°`
  return `${name}   frame ${frame} of ${frames}${round}`
}

interface FilmExtrasProps {
  readonly turns: readonly Turn[]
  readonly turn: Turn
  readonly isStills: boolean
  readonly extras: Extras
  readonly onExtras: (extras: Extras) => void
}

export function FilmExtras({ turns, turn, isStills, extras, onExtras }: FilmExtrasProps) {
  const id = useId()
  const others = turns.filter((own) => own.id !== turn.id)
  const set = (patch: Partial<Extras>) => onExtras({ ...extras, ...patch })
  const choices = others.map((own) => (
    <option key={own.id} value={own.id}>
      {own.name}
    </option>
  ))
  return (
    <>
      {isStills && (
        <>
          <FrameRow
            label="Stills"
            value={extras.stills}
            min={1}
            max={Math.min(100, frameCount(turn.motion))}
            onChange={(stills) => set({ stills })}
          />
          <FrameRow
            label="Columns"
            value={extras.columns}
            min={1}
            max={20}
            onChange={(columns) => set({ columns })}
          />
          {others.length > 0 && (
            <SelectRow
              id={`${id}-closer`}
              label="Closer views"
              value={extras.closerId}
              testId="closer"
              onChange={(closerId) => set({ closerId })}
            >
              <option value="">None</option>
              {choices}
            </SelectRow>
          )}
        </>
      )}
      {others.length > 0 && (
        <SelectRow
          id={`${id}-beside`}
          label="Before and after"
          value={extras.besideId}
          testId="beside"
          onChange={(besideId) => set({ besideId })}
        >
          <option value="">This one alone</option>
          {choices}
        </SelectRow>
      )}
      {extras.besideId !== '' && (
        <SelectRow
          id={`${id}-how`}
          label="Both are"
          value={extras.how}
          onChange={(how) => set({ how: BESIDE.find((own) => own === how) ?? 'side' })}
        >
          {BESIDE.map((own) => (
            <option key={own} value={own}>
              {besideLabels[own]}
            </option>
          ))}
        </SelectRow>
      )}
      <SwitchRow
        label="Burn-in"
        note="Frame and angle in the corner of each, for whoever looks it through"
        checked={extras.isBurnedIn}
        onChange={(isBurnedIn) => set({ isBurnedIn })}
      />
    </>
  )
}

/** The frames of a film, and what is seen with them; null while that is not known yet. */
export interface FilmFrames extends Pick<FilmOrder, 'names' | 'burnIn' | 'beside' | 'stills'> {
  /** Why it cannot be written, in words. */
  readonly problem: string | null
}

/**
 * @param from, to what is written of the turntable. @param there names of frames that are rendered.
 */
export function useFilmFrames(
  plan: TurnPlan,
  { from, to, isStills }: { readonly from: number; readonly to: number; readonly isStills: boolean },
  extras: Extras,
  there: ReadonlySet<string>,
): FilmFrames | null {
  const { project, turn, sheet } = plan.stage
  const { files, problem: fontProblem } = useFont(plan, extras.isBurnedIn)
  const { plan: beside, problem: besideProblem } = useOtherPlan(plan, extras.besideId)
  const { plan: closer, problem: closerProblem } = useOtherPlan(plan, isStills ? extras.closerId : '')
  const otherProblem = besideProblem ?? closerProblem
  const [held, setHeld] = useState<{ readonly key: string; readonly made: FilmFrames } | null>(null)
  const frames = isStills
    ? stillFrames(to - from, Math.min(extras.stills, to - from)).map((k) => from + k)
    : Array.from({ length: to - from }, (_, k) => from + k)
  const isKnown =
    (!extras.isBurnedIn || files !== null || fontProblem !== null) &&
    (extras.besideId === '' || beside !== null || besideProblem !== null) &&
    (!isStills || extras.closerId === '' || closer !== null || closerProblem !== null)
  /** Frames of another turntable that stand where these do. */
  const likeIn = (other: TurnPlan): string[] => {
    const [own, count] = [frameCount(turn.motion), other.names.length]
    return frames.map((frame) => other.names[Math.floor((frame * count) / own)])
  }
  const problemOf = (other: TurnPlan | null): string | null => {
    if (!other) return null
    const { name } = other.stage.turn
    if (other.size.width !== plan.size.width || other.size.height !== plan.size.height)
      return `Frames of ${name} measure ${other.size.width} × ${other.size.height}: both must be as large.`
    const missing = new Set(likeIn(other).filter((own) => !there.has(own))).size
    return missing === 0 ? null : `${missing} frames of ${name} are not rendered yet.`
  }
  if (!isKnown) return null
  const made: FilmFrames = {
    names: frames.map((frame) => plan.names[frame]),
    burnIn: files && { files: [...files], words: frames.map((frame) => burnedWords(turn, frame)) },
    beside: beside && { names: likeIn(beside), how: extras.how },
    stills: {
      columns: extras.columns,
      closer: closer && likeIn(closer),
      paper: groundColour(project.sheets.find(({ id }) => id === sheet.id) ?? sheet),
    },
    problem: fontProblem ?? otherProblem ?? problemOf(beside) ?? problemOf(closer),
  }
  // The same object as long as it says the same: what is measured for it is measured once.
  const key = JSON.stringify([made.names, made.burnIn?.words, made.beside, made.stills, made.problem])
  if (held?.key === key) return held.made
  setHeld({ key, made })
  return made
}

interface BurnedFont {
  readonly files: readonly Uint8Array<ArrayBuffer>[] | null
  /** Why it cannot be had, in words. */
  readonly problem: string | null
}
const NO_FONT: BurnedFont = { files: null, problem: null }

/** The font that is burned in; neither files nor a problem while it comes. */
function useFont({ stage: { project } }: TurnPlan, isOn: boolean): BurnedFont {
  const [font, setFont] = useState<BurnedFont>(NO_FONT)
  useEffect(() => {
    if (!isOn || font.files) return
    fontFiles(project, BURNED_FONT)
      .then((found) => setFont({ files: found.map(({ bytes }) => new Uint8Array(bytes)), problem: null }))
      .catch((error: unknown) =>
        setFont({ files: null, problem: error instanceof Error ? error.message : String(error) }),
      )
  }, [project, isOn, font.files])
  return isOn ? font : NO_FONT
}

interface OtherPlan {
  /** What it shows; null while it is planned, and for none. */
  readonly plan: TurnPlan | null
  /** Why it cannot be planned, in words. */
  readonly problem: string | null
}
const NO_PLAN: OtherPlan = { plan: null, problem: null }

/** Another turntable of the project; neither a plan nor a problem while it is planned, and for none. */
function useOtherPlan({ stage: { project } }: TurnPlan, turnId: string): OtherPlan {
  const [held, setHeld] = useState<{ readonly turnId: string; readonly found: OtherPlan } | null>(null)
  useEffect(() => {
    const turn = project.turns.find(({ id }) => id === turnId)
    if (!turn) return
    const abort = new AbortController()
    planTurn(project, turn, abort.signal)
      .then((plan) => setHeld({ turnId, found: { plan, problem: null } }))
      .catch((error: unknown) => {
        if (abort.signal.aborted) return
        const why = error instanceof Error ? error.message : String(error)
        setHeld({ turnId, found: { plan: null, problem: `${turn.name} cannot be shown: ${why}` } })
      })
    return () => abort.abort()
  }, [project, turnId])
  return turnId !== '' && held?.turnId === turnId ? held.found : NO_PLAN
}
