'use client'

import { useEffect, useState, type ReactNode } from 'react'
import {
  BATCH_WORDS,
  batchPurposeSchema,
  COLOURS_NOW,
  isPassFormat,
  isSheetFormat,
  PURPOSES,
} from '@/core/batch/batch-plan'
import { PASS_FORMATS } from '@/core/formats/pass-file'
import { SHEET_FORMATS, sheetFormatLabels } from '@/core/sheet/export-sheet'
import { loadPurposes, removePurpose, savePurpose, type OwnPurpose } from '@/data/batch-purposes'
import { storageProblem } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import type { BatchPlan } from './use-batch-plan'

const PERCENTS = [25, 50, 100, 200, 300, 400]
const PASS_FORMAT_LABELS = { png: 'PNG, 8 bit', png16: 'PNG, 16 bit', exr: 'EXR, as rendered' } as const

interface BatchHowProps {
  readonly id: string
  readonly project: Project
  readonly plan: BatchPlan
  readonly isBusy: boolean
  readonly onProblem: (text: string) => void
  /** Where they go. */
  readonly children: ReactNode
}

/** How what is chosen becomes files: forms, sizes, colours, names. */
export function BatchHow({ id, project, plan, isBusy, onProblem, children }: BatchHowProps) {
  const { choice, change, sources } = plan
  const has = (what: string) => sources.some((own) => own.what === what && choice.chosen.includes(own.id))
  return (
    <fieldset className="batch-how" disabled={isBusy}>
      <legend className="section-head">How</legend>
      <Purposes id={id} plan={plan} onProblem={onProblem} />
      <SelectRow
        id={`${id}-sheets`}
        label="Sheets as"
        value={choice.sheetFormat}
        onChange={(own) => isSheetFormat(own) && change({ sheetFormat: own })}
      >
        {SHEET_FORMATS.map((own) => (
          <option key={own} value={own}>
            {sheetFormatLabels[own]}
          </option>
        ))}
      </SelectRow>
      <SelectRow
        id={`${id}-passes`}
        label="Passes as"
        value={choice.passFormat}
        onChange={(own) => isPassFormat(own) && change({ passFormat: own })}
      >
        {PASS_FORMATS.map((own) => (
          <option key={own} value={own}>
            {PASS_FORMAT_LABELS[own]}
          </option>
        ))}
      </SelectRow>
      <Several
        label="Sizes"
        name="Sizes"
        options={PERCENTS.map((own) => ({ value: own, label: `${own} %` }))}
        chosen={choice.percents}
        onChange={(percents) => change({ percents: percents.sort((a, b) => a - b) })}
      />
      {project.schemes.length > 0 && (
        <Several
          label="Colours"
          name="Colour schemes"
          options={[
            { value: COLOURS_NOW, label: 'As they are' },
            ...project.schemes.map((own) => ({ value: own.id, label: own.name })),
          ]}
          chosen={choice.schemes}
          onChange={(schemes) => change({ schemes })}
        />
      )}
      {has('turn') && (
        <div className="row">
          <label htmlFor={`${id}-frames`}>Frames</label>
          <input
            id={`${id}-frames`}
            className="plain-text wide"
            value={choice.frames}
            maxLength={200}
            placeholder="all, or 0,10-20"
            onChange={(e) => change({ frames: e.target.value })}
            data-testid="batch-frames"
          />
        </div>
      )}
      <div className="row">
        <label htmlFor={`${id}-pattern`}>Called</label>
        <input
          id={`${id}-pattern`}
          className="plain-text wide"
          value={choice.pattern}
          maxLength={200}
          aria-describedby={`${id}-words`}
          onChange={(e) => change({ pattern: e.target.value })}
          data-testid="batch-pattern"
        />
      </div>
      <p className="quiet batch-words" id={`${id}-words`}>
        {BATCH_WORDS.map((word) => `{${word}}`).join(' ')}; a / makes folders. A version is never written
        over.
      </p>
      {children}
      <SwitchRow
        label="Only what changed"
        note="What shows the same as when it was written last is left out"
        checked={choice.onlyChanged}
        onChange={(onlyChanged) => change({ onlyChanged })}
      />
      <SwitchRow
        label="Replace what changed"
        note="Files of these names that were written from here are written over, others never"
        checked={choice.replaces}
        onChange={(replaces) => change({ replaces })}
      />
      <SwitchRow
        label="With a manifest"
        note="A JSON file that tells of each what it shows, how large, in which scheme, which frame"
        checked={choice.hasManifest}
        onChange={(hasManifest) => change({ hasManifest })}
      />
      {has('pass') && choice.passFormat !== 'exr' && (
        <SwitchRow
          label="Numbers as pictures too"
          note="Depth and normal leave cut to the bits of a PNG"
          checked={choice.allowsLoss}
          onChange={(allowsLoss) => change({ allowsLoss })}
        />
      )}
    </fieldset>
  )
}

