'use client'

import { activePasses, activeSheet } from '@/data/active-shot'
import { useEffect, useRef } from 'react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { hashJson } from '@/core/math/stable-hash'
import { blendDefinitions } from '@/core/sheet/blend-modes'
import type { Layer } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { maskProblem } from '@/state/mask-source'
import { passStatus } from '@/state/pass-status'
import { sheetService, syncSheet } from '@/state/sheet-sync'
import { useSourceProblems } from '@/state/source-problems'
import { setBench } from '@/state/view-store'
import { changeLayer, sourceIdOf } from './layer-actions'

const THUMB = { width: 212, height: 164 }

interface LayerCardProps {
  readonly project: Project
  readonly layer: Layer
  readonly chosen: boolean
  /** The one card that Tab reaches; arrows go on from there. */
  readonly tabStop: boolean
  readonly peeled: boolean
  readonly proofSize: { readonly width: number; readonly height: number }
}

/** One layer as a card: what it alone shows, its mode, its opacity as an edge to drag. */
export function LayerCard({ project, layer, chosen, tabStop, peeled, proofSize }: LayerCardProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const { setNodeRef, listeners, transform, transition } = useSortable({ id: layer.id })
  const sheet = activeSheet(project)
  const { source } = layer
  const pass = source.type === 'pass' ? project.passes.find((p) => p.id === source.passId) : undefined
  const idRevision = layer.mask ? activePasses(project).find((p) => p.kind === 'id')?.rendered?.resultId : ''
  const content = hashJson([
    source,
    layer.mask,
    layer.effects,
    pass?.rendered?.resultId,
    idRevision,
    proofSize,
    [sheet.width, sheet.height, sheet.fit],
  ])
  const latest = useRef({ project, proofSize })
  useEffect(() => {
    latest.current = { project, proofSize }
  })
  useEffect(() => {
    let stale = false
    const timer = setTimeout(async () => {
      const now = latest.current
      try {
        await syncSheet(now.project)
        if (stale) return
        const scale = Math.max(THUMB.width / now.proofSize.width, THUMB.height / now.proofSize.height)
        const small = {
          width: Math.round(now.proofSize.width * scale),
          height: Math.round(now.proofSize.height * scale),
        }
        const raster = await sheetService().raster({
          type: 'thumbnail',
          sheet: activeSheet(now.project),
          layerId: layer.id,
          size: now.proofSize,
          small,
        })
        const context = canvasRef.current?.getContext('2d')
        if (stale || !context) return
        context.clearRect(0, 0, THUMB.width, THUMB.height)
        if (raster) {
          const image = new ImageData(raster.rgba, raster.width, raster.height)
          context.putImageData(
            image,
            Math.round((THUMB.width - small.width) / 2),
            Math.round((THUMB.height - small.height) / 2),
          )
        }
      } catch {
        // The proof tells of the same problem.
      }
    }, 60)
    return () => {
      stale = true
      clearTimeout(timer)
    }
  }, [content, layer.id, sheet.id])
  const cardRef = useRef<HTMLElement | null>(null)
  useEffect(() => {
    if (chosen) cardRef.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [chosen])
  const broken = useSourceProblems((s) => s[sourceIdOf(source)])
  const out = broken !== undefined || (pass ? passStatus(project, pass).state !== 'ready' : false)
  const setOpacity = (clientX: number, element: HTMLElement) => {
    const box = element.getBoundingClientRect()
    const opacity = Math.round(Math.min(1, Math.max(0, (clientX - box.left) / box.width)) * 100) / 100
    changeLayer(layer.id, 'opacity', (l) => void (l.opacity = opacity), 'opacity')
  }
  const lost = maskProblem(project, layer)
  /** What the picture on the card shows, for those who hear it. */
  const heard = layer.mask ? (lost ? `, its mask has lost its source: ${lost}` : ', masked') : ''
  const percent = Math.round(layer.opacity * 100)
  return (
    <div
      ref={(element) => {
        cardRef.current = element
        setNodeRef(element)
      }}
      className="card"
      role="option"
      aria-selected={chosen}
      tabIndex={tabStop ? 0 : -1}
      data-peeled={peeled}
      data-hidden={!layer.visible}
      data-register={out ? 'out' : 'in'}
      data-layer={layer.id}
      data-testid={`card-${layer.name}`}
      style={
        transform
          ? {
              transform: CSS.Translate.toString(transform),
              transition,
              zIndex: 3,
            }
          : undefined
      }
      onFocus={() => setBench({ layerId: layer.id })}
      {...listeners}
      onClick={() => setBench({ layerId: layer.id })}
    >
      <div className="card-picture">
        <canvas ref={canvasRef} width={THUMB.width} height={THUMB.height} aria-hidden="true" />
        {layer.mask && (
          <span
            className="card-corner"
            data-lost={lost !== null}
            title={lost ? `Masked, but ${lost}` : 'Masked'}
          />
        )}
      </div>
      <div className="card-text">
        <div className="card-name" title={layer.name}>
          {layer.name}
        </div>
        <div className="card-mode">
          <span>{layer.visible ? blendDefinitions[layer.mode].label : 'Hidden'}</span>
          <b>
            {percent}
            <span className="unseen-text"> %{heard}</span>
          </b>
        </div>
      </div>
      <div
        className="card-edge"
        aria-hidden="true"
        onPointerDown={(e) => {
          e.stopPropagation()
          e.currentTarget.setPointerCapture(e.pointerId)
          setBench({ layerId: layer.id })
          setOpacity(e.clientX, e.currentTarget)
        }}
        onPointerMove={(e) =>
          e.buttons > 0 &&
          e.currentTarget.hasPointerCapture(e.pointerId) &&
          setOpacity(e.clientX, e.currentTarget)
        }
      >
        <div style={{ width: `${percent}%` }} />
      </div>
    </div>
  )
}
