'use client'

import { memo } from 'react'
import { passKind, type PassKindName } from '@/core/passes/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { layersOf } from '@/core/sheet/sheet-tree'
import { frameCount, REVEALS, type Reveal, type RevealKind, type Turn } from '@/core/turn/turn-schema'
import type { Project } from '@/data/project-schema'
import { addPass } from '@/state/pass-actions'
import { addReveal, changeReveal, removeReveal, setMoment, type Moment } from '@/state/turn-actions'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { EaseRow } from './ease-row'
import { FrameRow } from './frame-row'
import { PartOrder } from './part-order'
import { revealLabels } from './reveal-words'

interface RevealSectionProps {
  readonly project: Project
  readonly turn: Turn
  readonly layer: SheetNode
  /** Whether it is a pass of lines, which can be drawn. */
  readonly hasLines: boolean
}

/** How a layer comes in, and goes again. */
export const RevealSection = memo(function RevealSection({
  project,
  turn,
  layer,
  hasLines,
}: RevealSectionProps) {
  const reveals = turn.reveals.filter(({ layerId }) => layerId === layer.id)
  const kinds = REVEALS.filter((kind) => kind !== 'drawn' || hasLines)
  if (reveals.length === 0)
    return (
      <section className="section" aria-label="Reveal">
        <SelectRow
          id="reveal-none"
          label="Comes in by"
          value=""
          testId="add-reveal"
          onChange={(kind) => addReveal(layer.id, kind as RevealKind)}
        >
          <option value="">There from the first</option>
          {kinds.map((kind) => (
            <option key={kind} value={kind}>
              {revealLabels[kind]}
            </option>
          ))}
        </SelectRow>
      </section>
    )
  return reveals.map((reveal, i) => (
    <OneReveal key={reveal.id} project={project} turn={turn} reveal={reveal} number={i} kinds={kinds} />
  ))
})

interface OneRevealProps {
  readonly project: Project
  readonly turn: Turn
  readonly reveal: Reveal
  readonly number: number
  readonly kinds: readonly RevealKind[]
}

/** Reveals that have an edge. */
const SOFT_EDGED: readonly RevealKind[] = ['sweep', 'iris', 'depth', 'height']
/** Passes by which reveals tell what comes when. */
const TOLD_BY: Partial<Record<RevealKind, PassKindName>> = { depth: 'depth', height: 'depth', parts: 'id' }

interface WantsPassProps {
  readonly project: Project
  readonly shotId: string
  readonly kind: RevealKind
}

/** Says which pass a reveal wants that the shot does not have, and brings it. */
function WantsPass({ project, shotId, kind }: WantsPassProps) {
  const wanted = TOLD_BY[kind]
  if (!wanted || project.passes.some((pass) => pass.shotId === shotId && pass.kind === wanted)) return null
  const { label } = passKind(wanted)
  return (
    <p className="problem" role="status">
      It is told by the {label} pass, which this shot does not have.{' '}
      <button className="link" onClick={() => addPass(wanted)}>
        Add it
      </button>
    </p>
  )
}

function OneReveal({ project, turn, reveal, number, kinds }: OneRevealProps) {
  const last = frameCount(turn.motion)
  const set = (label: string, patch: Partial<Reveal>, merge?: string) =>
    changeReveal(reveal.id, label, (draft) => void Object.assign(draft, structuredClone(patch)), merge)
  const moment = (name: Moment) => (frame: number) =>
    changeReveal(reveal.id, 'when a layer comes', (draft) => setMoment(draft, name, frame, last), name)
  const sheet = project.sheets.find(({ id }) => id === turn.sheetId)
  const shotId = sheet && layersOf(sheet).length > 0 ? sheet.shotId : ''
  return (
    <section className="section" aria-label={number === 0 ? 'Reveal' : `Reveal ${number + 1}`}>
      <SelectRow
        id={`reveal-${reveal.id}`}
        label="Comes in by"
        value={reveal.kind}
        testId="reveal-kind"
        onChange={(kind) =>
          kind === '' ? removeReveal(reveal.id) : set('how a layer comes', { kind: kind as RevealKind })
        }
      >
        <option value="">There from the first</option>
        {kinds.map((kind) => (
          <option key={kind} value={kind}>
            {revealLabels[kind]}
          </option>
        ))}
      </SelectRow>
      {reveal.kind === 'sweep' && (
        <NumberField
          label="Angle"
          value={reveal.angleDeg}
          min={-180}
          max={180}
          step={1}
          unit="°"
          defaultValue={-13}
          onChange={(angleDeg) => set('angle of a sweep', { angleDeg }, 'angle')}
        />
      )}
      <WantsPass project={project} shotId={shotId} kind={reveal.kind} />
      {SOFT_EDGED.includes(reveal.kind) && (
        <NumberField
          label="Soft edge"
          value={Math.round(1000 * reveal.softness) / 10}
          min={0}
          max={100}
          step={0.5}
          unit="%"
          defaultValue={4}
          onChange={(soft) => set('soft edge', { softness: soft / 100 }, 'softness')}
        />
      )}
      {reveal.kind === 'parts' && (
        <PartOrder
          project={project}
          shotId={shotId}
          parts={reveal.parts}
          onChange={(parts) => set('order of parts', { parts })}
        />
      )}
      <FrameRow label="From" unit="frame" value={reveal.from} max={last} onChange={moment('from')} />
      <FrameRow label="Whole by" unit="frame" value={reveal.whole} max={last} onChange={moment('whole')} />
      <EaseRow
        label="On the way"
        ease={reveal.ease}
        onChange={(ease) => set('ease of a reveal', { ease }, 'ease')}
      />
      {reveal.goes === null || reveal.gone === null ? (
        <div className="row two">
          <span className="label">Stays</span>
          <span>
            <button
              className="link"
              onClick={() =>
                set('layer goes again', {
                  goes: Math.max(reveal.whole, last - Math.round(turn.motion.framesPerTurn / 8)),
                  gone: last,
                })
              }
            >
              Let it go again
            </button>
          </span>
        </div>
      ) : (
        <>
          <FrameRow
            label="Goes again"
            unit="frame"
            value={reveal.goes}
            max={last}
            onChange={moment('goes')}
          />
          <FrameRow label="Gone by" unit="frame" value={reveal.gone} max={last} onChange={moment('gone')} />
          <div className="row two">
            <span />
            <span>
              <button
                className="link"
                title="At the end it is whole, at the beginning not there: a jump where the turntable closes"
                onClick={() => set('layer stays', { goes: null, gone: null })}
              >
                Let it stay
              </button>
            </span>
          </div>
        </>
      )}
    </section>
  )
}