interface SeveralProps<T extends string | number> {
  readonly label: string
  readonly name: string
  readonly options: readonly { readonly value: T; readonly label: string }[]
  readonly chosen: readonly T[]
  readonly onChange: (chosen: T[]) => void
}

/** Any number of a few. */
function Several<T extends string | number>({ label, name, options, chosen, onChange }: SeveralProps<T>) {
  return (
    <div className="row" role="group" aria-label={name}>
      <span className="label">{label}</span>
      <span className="wide batch-sizes">
        {options.map(({ value, label: own }) => (
          <button
            key={value}
            type="button"
            className="link"
            aria-pressed={chosen.includes(value)}
            onClick={() =>
              onChange(
                chosen.includes(value) ? chosen.filter((other) => other !== value) : [...chosen, value],
              )
            }
          >
            {own}
          </button>
        ))}
      </span>
    </div>
  )
}

/** Ready ways and one's own, and a name for the one of now. */
function Purposes({ id, plan, onProblem }: Pick<BatchHowProps, 'id' | 'plan' | 'onProblem'>) {
  const [own, setOwn] = useState<readonly OwnPurpose[]>([])
  const [name, setName] = useState<string | null>(null)
  const [last, setLast] = useState('')
  const attempt = (work: Promise<readonly OwnPurpose[]>) =>
    work.then(setOwn).catch((error: unknown) => onProblem(storageProblem(error)))
  useEffect(() => {
    void loadPurposes()
      .then(setOwn)
      .catch(() => undefined)
  }, [])
  const take = (value: string) => {
    setLast(value)
    const purpose = own.find((one) => `own ${one.name}` === value)?.purpose ?? PURPOSES[value]?.choice
    if (purpose) plan.change(purpose)
  }
  const keep = async () => {
    const wanted = name?.trim()
    setName(null)
    if (!wanted) return
    await attempt(savePurpose(wanted, batchPurposeSchema.parse(plan.choice)))
    setLast(`own ${wanted}`)
  }
  const chosen = own.find((one) => `own ${one.name}` === last)
  return (
    <>
      <SelectRow id={`${id}-purpose`} label="For" value={last} onChange={take} testId="batch-purpose">
        <option value="">Choose …</option>
        {Object.entries(PURPOSES).map(([key, { label }]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
        {own.length > 0 && (
          <optgroup label="Your own">
            {own.map((one) => (
              <option key={one.name} value={`own ${one.name}`}>
                {one.name}
              </option>
            ))}
          </optgroup>
        )}
      </SelectRow>
      <div className="batch-purpose-tools">
        {name === null ? (
          <>
            <button type="button" className="link" onClick={() => setName(chosen?.name ?? '')}>
              Keep this as your own
            </button>
            {chosen && (
              <button
                type="button"
                className="link"
                onClick={() => {
                  setLast('')
                  void attempt(removePurpose(chosen.name))
                }}
              >
                Forget {chosen.name}
              </button>
            )}
          </>
        ) : (
          <input
            className="plain-text"
            autoFocus
            aria-label="Name of your own"
            placeholder="Name, then Enter"
            value={name}
            maxLength={60}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') void keep()
              if (e.key === 'Escape') {
                e.stopPropagation()
                setName(null)
              }
            }}
            data-testid="batch-own-name"
          />
        )}
      </div>
    </>
  )
}
