'use client'

import { memo } from 'react'
import type { HandEdit } from '@/core/lines/hand-weights'
import { useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { changeLayer } from './layer-actions'
import { LINE_TOOLS, setBrush, type LineTool } from './line-brush'
import { HandSectionStyles } from './hand-section-styles'

interface HandSectionProps {
  readonly layerId: string
  readonly edits: readonly HandEdit[]
}

/** The brush over the lines of a layer, and what was done with it. */
export const HandSection = memo(function HandSection({ layerId, edits }: HandSectionProps) {
  const brush = useViewStore((s) => s.lineBrush)
  const change = (label: string, next: HandEdit[]) =>
    changeLayer(layerId, label, (l) => {
      if (l.content.kind === 'pass') l.content.byHand = next
    })
  const drawn = edits.filter(({ kind }) => kind === 'line').length
  const brushed = edits.length - drawn
  return (
    <section className="section">
      <HandSectionStyles />
      <div className="section-head">
        <span>By hand</span>
        <span className="quiet">
          {edits.length === 0
            ? 'on the proof'
            : [brushed > 0 && `${brushed} brushed`, drawn > 0 && `${drawn} drawn`].filter(Boolean).join(', ')}
        </span>
      </div>
      <div className="tool-row" role="group" aria-label="Brush over the lines">
        {Object.entries(LINE_TOOLS).map(([tool, { label }]) => (
          <button
            key={tool}
            className="tool"
            aria-pressed={brush.tool === tool}
            data-testid={`line-${tool}`}
            onClick={() => setBrush({ tool: brush.tool === tool ? null : (tool as LineTool) })}
          >
            {label}
          </button>
        ))}
      </div>
      {brush.tool === 'draw' ? (
        <NumberField
          label="Weight"
          value={brush.weight}
          min={0.2}
          max={40}
          step={0.1}
          unit="‰"
          defaultValue={2}
          logarithmic
          onChange={(weight) => setBrush({ weight })}
        />
      ) : (
        <>
          <NumberField
            label="Brush"
            value={Math.round(brush.radius * 1000)}
            min={2}
            max={300}
            step={1}
            unit="‰"
            defaultValue={30}
            logarithmic
            note="Reach of the brush, in thousandths of the picture’s height"
            onChange={(radius) => setBrush({ radius: radius / 1000 })}
          />
          {brush.tool !== 'erase' && (
            <NumberField
              label="Strength"
              value={Math.round(brush.strength * 100)}
              min={5}
              max={100}
              step={5}
              unit="%"
              defaultValue={60}
              onChange={(strength) => setBrush({ strength: strength / 100 })}
            />
          )}
        </>
      )}
      {edits.length > 0 && (
        <div style={{ display: 'flex', gap: 14, marginTop: 4 }}>
          <button className="link" onClick={() => change('take back a stroke', edits.slice(0, -1))}>
            Take back the last
          </button>
          <button className="link" onClick={() => change('clear what was done by hand', [])}>
            Clear all
          </button>
        </div>
      )}
    </section>
  )
})
