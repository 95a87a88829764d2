'use client'

import { memo, useState } from 'react'
import { enqueueSnackbar } from 'notistack'
import { effectKind, findEffect } from '@/core/effects/registry'
import { writeCubeTable } from '@/core/formats/cube-table'
import { newEffect } from '@/core/sheet/new-layer'
import { tableOfEffects } from '@/core/sheet/table-of-effects'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { newId } from '@/data/new-project'
import { saveFile } from '@/ui/save-file'
import { EffectChooser } from './effect-chooser'
import { EffectRow } from './effect-row'
import { EffectsStyles } from './effects-styles'
import { changeLayer } from './layer-actions'

interface EffectsSectionProps {
  readonly layerId: string
  readonly effects: SheetNode['effects']
  readonly isWash: boolean
  /** Of the layer. */
  readonly name: string
}

/** What is worked on a layer before it is blended, in order: a step a line, one of them open. */
export const EffectsSection = memo(function EffectsSection({
  layerId,
  effects,
  isWash,
  name,
}: EffectsSectionProps) {
  // A single step is what one wants to see.
  const [open, setOpen] = useState<string | null>(effects.length === 1 ? effects[0].id : null)
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
      {effects.length > 0 && <SaveTable effects={effects} name={name} />}
    </section>
  )
})

/** Hands over what effects of tone and colour do as one grading table. */
function SaveTable({ effects, name }: { readonly effects: SheetNode['effects']; readonly name: string }) {
  const save = () => {
    // Tables from files are in the sheet worker: what they do is not asked for here.
    const made = tableOfEffects(name, effects, () => null)
    if (!made) {
      enqueueSnackbar('None of these effects changes tone or colour alone.', { variant: 'warning' })
      return
    }
    saveFile(`${name}.cube`, new TextEncoder().encode(writeCubeTable(made.table)), 'text/plain')
    const left = made.left.map(({ kind }) => findEffect(kind)?.label ?? kind)
    if (left.length > 0)
      enqueueSnackbar(`Not in the table: ${left.join(', ')}. A table knows colours alone.`, {
        variant: 'info',
      })
  }
  return (
    <button className="link" onClick={save} data-testid="save-table">
      Save tone and colour as a .cube file
    </button>
  )
}
