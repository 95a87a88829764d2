'use client'

import { memo, useId, useRef } from 'react'
import { useSnackbar } from 'notistack'
import type { ContentOf } from '@/core/sheet/contents/registry'
import {
  AFTER_SEQUENCE,
  GAPS,
  missingInWords,
  type AfterSequence,
  type Gap,
  type SequenceTime,
} from '@/core/turn/sequence'
import { frameCount, type Turn } from '@/core/turn/turn-schema'
import { picturesOf } from '@/data/project-pictures'
import type { Project } from '@/data/project-schema'
import { addSequence } from '@/state/sequence-actions'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { changeContent } from '../sheet/layer-actions'
import { FrameRow } from './frame-row'

const afterLabels: Readonly<Record<AfterSequence, string>> = {
  nothing: 'Nothing of it',
  hold: 'Its last picture',
  again: 'It again',
  back: 'There and back',
}
const gapLabels: Readonly<Record<Gap, string>> = {
  before: 'The picture before',
  nearest: 'The nearest picture',
  nothing: 'Nothing',
}

interface SequenceSectionProps {
  readonly project: Project
  readonly turn: Turn
  readonly layerId: string
  readonly content: ContentOf<'picture'>
  readonly sequence: SequenceTime
}

/** How a sequence that was brought in goes along with the turntable. */
export function SequenceSection({ project, turn, layerId, content, sequence }: SequenceSectionProps) {
  const id = useId()
  const stored = project.sequences.find((own) => own.id === sequence.sequenceId)
  const change = (label: string, patch: Partial<SequenceTime>) =>
    changeContent(layerId, 'picture', label, (own) => {
      if (own.sequence) Object.assign(own.sequence, patch)
    })
  if (!stored)
    return (
      <p className="problem" role="alert">
        Its pictures are not in this project any more.
      </p>
    )
  const pictures = picturesOf(stored)
  const missing = missingInWords(pictures, stored.first)
  const { rate } = turn.motion
  return (
    <section className="section" aria-label="Sequence">
      <div className="section-head">
        <span>Sequence</span>
        <span className="quiet">
          {stored.frames.length} of {stored.width} × {stored.height}
        </span>
      </div>
      {missing !== '' && (
        <p className="problem" role="status">
          Missing: {missing}
        </p>
      )}
      <SelectRow
        id={`${id}-rate`}
        label="Goes"
        value={sequence.rate === null ? 'frame' : 'rate'}
        onChange={(value) => change('rate of a sequence', { rate: value === 'frame' ? null : rate })}
      >
        <option value="frame">A picture a frame</option>
        <option value="rate">At its own rate</option>
      </SelectRow>
      {sequence.rate !== null && (
        <FrameRow
          label="Pictures"
          unit="a second"
          value={sequence.rate}
          min={0.01}
          max={240}
          step={0.001}
          onChange={(next) => change('rate of a sequence', { rate: next })}
        />
      )}
      <FrameRow
        label="Begins at"
        unit="frame"
        value={sequence.begins}
        min={-frameCount(turn.motion)}
        max={frameCount(turn.motion)}
        onChange={(begins) => change('beginning of a sequence', { begins })}
      />
      <FrameRow
        label="First"
        value={stored.first + sequence.from}
        min={stored.first}
        max={stored.first + sequence.to - 1}
        onChange={(number) => change('first of a sequence', { from: number - stored.first })}
      />
      <FrameRow
        label="Last"
        value={stored.first + sequence.to - 1}
        min={stored.first + sequence.from}
        max={stored.first + pictures.length - 1}
        onChange={(number) => change('last of a sequence', { to: number - stored.first + 1 })}
      />
      <SelectRow
        id={`${id}-after`}
        label="After it"
        value={sequence.after}
        onChange={(value) =>
          change('after a sequence', { after: AFTER_SEQUENCE.find((own) => own === value) ?? 'hold' })
        }
      >
        {AFTER_SEQUENCE.map((own) => (
          <option key={own} value={own}>
            {afterLabels[own]}
          </option>
        ))}
      </SelectRow>
      <SwitchRow
        label="Backwards"
        checked={sequence.reverse}
        onChange={(reverse) => change('way of a sequence', { reverse })}
      />
      {missing !== '' && (
        <SelectRow
          id={`${id}-gaps`}
          label="Missing ones"
          value={sequence.gaps}
          onChange={(value) =>
            change('gaps of a sequence', { gaps: GAPS.find((own) => own === value) ?? 'before' })
          }
        >
          {GAPS.map((own) => (
            <option key={own} value={own}>
              {gapLabels[own]}
            </option>
          ))}
        </SelectRow>
      )}
      <SwitchRow
        label="Colours times alpha"
        note="Edges that look dark, or have a rim, were read the other way"
        checked={content.premultiplied ?? false}
        onChange={(on) =>
          changeContent(layerId, 'picture', 'alpha of a sequence', (own) => void (own.premultiplied = on))
        }
      />
    </section>
  )
}

/** Takes numbered pictures or a film in. */
export const BringSequence = memo(function BringSequence() {
  const { enqueueSnackbar } = useSnackbar()
  const inputRef = useRef<HTMLInputElement>(null)
  const bring = async (files: readonly File[]) => {
    try {
      const notes = await addSequence(files)
      if (notes && notes.length > 0) enqueueSnackbar(`${notes.join('; ')}.`)
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <>
      <input
        ref={inputRef}
        type="file"
        multiple
        hidden
        aria-label="Numbered pictures or a film"
        data-testid="sequence-input"
        accept=".png,.jpg,.jpeg,.webp,.exr,.hdr,.gif,.apng,.mp4,.m4v,.mov,.webm,.mkv"
        onChange={(e) => {
          void bring([...(e.target.files ?? [])])
          e.target.value = ''
        }}
      />
      <button className="link ready" onClick={() => inputRef.current?.click()} data-testid="bring-sequence">
        Bring in a sequence or a film
      </button>
    </>
  )
})
