'use client'

import { memo } from 'react'
import { blendDefinitions } from '@/core/sheet/blend-modes'
import { hasContent, type Gate, type SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { maskProblem } from '@/state/mask-source'
import { passStatus } from '@/state/pass-status'
import { useProjectStore } from '@/state/project-store'
import { layerProblem, useSourceProblems } from '@/state/source-problems'
import { CardPicture } from './card-picture'
import { opacityEdge } from './opacity-edge'
import { useRackItem } from './use-rack-item'

export interface RackItemProps {
  readonly layer: SheetNode
  readonly chosen: boolean
  /** Whether it is the one at work, of those that are chosen. */
  readonly leads: boolean
  /** The one card that Tab reaches; arrows go on from there. */
  readonly tabStop: boolean
  readonly peeled: boolean
  /** Whether it is among those that are looked for. */
  readonly found: boolean
}

/** Whether the pass that a layer shows no longer fits its shot, or is not there. */
function isOutOfRegister(project: Project, { content }: SheetNode): boolean {
  if (content.kind !== 'pass') return content.kind === 'unreadable'
  const pass = project.passes.find((p) => p.id === content.passId)
  return pass !== undefined && passStatus(project, pass).state !== 'ready'
}

/** One layer as a card: what it alone shows, its mode, its opacity as an edge to drag. Drawn anew only with its own layer. */
export const LayerCard = memo(function LayerCard({
  layer,
  chosen,
  leads,
  tabStop,
  peeled,
  found,
}: RackItemProps) {
  const item = useRackItem(layer.id, chosen, leads, tabStop)
  const broken = useSourceProblems((s) => layerProblem(layer, s))
  const isOut = useProjectStore(({ project }) => project !== null && isOutOfRegister(project, layer))
  const out = broken !== undefined || isOut
  const lost = useProjectStore(({ project }) => project && maskProblem(project, layer))
  /** What the picture on the card shows, for those who hear it. */
  const heard = [
    layer.mask && (lost ? `its mask has lost its source: ${lost}` : 'masked'),
    layer.confine && 'confined',
    layer.gate && 'tone gate',
    layer.locked && 'locked',
  ].filter(Boolean)
  const { content } = layer
  const percent = Math.round(layer.opacity * 100)
  const isFolded = hasContent(layer, 'group')
  return (
    <div
      {...item}
      className="card"
      data-found={found}
      data-peeled={peeled}
      data-hidden={!layer.visible}
      data-marker={layer.marker}
      data-confined={layer.confine}
      data-folded={isFolded}
      data-pressed={content.kind === 'pressing' || (content.kind === 'picture' && content.pressed === true)}
      data-register={out ? 'out' : 'in'}
      data-testid={`card-${layer.name}`}
    >
      <div className="card-picture">
        <CardPicture layer={layer} />
        {layer.mask && (
          <span
            className="card-corner"
            data-painted={layer.mask.terms.some(({ kind }) => kind === 'painted')}
            data-lost={lost !== null}
            title={lost ? `Masked, but ${lost}` : 'Masked'}
          />
        )}
        {layer.gate && <GateBar gate={layer.gate} />}
      </div>
      <div className="card-text">
        <div className="card-name" title={layer.name}>
          {layer.name}
        </div>
        <div className="card-mode">
          <span>
            {layer.visible ? blendDefinitions[layer.mode].label : 'Hidden'}
            {layer.locked && <i className="card-lock" title="Locked" />}
          </span>
          <b>
            {percent}
            <span className="unseen-text"> %{heard.map((word) => `, ${word}`).join('')}</span>
          </b>
        </div>
      </div>
      <div className="card-edge" aria-hidden="true" {...opacityEdge(layer.id)}>
        <div style={{ width: `${percent}%` }} />
      </div>
    </div>
  )
})

/** From black to white, and what of it a tone gate lets through. */
function GateBar({ gate }: { readonly gate: Gate }) {
  const range = gate.beneath ?? gate.own
  if (!range) return null
  const [low, , , high] = range.map((edge) => `${Math.round(100 * edge)}%`)
  return (
    <span className="card-gate" title={gate.beneath ? 'By the tone beneath' : 'By its own tone'}>
      <i style={{ left: low, right: `calc(100% - ${high})` }} />
    </span>
  )
}
