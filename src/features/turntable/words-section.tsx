'use client'

import { useId } from 'react'
import { MOST_TYPE_LENGTH } from '@/core/sheet/contents/type'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { turnWordLabels } from '@/core/turn/turn-words'
import type { Project } from '@/data/project-schema'
import { projectWordLabels } from '@/data/project-words'
import { ColourRow } from '@/ui/colour-row'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { FontField } from '../poster/font-field'
import { changeContent } from '../sheet/layer-actions'

interface WordsSectionProps {
  readonly project: Project
  readonly layerId: string
  readonly content: ContentOf<'type'>
}

const WORDS = Object.entries({ ...turnWordLabels, ...projectWordLabels })
const PLACES = ['Left', 'Top', 'Width'] as const

/** What a block of type says in a turntable, how large, and where; words in braces stand for what is counted. */
export function WordsSection({ project, layerId, content }: WordsSectionProps) {
  const id = useId()
  const change = (label: string, apply: Parameters<typeof changeContent<'type'>>[3]) =>
    changeContent(layerId, 'type', label, apply)
  return (
    <>
      <section className="section" aria-label="Words">
        <div className="section-head">
          <label htmlFor={`${id}-text`}>It says</label>
        </div>
        <textarea
          id={`${id}-text`}
          className="plain-text words"
          rows={Math.min(6, Math.max(2, content.text.split('\n').length))}
          maxLength={MOST_TYPE_LENGTH}
          value={content.text}
          aria-describedby={`${id}-words`}
          onChange={(e) => change('what it says', (own) => void (own.text = e.target.value))}
        />
        <div className="words-known" id={`${id}-words`}>
          {WORDS.map(([word, means]) => (
            <button
              key={word}
              className="link"
              title={`Stands for ${means}`}
              onClick={() => change('what it says', (own) => void (own.text += `{${word}}`))}
            >
              {`{${word}}`}
            </button>
          ))}
        </div>
        <NumberField
          label="Size"
          unit="px"
          value={content.size}
          min={2}
          max={8000}
          step={0.5}
          logarithmic
          onChange={(size) => change('size', (own) => void (own.size = size))}
        />
        <ColourRow
          id={`${id}-colour`}
          label="Colour"
          value={content.colour}
          onChange={(colour) => change('colour', (own) => void (own.colour = colour))}
        />
        <SelectRow
          id={`${id}-align`}
          label="Lines"
          value={content.align}
          onChange={(align) =>
            change('lines', (own) => void (own.align = align as ContentOf<'type'>['align']))
          }
        >
          <option value="start">From the start</option>
          <option value="middle">In the middle</option>
          <option value="end">To the end</option>
        </SelectRow>
        {PLACES.map((label, k) => (
          <NumberField
            key={label}
            label={label}
            unit="%"
            value={100 * content.box[k]}
            min={k === 2 ? 1 : -100}
            max={200}
            step={0.5}
            onChange={(share) => change(label.toLowerCase(), (own) => void (own.box[k] = share / 100))}
          />
        ))}
      </section>
      <FontField projectId={project.id} fonts={project.fonts} layerId={layerId} content={content} />
    </>
  )
}
