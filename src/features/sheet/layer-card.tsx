'use client'

import { blendDefinitions } from '@/core/sheet/blend-modes'
import { hasContent, type Gate, type SheetNode } from '@/core/sheet/sheet-schema'
import type { Project } from '@/data/project-schema'
import { maskProblem } from '@/state/mask-source'
import { passStatus } from '@/state/pass-status'
import { useSourceProblems } from '@/state/source-problems'
import { CardPicture } from './card-picture'
import { sourceIdOf } from './layer-actions'
import { opacityEdge } from './opacity-edge'
import { useRackItem } from './use-rack-item'

export interface RackItemProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly chosen: boolean
  /** The one card that Tab reaches; arrows go on from there. */
  readonly tabStop: boolean
  readonly peeled: boolean
  readonly proofSize: { readonly width: number; readonly height: number }
}

/** One layer as a card: what it alone shows, its mode, its opacity as an edge to drag. */
export function LayerCard({ project, layer, chosen, tabStop, peeled, proofSize }: RackItemProps) {
  const item = useRackItem(layer.id, chosen, tabStop)
  const { content } = layer
  const pass = content.kind === 'pass' ? project.passes.find((p) => p.id === content.passId) : undefined
  const broken = useSourceProblems((s) => s[sourceIdOf(content)])
  const isLost = content.kind === 'unreadable' || broken !== undefined
  const out = isLost || (pass ? passStatus(project, pass).state !== 'ready' : false)
  const lost = maskProblem(project, layer)
  /** What the picture on the card shows, for those who hear it. */
  const heard = [
    layer.mask && (lost ? `its mask has lost its source: ${lost}` : 'masked'),
    layer.confine && 'confined',
    layer.gate && 'tone gate',
  ].filter(Boolean)
  const percent = Math.round(layer.opacity * 100)
  const isFolded = hasContent(layer, 'group')
  return (
    <div
      {...item}
      className="card"
      data-peeled={peeled}
      data-hidden={!layer.visible}
      data-confined={layer.confine}
      data-folded={isFolded}
      data-register={out ? 'out' : 'in'}
      data-testid={`card-${layer.name}`}
    >
      <div className="card-picture">
        <CardPicture project={project} layer={layer} proofSize={proofSize} />
        {layer.mask && (
          <span
            className="card-corner"
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
          <span>{layer.visible ? blendDefinitions[layer.mode].label : 'Hidden'}</span>
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
}

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
