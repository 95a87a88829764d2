'use client'

import { useEffect, useId, useMemo, useState } from 'react'
import Button from '@mui/material/Button'
import { safeFileName } from '@/core/formats/safe-file-name'
import { plural } from '@/core/plural'
import { EFFORTS, type EffortName } from '@/core/passes/effort'
import type { SeparationManifest } from '@/core/separate/separation-manifest'
import { SETS_BY, type Separation, type SetsBy } from '@/core/separate/separations'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { attemptExport, tellExport } from '@/state/export-work'
import { useActions } from '@/state/actions'
import {
  backdropToSheet,
  chosenSets,
  separablePasses,
  separateToSheet,
  separateToZip,
  type SeparationChoice,
} from '@/state/separate-parts'
import { findStudio, useStudio } from '@/state/studio'
import { separateAtStudio } from '@/state/studio-parts'
import { setBench, useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { saveFile } from '@/ui/save-file'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'

const BY_LABELS: Readonly<Record<SetsBy, string>> = {
  part: 'Every part',
  group: 'Every group',
  material: 'Every material',
}
const HOW_LABELS: Readonly<Record<Separation, string>> = {
  whole: 'Whole, also where hidden',
  seen: 'As they are seen',
}
/** Sides of pages, in pixels. */
const ATLAS_SIDES = [512, 1024, 2048, 4096]
const QUALITY_LABELS: Readonly<Record<EffortName, string>> = { draft: 'Draft', good: 'Good', final: 'Final' }

/** A zip for each. */
const SCALES = [1, 2, 3] as const

interface SeparationsSectionProps {
  readonly project: Project
  /** What is being written now, or null. */
  readonly busy: string | null
}

/** How far the parts put together are from the whole, and what had to be cut, in words. */
function checkedWords({ difference, cycles, sets }: SeparationManifest): string {
  const cut = sets.filter(({ cutBy }) => cutBy.length > 0).length
  const off = (255 * difference).toFixed(2)
  const rings =
    cycles.length > 0
      ? ` ${plural(cycles.length, 'ring')} of parts that hide each other: ${plural(cut, 'picture is', 'pictures are')} cut there.`
      : ''
  return `Put together they are ${off} of 255 from the whole in the mean.${rings}`
}

/** Parts as pictures of their own, as files or as layers. */
export function SeparationsSection({ project, busy }: SeparationsSectionProps) {
  const id = useId()
  const passes = separablePasses(project)
  const [choice, setChoice] = useState<SeparationChoice>(() => ({
    by: 'part',
    pattern: '',
    how: 'whole',
    shadows: true,
    reflections: false,
    trim: true,
    passId: passes.find(({ kind }) => kind === 'lit')?.id ?? null,
    quality: 'good',
    atlas: null,
    scale: 1,
  }))
  const [scales, setScales] = useState<readonly number[]>([1])
  const change = (patch: Partial<SeparationChoice>) => setChoice((now) => ({ ...now, ...patch }))
  const { by, pattern, how, shadows, reflections, trim, passId, quality, atlas } = choice
  const sets = useMemo(() => chosenSets(project, { by, pattern }), [project, by, pattern])
  const few = sets.slice(0, 3).map(({ name }) => name)
  const name = `${safeFileName(project.name)}_${safeFileName(activeShot(project).name)}_parts.zip`
  const hasStudio = useStudio((own) => own.health !== null)
  const renderAt = useViewStore((own) => own.renderAt)
  const isAtStudio = hasStudio && renderAt === 'studio'
  useEffect(() => void findStudio(), [])
  const toZip = () =>
    attemptExport('Separations', async (signal) => {
      const names: string[] = []
      let words = ''
      for (const [i, scale] of scales.entries()) {
        const part = (share: number) => tellExport((i + share) / scales.length)
        const { zip, manifest } = await (isAtStudio ? separateAtStudio : separateToZip)(
          project,
          { ...choice, scale },
          part,
          signal,
        )
        const file = scale === 1 ? name : name.replace(/\.zip$/, `_${scale}x.zip`)
        saveFile(file, zip)
        names.push(file)
        words = checkedWords(manifest)
      }
      return `${names.join(', ')} ${names.length === 1 ? 'is' : 'are'} with your downloads. ${words}`
    })
  const toSheet = () =>
    attemptExport('Separations', async (signal) => {
      const manifest = await separateToSheet(project, choice, tellExport, signal)
      return manifest ? `Parts apart hangs in front of the sheet. ${checkedWords(manifest)}` : ''
    })
  const backdrop = () =>
    attemptExport('Separations', async (signal) => {
      const off = await backdropToSheet(project, choice, tellExport, signal)
      return off === null
        ? ''
        : `Backdrop apart hangs in front of the sheet. Put together it is ${(255 * off).toFixed(2)} of 255 from the whole in the mean.`
    })
  useActions('Separations', [
    { id: 'backdrop', label: 'Take the ground apart into layers', run: () => void backdrop() },
    { id: 'separate', label: 'Separate the parts into a zip', run: () => void toZip() },
    { id: 'separate-sheet', label: 'Separate the parts into layers', run: () => void toSheet() },
  ])
  const isIdle = busy === null && sets.length > 0
  return (
    <section className="section" aria-label="Separations">
      <div className="section-head">Separations</div>
      <SelectRow id={`${id}-by`} label="Apart" value={by} onChange={(own) => change({ by: own as SetsBy })}>
        {SETS_BY.map((own) => (
          <option key={own} value={own}>
            {BY_LABELS[own]}
          </option>
        ))}
      </SelectRow>
      <div className="row">
        <label htmlFor={`${id}-named`}>Called</label>
        <input
          id={`${id}-named`}
          className="plain-text wide"
          value={pattern}
          maxLength={400}
          placeholder="all; * is any letters: Roof*, Door*"
          aria-describedby={`${id}-count`}
          onChange={(e) => change({ pattern: e.target.value })}
          data-testid="separate-pattern"
        />
      </div>
      <p className="quiet" id={`${id}-count`} role="status" data-testid="separate-count">
        {sets.length === 0
          ? `No ${by} is called so.`
          : `${plural(sets.length, 'picture')}: ${few.join(', ')}${sets.length > few.length ? ' …' : ''}`}
      </p>
      <SelectRow
        id={`${id}-how`}
        label="Cut"
        value={how}
        onChange={(own) => change({ how: own as Separation })}
      >
        {(['whole', 'seen'] as const).map((own) => (
          <option key={own} value={own}>
            {HOW_LABELS[own]}
          </option>
        ))}
      </SelectRow>
      <SelectRow
        id={`${id}-pass`}
        label="Rendered as"
        value={passes.some((pass) => pass.id === passId) ? (passId ?? '') : ''}
        onChange={(own) => change({ passId: own === '' ? null : own })}
      >
        {(passes.every(({ kind }) => kind !== 'lit') || passes.every((pass) => pass.id !== passId)) && (
          <option value="">Lit</option>
        )}
        {passes.map((pass) => (
          <option key={pass.id} value={pass.id}>
            {pass.name}
          </option>
        ))}
      </SelectRow>
      <SelectRow
        id={`${id}-quality`}
        label="Quality"
        value={quality}
        onChange={(own) => change({ quality: own as EffortName })}
        testId="separate-quality"
      >
        {EFFORTS.map((own) => (
          <option key={own} value={own}>
            {QUALITY_LABELS[own]}
          </option>
        ))}
      </SelectRow>
      <SwitchRow
        label="Shadows"
        note="The shadow that each alone throws on the others, as a picture of its own"
        checked={shadows}
        onChange={(on) => change({ shadows: on })}
      />
      <SwitchRow
        label="Reflections"
        note="What the ground would mirror of each, as a picture of its own"
        checked={reflections}
        onChange={(on) => change({ reflections: on })}
      />
      <SelectRow
        id={`${id}-packed`}
        label="Files"
        value={atlas?.side ?? ''}
        onChange={(own) =>
          change({ atlas: own === '' ? null : { padding: 2, bleed: 1, ...atlas, side: Number(own) } })
        }
        testId="separate-atlas"
      >
        <option value="">A picture each</option>
        {ATLAS_SIDES.map((side) => (
          <option key={side} value={side}>
            Atlases up to {side} × {side}
          </option>
        ))}
      </SelectRow>
      {atlas && (
        <>
          <NumberField
            label="Padding"
            note="Clear pixels around each picture"
            value={atlas.padding}
            min={0}
            max={64}
            step={1}
            unit="px"
            defaultValue={2}
            onChange={(padding) => change({ atlas: { ...atlas, padding: Math.round(padding) } })}
          />
          <NumberField
            label="Edges go on"
            note="How far colours at edges go on where it is clear, for pictures that are drawn smaller or turned"
            value={atlas.bleed}
            min={0}
            max={32}
            step={1}
            unit="px"
            defaultValue={1}
            onChange={(bleed) => change({ atlas: { ...atlas, bleed: Math.round(bleed) } })}
          />
        </>
      )}
      <div className="row" role="group" aria-label="Scales">
        <span className="label">Scales</span>
        <span className="wide" style={{ display: 'flex', gap: 10, justifyContent: 'flex-end' }}>
          {SCALES.map((own) => (
            <button
              key={own}
              type="button"
              className="link"
              aria-pressed={scales.includes(own)}
              title={`A zip ${own === 1 ? 'as large as the shot' : `${own} times as large`}`}
              style={{ fontWeight: scales.includes(own) ? 650 : undefined }}
              onClick={() =>
                setScales(
                  scales.includes(own)
                    ? scales.filter((other) => other !== own)
                    : [...scales, own].sort((a, b) => a - b),
                )
              }
            >
              {own}×
            </button>
          ))}
        </span>
      </div>
      <SwitchRow
        label="Trimmed"
        note="Pictures are cut to what they hold; else each is as large as the frame"
        checked={trim || atlas !== null}
        disabled={atlas !== null}
        onChange={(on) => change({ trim: on })}
      />
      {hasStudio && (
        <SelectRow
          id={`${id}-where`}
          label="Rendered"
          value={renderAt}
          onChange={(own) => setBench({ renderAt: own === 'studio' ? 'studio' : 'here' })}
          testId="separate-where"
        >
          <option value="here">Here</option>
          <option value="studio">At the studio</option>
        </SelectRow>
      )}
      <Button
        variant="outlined"
        fullWidth
        sx={{ marginTop: 1 }}
        disabled={!isIdle || scales.length === 0}
        onClick={() => void toZip()}
        data-testid="separate-zip"
      >
        {busy === 'Separations' ? 'Separating …' : 'Export the parts'}
      </Button>
      <button className="link" disabled={!isIdle} onClick={() => void toSheet()} data-testid="separate-sheet">
        Hang them in the sheet
      </button>
      <button
        className="link"
        disabled={busy !== null}
        title="The ground bare, its shadow, its occlusion, what it mirrors, and what stands on it: five layers that are the whole together"
        onClick={() => void backdrop()}
        data-testid="separate-backdrop"
      >
        Take the ground apart
      </button>
    </section>
  )
}
