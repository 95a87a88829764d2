'use client'

import { memo, useState } from 'react'
import { effectKind } from '@/core/effects/registry'
import { newEffect } from '@/core/sheet/new-layer'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { EffectChooser } from './effect-chooser'
import { EffectRow } from './effect-row'
import { EffectsStyles } from './effects-styles'
import { changeLayer } from './layer-actions'

interface EffectsSectionProps {
  readonly layerId: string
  readonly effects: SheetNode['effects']
  readonly isWash: boolean
}

/** What is worked on a layer before it is blended, in order: a step a line, one of them open. */
export const EffectsSection = memo(function EffectsSection({
  layerId,
  effects,
  isWash,
}: EffectsSectionProps) {
  const [open, setOpen] = useState<string | null>(null)
  const [choosing, setChoosing] = useState(false)
  const add = (kind: string) => {
    const made = newEffect(newId(), kind)
    changeLayer(layerId, `add ${effectKind(kind).label}`, (l) => void l.effects.push(made))
    setChoosing(false)
    setOpen(made.id)
  }
  return (
    <section className="section">
      <EffectsStyles />
      <div className="section-head">
        <span>Effects</span>
        <button
          className="link"
          aria-expanded={choosing}
          data-testid="add-effect"
          onClick={() => setChoosing(!choosing)}
        >
          {choosing ? 'Close' : 'Add an effect'}
        </button>
      </div>
      {choosing && <EffectChooser layerId={layerId} onChoose={add} onClose={() => setChoosing(false)} />}
      {effects.length === 0 && !choosing && (
        <span className="quiet">
          {isWash ? 'A wash does nothing without an effect.' : 'Worked on the layer before it is blended.'}
        </span>
      )}
      {effects.map((effect, i) => (
        <EffectRow
          key={effect.id}
          layerId={layerId}
          effect={effect}
          index={i}
          count={effects.length}
          isOpen={open === effect.id}
          onOpen={() => setOpen(open === effect.id ? null : effect.id)}
        />
      ))}
    </section>
  )
})
