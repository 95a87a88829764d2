'use client'

import { brushSchema, type BrushParams } from '@/core/paint/brush'
import { LEADS, type Lead } from '@/core/paint/led-way'
import { TIPS, findTip } from '@/core/paint/tips/registry'
import { findEffect } from '@/core/effects/registry'
import { activeSheet } from '@/data/active-shot'
import { useProjectStore } from '@/state/project-store'
import { useViewStore } from '@/state/view-store'
import { NumberField } from '@/ui/number-field'
import { ParamsInspector } from '@/ui/params-inspector'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { ToneRange } from '@/ui/tone-range'
import { CloneSourceSection } from './clone-source-section'
import { Palettes } from './palettes'
import { Sample, SAMPLE, SMALL } from './brush-sample'
import { OwnBrushes } from './own-brushes-list'
import { useOwnBrushes } from './own-brushes'
import { mixedColour } from './mix-colours'
import { QUICK_STARTS } from './quick-starts'
import { surfaceTerm } from '@/core/sheet/new-layer'
import { useBesideSheets } from '@/state/use-beside-sheets'
import { SurfaceList } from '../surface-list'
import {
  BY_RANGE,
  PAINT_TOOLS,
  brushInHand,
  brushOf,
  changeBrush,
  setPaint,
  STAYS,
  usePaint,
  type Stays,
} from './paint-store'

/** How the hand leads a stroke that is not free. */
const LEAD_HINTS: Readonly<Record<Lead, string>> = {
  free: '',
  straight: 'Drag from end to end; Shift keeps it at whole steps of 15°.',
  corners: 'Click each corner; a double click or Enter ends, Esc drops it.',
  ellipse: 'Drag from corner to corner of its box; Shift makes it a circle.',
  line: 'Drag along a line of the drawing: the brush goes on it.',
}

