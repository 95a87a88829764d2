'use client'

import { memo, useLayoutEffect, useRef, useState } from 'react'
import type { EffectWork, Place } from '@/core/effects/effect-kind'
import { findEffect } from '@/core/effects/registry'
import { effectProblem } from '@/core/sheet/evaluate/effect-works'
import type { SheetEffect } from '@/core/sheet/sheet-schema'
import type { RackItemProps } from './layer-card'
import { opacityEdge } from './opacity-edge'
import { useRackItem } from './use-rack-item'

/** A wash: a narrow pane of glass with what its first effect does on it, and a bracket under the cards it works on. */
export const WashPane = memo(function WashPane({
  layer,
  chosen,
  leads,
  tabStop,
  peeled,
  found,
}: RackItemProps) {
  const item = useRackItem(layer.id, chosen, leads, tabStop)
  const bracketRef = useRef<HTMLSpanElement>(null)
  const [reach, setReach] = useState(0)
  useLayoutEffect(() => {
    const pane = bracketRef.current?.parentElement
    const list = pane?.parentElement
    if (!pane || !list) return
    const measure = () => setReach(pane.offsetLeft + pane.offsetWidth)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(list)
    return () => observer.disconnect()
  }, [])
  const percent = Math.round(layer.opacity * 100)
  const first = layer.effects.find(({ enabled }) => enabled)
  return (
    <div
      {...item}
      className="wash-pane"
      data-found={found}
      data-peeled={peeled}
      data-hidden={!layer.visible}
      data-testid={`card-${layer.name}`}
      title={`${layer.name}: works on what lies beneath it`}
    >
      <EffectSign effect={first} />
      <span className="wash-name">{layer.name}</span>
      <span className="unseen-text">
        , wash, {layer.visible ? `${percent} %` : 'hidden'}
        {layer.mask && ', masked'}
      </span>
      <div className="card-edge" aria-hidden="true" {...opacityEdge(layer.id)}>
        <div style={{ width: `${percent}%` }} />
      </div>
      <span ref={bracketRef} className="wash-bracket" aria-hidden="true" style={{ width: reach }} />
    </div>
  )
})

/** Points of a curve that are drawn. */
const POINTS = 17

/** The middle of a small sheet, of which nothing is known. */
const nowhere = ({ maps = [], beside = [] }: Extract<EffectWork, { by: 'point' }>): Place => ({
  x: 32,
  y: 32,
  width: 64,
  height: 64,
  scale: 1,
  points: 1,
  maps: new Float64Array(maps.length),
  beside: beside.map(() => Float64Array.of(0.5, 0.5, 0.5, 1)),
})

/** What an effect does, small: its curve, the colours it makes of grey, or a soft spot. */
function EffectSign({ effect }: { readonly effect: SheetEffect | undefined }) {
  const kind = effect && effectProblem(effect) === null ? findEffect(effect.kind) : undefined
  if (!effect || !kind) return <span className="wash-sign" aria-hidden="true" />
  const work = kind.work(kind.read(effect.version, effect.params))
  const steps = Array.from({ length: POINTS }, (_, i) => i / (POINTS - 1))
  if (work.by === 'tone') {
    const points = steps
      .map((v) => `${(30 * v).toFixed(1)},${(30 * (1 - work.curve(v, 1))).toFixed(1)}`)
      .join(' ')
    return (
      <svg className="wash-sign" viewBox="0 0 30 30" aria-hidden="true">
        <polyline points={points} fill="none" stroke="var(--slate)" strokeWidth="1.6" />
      </svg>
    )
  }
  if (work.by !== 'colour' && work.by !== 'point')
    return (
      <span
        className="wash-sign"
        aria-hidden="true"
        style={{ background: 'radial-gradient(closest-side, var(--slate), transparent)' }}
      />
    )
  const colours = steps.map((v) => {
    const rgba = Float64Array.of(v, v, v, 1)
    if (work.by === 'colour') work.change(rgba, [])
    else work.change(rgba, nowhere(work))
    return `rgb(${[...rgba.subarray(0, 3)].map((c) => Math.round(255 * c)).join(' ')})`
  })
  return (
    <span
      className="wash-sign"
      aria-hidden="true"
      style={{ background: `linear-gradient(to top, ${colours.join(', ')})` }}
    />
  )
}
