'use client'

import { useId } from 'react'
import { withKey } from '@/core/turn/key-editing'
import { keyablesOf, layerOfTrack, samePath, valueOf, type Keyable } from '@/core/turn/keyable'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { interpolationAt, trackProblem, trackValue, type Track } from '@/core/sheet/tracks'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { setKeys } from '@/state/turn-actions'
import { useViewStore } from '@/state/view-store'
import { ColourRow } from '@/ui/colour-row'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { KeyLinks } from './key-links'

type Value = Track['keys'][number]['value']

interface KeysSectionProps {
  readonly project: Project
  readonly turn: Turn
  readonly sheet: ProjectSheet
  readonly layer: SheetNode
}

/** Values of a layer that change over time. Changing one sets a key at the playhead. */
export function KeysSection({ project, turn, sheet, layer }: KeysSectionProps) {
  const frame = useViewStore((s) => s.turnFrame)
  const id = useId()
  const kindOf = (passId: string) => project.passes.find((pass) => pass.id === passId)?.kind ?? null
  const all = keyablesOf(layer, kindOf)
  const tracks = turn.tracks.filter((track) => layerOfTrack(track) === layer.id)
  const rest = all.filter(({ path }) => !tracks.some((track) => samePath(track.path, path)))
  const add = (i: number) => {
    const chosen = rest.at(i)
    const value = chosen && valueOf(sheet, chosen.path)
    if (!chosen) return
    const first = (value ?? chosen.control.default) as Value
    setKeys(
      chosen.path,
      [{ at: frame, value: first, ease: 'slow both' }],
      `key ${chosen.label.toLowerCase()}`,
    )
  }
  return (
    <section className="section" aria-label="Keys">
      <div className="section-head">
        <span>Keys</span>
        <span className="quiet">at frame {frame}</span>
      </div>
      {tracks.map((track) => (
        <KeyedValue
          key={track.path.join()}
          sheet={sheet}
          track={track}
          keyable={all.find(({ path }) => samePath(path, track.path)) ?? null}
          frame={frame}
          last={frameCount(turn.motion)}
        />
      ))}
      <SelectRow
        id={id}
        label={tracks.length === 0 ? 'Change' : 'And change'}
        value=""
        testId="add-key"
        onChange={(i) => add(Number(i))}
      >
        <option value="">a value over time …</option>
        {rest.map(({ label }, i) => (
          <option key={i} value={i}>
            {label}
          </option>
        ))}
      </SelectRow>
    </section>
  )
}

interface KeyedValueProps {
  readonly sheet: ProjectSheet
  readonly track: Track
  /** Null where what it changes is gone. */
  readonly keyable: Keyable | null
  readonly frame: number
  readonly last: number
}

function KeyedValue({ sheet, track, keyable, frame, last }: KeyedValueProps) {
  const { keys } = track
  const by = keyable ? interpolationAt(sheet, pathIn(sheet, track.path), keys[0].value) : 'step'
  const value = trackValue(track, frame, by)
  const label = keyable?.label ?? track.path.join(' ')
  const change = (next: readonly Track['keys'][number][], what: string, merge?: string) =>
    setKeys(track.path, [...next], `${what} ${label.toLowerCase()}`, merge)
  const set = (next: Value) => change(withKey(keys, frame, next), 'key', `key ${frame}`)
  const problem = trackProblem(sheet, track)
  return (
    <div className="keyed" role="group" aria-label={label}>
      <ValueField label={label} keyable={keyable} value={value} onChange={set} />
      <KeyLinks label={label} keys={keys} value={value} frame={frame} last={last} onChange={change} />
      {problem && <p className="idle-note">This does nothing: {problem}</p>}
    </div>
  )
}

/** A path with positions where it names ids. */
function pathIn(sheet: ProjectSheet, path: Track['path']): (string | number)[] {
  return path.map((step, i) => {
    const list = valueOf(sheet, path.slice(0, i))
    if (!Array.isArray(list) || typeof step === 'number') return step
    return (list as { readonly id?: string }[]).findIndex((item) => item.id === step)
  })
}

interface ValueFieldProps {
  readonly label: string
  readonly keyable: Keyable | null
  readonly value: Value
  readonly onChange: (value: Value) => void
}

function ValueField({ label, keyable, value, onChange }: ValueFieldProps) {
  const id = useId()
  const control = keyable?.control
  if (control?.control === 'number' && typeof value === 'number')
    return (
      <NumberField
        label={label}
        value={value}
        min={control.min}
        max={control.max}
        step={control.step}
        unit={control.unit}
        logarithmic={control.logarithmic}
        onChange={onChange}
      />
    )
  if (control?.control === 'colour' && typeof value === 'string')
    return <ColourRow id={id} label={label} value={value} onChange={onChange} />
  if (control?.control === 'toggle' && typeof value === 'boolean')
    return <SwitchRow label={label} checked={value} onChange={onChange} />
  if (control?.control === 'choice' && typeof value === 'string')
    return (
      <SelectRow id={id} label={label} value={value} onChange={onChange}>
        {control.options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </SelectRow>
    )
  return (
    <div className="row two">
      <span className="label">{label}</span>
      <span className="quiet">{String(value)}</span>
    </div>
  )
}
