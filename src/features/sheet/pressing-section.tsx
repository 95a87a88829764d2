'use client'

import { useState } from 'react'
import { useSnackbar } from 'notistack'
import type { ContentOf } from '@/core/sheet/contents/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { layersOf, withinLayer } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { SelectRow } from '@/ui/select-row'
import { changeContent, groupOfLayer } from './layer-actions'
import { pressLayer } from './press-layer'

interface PressingSectionProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly content: ContentOf<'pressing'>
}

/** What a live pressing follows, and making a picture of it. */
export function PressingSection({ project, layer, content }: PressingSectionProps) {
  const { enqueueSnackbar } = useSnackbar()
  const [isBusy, setIsBusy] = useState(false)
  const sheet = activeSheet(project)
  const around = groupOfLayer(sheet, layer.id)
  // Nothing that it is a part of: it would follow itself.
  const followable = layersOf(sheet).filter(
    ({ id, content: held }) =>
      id !== layer.id && held.kind !== 'wash' && !withinLayer(sheet, id).includes(layer.id),
  )
  const isGone = content.of !== null && !sheet.nodes[content.of]
  const press = async () => {
    setIsBusy(true)
    try {
      await pressLayer(layer.id)
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    } finally {
      setIsBusy(false)
    }
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Pressing</span>
        <button className="link" onClick={() => void press()} disabled={isBusy} data-testid="press-it">
          {isBusy ? 'Pressing' : 'Make it a picture'}
        </button>
      </div>
      <SelectRow
        id="pressing-of"
        label="Follows"
        value={content.of ?? ''}
        onChange={(picked) =>
          changeContent(
            layer.id,
            'pressing',
            'what a pressing follows',
            (own) => void (own.of = picked || null),
          )
        }
      >
        <option value="">{around === null ? 'all beneath it' : 'all beneath it in its group'}</option>
        {isGone && <option value={content.of ?? ''}>a layer that is gone</option>}
        {followable.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </SelectRow>
      {isGone && <p className="problem">It shows nothing: the layer it follows is gone.</p>}
    </section>
  )
}
