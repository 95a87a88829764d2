'use client'

import { memo } from 'react'
import { FILL_SHAPES, fillShapeLabels, gradientAcross, type FillShape } from '@/core/sheet/contents/fill'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { useSheetSize } from '@/state/use-sheet-size'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { changeContent } from './layer-actions'

interface FillSectionProps {
  readonly layerId: string
  readonly content: ContentOf<'fill'>
}

/** Colours of a fill layer, and how they run. */
export const FillSection = memo(function FillSection({ layerId, content }: FillSectionProps) {
  const { width, height } = useSheetSize()
  const { shape, stops } = content
  const change = (label: string, apply: (fill: FillSectionProps['content']) => void, merge?: string) =>
    changeContent(layerId, 'fill', label, apply, merge)
  const setShape = (next: FillShape) =>
    change('gradient', (fill) => {
      fill.shape = next
      if (next === 'even' || fill.stops.length > 1) return
      fill.stops = [
        { ...fill.stops[0], at: 0 },
        { at: 1, colour: '#8a6f5a' },
      ]
    })
  const addStop = () =>
    change('add a colour', ({ stops: list }) => {
      // In the middle of the widest gap.
      const gaps = list.slice(1).map((stop, i) => stop.at - list[i].at)
      const at = gaps.indexOf(Math.max(...gaps))
      const { colour } = list[at]
      list.splice(at + 1, 0, { at: (list[at].at + list[at + 1].at) / 2, colour })
    })
  const angleDeg = angleOf(content, width, height)
  return (
    <section className="section">
      <div className="section-head">
        <span>Fill</span>
        {shape !== 'even' && (
          <button className="link" onClick={addStop} disabled={stops.length >= 64} data-testid="add-stop">
            Add a colour
          </button>
        )}
      </div>
      <SelectRow
        id="fill-shape"
        label="Runs"
        value={shape}
        onChange={(picked) => setShape(picked as FillShape)}
      >
        {FILL_SHAPES.map((own) => (
          <option key={own} value={own}>
            {fillShapeLabels[own]}
          </option>
        ))}
      </SelectRow>
      {(shape === 'even' ? stops.slice(0, 1) : stops).map((stop, i) => (
        <StopRow
          key={i}
          index={i}
          stop={stop}
          isEven={shape === 'even'}
          onColour={(colour) =>
            change('fill colour', ({ stops: list }) => void (list[i].colour = colour), `colour ${i}`)
          }
          onPlace={(at) =>
            change(
              'place of a colour',
              ({ stops: list }) => {
                const [low, high] = [list[i - 1]?.at ?? 0, list[i + 1]?.at ?? 1]
                list[i].at = Math.min(high, Math.max(low, at))
              },
              `place ${i}`,
            )
          }
          onRemove={
            stops.length > 2
              ? () => change('remove a colour', ({ stops: list }) => void list.splice(i, 1))
              : null
          }
        />
      ))}
      {shape === 'linear' && (
        <NumberField
          label="Angle"
          value={Math.round(angleDeg)}
          min={-180}
          max={180}
          step={1}
          unit="°"
          defaultValue={90}
          onChange={(v) =>
            change(
              'gradient angle',
              (fill) => void Object.assign(fill, gradientAcross(v, width, height)),
              'angle',
            )
          }
        />
      )}
    </section>
  )
})

/** The angle at which a gradient runs on the sheet: 0 to the right, 90 down. */
function angleOf({ from, to }: ContentOf<'fill'>, width: number, height: number): number {
  return (Math.atan2((to[1] - from[1]) * height, (to[0] - from[0]) * width) * 180) / Math.PI
}

interface StopRowProps {
  readonly index: number
  readonly stop: ContentOf<'fill'>['stops'][number]
  readonly isEven: boolean
  readonly onColour: (colour: string) => void
  readonly onPlace: (at: number) => void
  readonly onRemove: (() => void) | null
}

/** One colour of a fill, and where along the gradient it lies. */
function StopRow({ index, stop, isEven, onColour, onPlace, onRemove }: StopRowProps) {
  const label = isEven ? 'Colour' : `Colour ${index + 1}`
  return (
    <>
      <div className="row">
        <label htmlFor={`fill-colour-${index}`}>{label}</label>
        <span className="wide" style={{ textAlign: 'right' }}>
          {onRemove && (
            <button className="link" onClick={onRemove} aria-label={`Remove ${label.toLowerCase()}`}>
              Remove
            </button>
          )}
          <input
            id={`fill-colour-${index}`}
            type="color"
            className="swatch"
            value={stop.colour.slice(0, 7)}
            onChange={(e) => onColour(e.target.value + stop.colour.slice(7))}
          />
        </span>
      </div>
      {!isEven && (
        <NumberField
          label={`Place ${index + 1}`}
          value={Math.round(stop.at * 100)}
          min={0}
          max={100}
          step={1}
          unit="%"
          defaultValue={Math.round(stop.at * 100)}
          onChange={(v) => onPlace(v / 100)}
        />
      )}
    </>
  )
}