/** The brush at hand, in place of the layer's inspector. */
export function PaintPanel() {
  const state = usePaint()
  const own = useOwnBrushes((s) => s.brushes.find((brush) => brush.tip === state.tip))
  const project = useBesideSheets()
  const layerId = useViewStore((s) => s.layerId)
  const effects = useProjectStore(({ project: open }) =>
    open && layerId !== null ? activeSheet(open).nodes[layerId]?.effects : undefined,
  )
  const {
    tool,
    tip,
    onEffect,
    stays,
    spread,
    chosen,
    lead,
    range,
    colours,
    mixed,
    recent,
    mirrorX,
    mirrorY,
    bySpeed,
  } = state
  if (!tool) return null
  const params = brushOf(state, tip)
  const usesColour = ['paint', 'lighten', 'darken', 'tint'].includes(tool)
  const usesRange = tool === 'lighten' || tool === 'darken' || tool === 'tint'
  const mix = mixedColour(colours, mixed)
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{findTip(tip)?.label ?? own?.name ?? 'Own tip'}</h2>
        <span className="quiet">tip</span>
      </div>
      <div className="quick" role="group" aria-label="Begin with">
        {QUICK_STARTS.map(({ id, label, summary, start }) => (
          <button key={id} className="link" title={summary} onClick={start}>
            {label}
          </button>
        ))}
      </div>
      {PAINT_TOOLS[tool].on === 'mask' && effects && effects.length > 0 && (
        <SelectRow
          id="paint-mask-of"
          label="Mask of"
          value={effects.some(({ id }) => id === onEffect) ? (onEffect ?? '') : ''}
          onChange={(picked) => setPaint({ onEffect: picked || null })}
        >
          <option value="">The layer</option>
          {effects.map((effect) => (
            <option key={effect.id} value={effect.id}>
              {findEffect(effect.kind)?.label ?? effect.kind}
            </option>
          ))}
        </SelectRow>
      )}
      <section className="section">
        <Sample brush={brushInHand(state)} size={SAMPLE} className="tip-sample" />
        <div className="tips" role="group" aria-label="Tips">
          {TIPS.map(({ kind, label, summary }) => (
            <button
              key={kind}
              aria-pressed={kind === tip}
              title={summary}
              data-testid={`tip-${kind}`}
              onClick={() => setPaint({ tip: kind })}
            >
              <Sample
                brush={{ tip: kind, seed: 1, params: { ...brushOf({ brushes: {} }, kind), size: 34 } }}
                size={SMALL}
              />
              <span>{label}</span>
            </button>
          ))}
        </div>
        <OwnBrushes />
        <ParamsInspector
          schema={brushSchema}
          values={params}
          onChange={(name, value) => changeBrush({ [name]: value } as Partial<BrushParams>)}
        />
        <NumberField
          label="Seed"
          value={state.seed}
          min={0}
          max={9999}
          step={1}
          defaultValue={1}
          onChange={(seed) => setPaint({ seed })}
        />
        <SwitchRow label="Quick is light" checked={bySpeed} onChange={(on) => setPaint({ bySpeed: on })} />
      </section>
      {tool === 'clone' && <CloneSourceSection />}
      {usesColour && (
        <section className="section">
          <div className="section-head">
            <span>Colour</span>
            <span className="quiet">{mix}</span>
          </div>
          <div className="mix">
            <input
              type="color"
              aria-label="First colour"
              value={colours[0]}
              onChange={(e) => setPaint({ colours: [e.target.value, colours[1]] })}
            />
            <input
              type="range"
              aria-label="Between the two colours"
              min={0}
              max={1}
              step={0.01}
              value={mixed}
              style={{
                background: `linear-gradient(to right, ${[0, 0.25, 0.5, 0.75, 1].map((t) => mixedColour(colours, t)).join(', ')})`,
              }}
              onChange={(e) => setPaint({ mixed: Number(e.target.value) })}
            />
            <input
              type="color"
              aria-label="Second colour"
              value={colours[1]}
              onChange={(e) => setPaint({ colours: [colours[0], e.target.value] })}
            />
          </div>
          {recent.length > 0 && (
            <div className="recent" role="group" aria-label="Colours used last">
              {recent.map((hex) => (
                <button
                  key={hex}
                  aria-label={`Paint with ${hex}`}
                  title={hex}
                  style={{ background: hex }}
                  onClick={() => setPaint({ colours: [hex, colours[1]], mixed: 0 })}
                />
              ))}
            </div>
          )}
          <Palettes />
        </section>
      )}
      <section className="section">
        <div className="section-head">
          <span>Stays</span>
          <span className="quiet">edges by exact coverage</span>
        </div>
        <SelectRow
          id="paint-stays"
          label="Inside"
          value={stays}
          onChange={(picked) => setPaint({ stays: picked as Stays })}
        >
          {Object.entries(STAYS).map(([own, label]) => (
            <option key={own} value={own}>
              {label}
            </option>
          ))}
        </SelectRow>
        {BY_RANGE.has(stays) && (
          <NumberField
            label="By as much as"
            value={spread}
            min={0.005}
            max={0.5}
            step={0.005}
            defaultValue={0.08}
            onChange={(next) => setPaint({ spread: next })}
          />
        )}
        {stays === 'chosen' && project && (
          <SurfaceList
            project={project}
            term={surfaceTerm('parts', [...chosen])}
            onChange={(term) => setPaint({ chosen: term.keys })}
          />
        )}
        <SelectRow
          id="paint-lead"
          label="Led"
          value={lead}
          onChange={(picked) => setPaint({ lead: picked as Lead })}
        >
          {Object.entries(LEADS).map(([own, label]) => (
            <option key={own} value={own}>
              {label}
            </option>
          ))}
        </SelectRow>
        {LEAD_HINTS[lead] && <p className="quiet">{LEAD_HINTS[lead]}</p>}
        {usesRange && (
          <ToneRange label="Tones" value={[...range]} onChange={(next) => setPaint({ range: next })} />
        )}
        <SwitchRow
          label="Mirror left, right"
          checked={mirrorX}
          onChange={(on) => setPaint({ mirrorX: on })}
        />
        <SwitchRow label="Mirror up, down" checked={mirrorY} onChange={(on) => setPaint({ mirrorY: on })} />
      </section>
    </>
  )
}
