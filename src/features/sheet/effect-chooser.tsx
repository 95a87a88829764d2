'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
import { EFFECT_GROUPS } from '@/core/effects/effect-kind'
import { EFFECTS, type RegisteredEffect } from '@/core/effects/registry'
import { newEffect } from '@/core/sheet/new-layer'
import { activeSheet } from '@/data/active-shot'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'

/** Pixels of an offer's picture. */
const OFFER = { width: 224, height: 140 }

interface EffectChooserProps {
  readonly layerId: string
  readonly onChoose: (kind: string) => void
  readonly onClose: () => void
}

/** Every effect with a small picture of the layer as it would become. */
export function EffectChooser({ layerId, onChoose, onClose }: EffectChooserProps) {
  const [search, setSearch] = useState('')
  const boxRef = useRef<HTMLDivElement>(null)
  useEffect(() => {
    void boxRef.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  const wanted = search.trim().toLowerCase()
  const groups = EFFECT_GROUPS.map((group) => ({
    group,
    offers: EFFECTS.filter(
      (effect) =>
        effect.group === group && `${effect.label} ${effect.summary}`.toLowerCase().includes(wanted),
    ),
  })).filter(({ offers }) => offers.length > 0)
  return (
    <div
      ref={boxRef}
      className="effect-chooser"
      role="group"
      aria-label="Effects to add"
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return
        e.stopPropagation()
        onClose()
      }}
    >
      <input
        autoFocus
        className="plain-select"
        style={{ width: '100%' }}
        placeholder="Search"
        aria-label="Search effects"
        value={search}
        onChange={(e) => setSearch(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && groups.length > 0) onChoose(groups[0].offers[0].kind)
        }}
      />
      {groups.length === 0 && <p className="quiet">Nothing is called that.</p>}
      {groups.map(({ group, offers }) => (
        <div key={group} role="group" aria-label={group}>
          <h3>{group}</h3>
          <div className="effect-offers">
            {offers.map((effect) => (
              <Offer key={effect.kind} layerId={layerId} effect={effect} onChoose={onChoose} />
            ))}
          </div>
        </div>
      ))}
    </div>
  )
}

interface OfferProps {
  readonly layerId: string
  readonly effect: RegisteredEffect
  readonly onChoose: (kind: string) => void
}

function Offer({ layerId, effect, onChoose }: OfferProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const { kind, label, summary } = effect
  const tried = useMemo(() => newEffect('tried', kind), [kind])
  useEffect(() => {
    const canvas = canvasRef.current
    if (!canvas) return
    let stale = false
    const paint = async () => {
      const { project } = useProjectStore.getState()
      if (!project) return
      const { width, height } = activeSheet(project)
      const scale = Math.max(OFFER.width / width, OFFER.height / height)
      const small = {
        width: Math.max(1, Math.round(width * scale)),
        height: Math.max(1, Math.round(height * scale)),
      }
      try {
        const raster = await askSheet(project, async (worker) =>
          stale ? null : worker.raster({ type: 'try-effect', layerId, effect: tried, small }),
        )
        if (!raster || stale) return
        const [x, y] = [(OFFER.width - small.width) / 2, (OFFER.height - small.height) / 2]
        canvas
          .getContext('2d')
          ?.putImageData(
            new ImageData(raster.rgba, raster.width, raster.height),
            Math.round(x),
            Math.round(y),
          )
      } catch {
        // The proof tells of the same problem.
      }
    }
    // What is not scrolled to is not painted.
    const observer = new IntersectionObserver((entries) => {
      if (!entries.some((entry) => entry.isIntersecting)) return
      observer.disconnect()
      void paint()
    })
    observer.observe(canvas)
    return () => {
      stale = true
      observer.disconnect()
    }
  }, [layerId, tried])
  return (
    <button
      type="button"
      className="effect-offer"
      title={summary}
      data-testid={`offer-${kind}`}
      onClick={() => onChoose(kind)}
    >
      <canvas ref={canvasRef} width={OFFER.width} height={OFFER.height} aria-hidden="true" />
      <span>{label}</span>
    </button>
  )
}
