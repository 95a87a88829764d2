'use client'

import { useId } from 'react'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { mostDpi, PICTURE_SIZES, sizeInPixels, sizeOf } from '@/core/scene/picture-size'
import type { Shot } from '@/data/project-schema'
import { setDpi, setFrame } from '@/state/shot-actions'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'

/** The picture's size: pixels, paper, or what it is for. */
export function PictureSection({ shot }: { readonly shot: Shot }) {
  const { locked } = shot
  const purposeId = useId()
  const size = sizeOf(shot.frame, shot.dpi)
  /** The paper's highest dpi, where the picture cannot be larger. */
  const atMost = size !== null && shot.dpi >= mostDpi(size.size) ? mostDpi(size.size) : null
  return (
    <section className="section">
      <div className="section-head">Picture</div>
      <SelectRow
        id={purposeId}
        label="Size for"
        value={size ? `${size.size.name}|${size.across}` : ''}
        onChange={(picked) => {
          const [name, across] = picked.split('|')
          const chosen = PICTURE_SIZES.find((s) => s.name === name)
          if (!chosen) return
          const dpi = Math.min(shot.dpi, mostDpi(chosen))
          setFrame(sizeInPixels(chosen, dpi, across === 'true'), undefined, dpi)
        }}
      >
        <option value="">Own size</option>
        {(['Screen', 'Paper', 'Inches', 'Film'] as const).map((group) => (
          <optgroup key={group} label={group}>
            {PICTURE_SIZES.filter((s) => s.group === group).flatMap((s) =>
              s.unit === 'px' ? (
                <option key={s.name} value={`${s.name}|false`}>
                  {s.name}
                </option>
              ) : (
                [false, true].map((across) => (
                  <option key={`${s.name}${across}`} value={`${s.name}|${across}`}>
                    {s.name} {across ? 'across' : 'upright'}
                  </option>
                ))
              ),
            )}
          </optgroup>
        ))}
      </SelectRow>
      <NumberField
        label="Print at"
        disabled={locked}
        value={shot.dpi}
        min={36}
        max={1200}
        step={1}
        unit="dpi"
        logarithmic
        defaultValue={300}
        note={`${((shot.frame.width / shot.dpi) * 25.4).toFixed(0)} × ${((shot.frame.height / shot.dpi) * 25.4).toFixed(0)} mm`}
        onChange={setDpi}
      />
      {atMost !== null && (
        <p className="quiet" role="status" data-testid="paper-at-most">
          {size?.size.name} is at its largest: a side holds {MAX_PICTURE_SIDE.toLocaleString('en')} pixels,
          which is {atMost} dpi on this paper.
        </p>
      )}
      <NumberField
        label="Width"
        disabled={locked}
        value={shot.frame.width}
        min={64}
        max={MAX_PICTURE_SIDE}
        step={1}
        unit="px"
        logarithmic
        onChange={(v) => setFrame({ width: v, height: shot.frame.height }, 'frame')}
      />
      <NumberField
        label="Height"
        disabled={locked}
        value={shot.frame.height}
        min={64}
        max={MAX_PICTURE_SIDE}
        step={1}
        unit="px"
        logarithmic
        onChange={(v) => setFrame({ width: shot.frame.width, height: v }, 'frame')}
      />
    </section>
  )
}
