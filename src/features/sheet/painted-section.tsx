'use client'

import { useSnackbar } from 'notistack'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { plural } from '@/core/plural'
import type { Project } from '@/data/project-schema'
import { carryPaintOver, hasShotMoved } from '@/state/carry-paint'
import { setPaint } from './paint/paint-store'

interface PaintedSectionProps {
  readonly project: Project
  readonly layer: SheetNode
}

/** What was painted by hand, and carrying it over where the shot has moved since. */
export function PaintedSection({ project, layer }: PaintedSectionProps) {
  const { enqueueSnackbar } = useSnackbar()
  if (layer.content.kind !== 'painted') return null
  const tiles = Object.keys(layer.content.tiles).length
  const carry = async () => {
    try {
      const told = await carryPaintOver(layer.id)
      if (told) enqueueSnackbar(told, { variant: 'success' })
    } catch (error) {
      enqueueSnackbar(error instanceof Error ? error.message : String(error), { variant: 'error' })
    }
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Paint</span>
        <button className="link" onClick={() => setPaint({ tool: 'paint' })}>
          Paint on it
        </button>
      </div>
      <p className="quiet">
        {tiles === 0
          ? 'Nothing is painted on it yet.'
          : `${plural(tiles, 'tile')} of paint, ${((tiles * 128) / 1024).toFixed(1)} MB in memory.`}
      </p>
      {hasShotMoved(project, layer) && (
        <div className="problem" role="status" data-testid="paint-moved">
          The shot has moved since it was painted.{' '}
          <button className="link" onClick={() => void carry()} data-testid="carry-over">
            Carry the paint over
          </button>
        </div>
      )}
    </section>
  )
}
