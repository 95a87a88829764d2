'use client'

import type { ReactNode } from 'react'
import { blendDefinitions } from '@/core/sheet/blend-modes'
import { isPassThrough } from '@/core/sheet/evaluate/plan-sheet'
import { foldGroup } from './layer-actions'
import type { RackItemProps } from './layer-card'
import { opacityEdge } from './opacity-edge'
import { useRackItem } from './use-rack-item'

/** An open group: a tray in which its cards stand, with its name, mode and opacity on the lip. */
export function GroupTray({
  layer,
  chosen,
  leads,
  tabStop,
  peeled,
  found,
  depth,
  children,
}: RackItemProps & { readonly depth: number; readonly children: ReactNode }) {
  const item = useRackItem(layer.id, chosen, leads, tabStop)
  const percent = Math.round(layer.opacity * 100)
  const mode = isPassThrough(layer) ? 'passes through' : blendDefinitions[layer.mode].label
  return (
    <div
      className="tray"
      role="group"
      aria-label={layer.name}
      data-peeled={peeled}
      data-hidden={!layer.visible}
      data-depth={Math.min(2, depth + 1)}
    >
      <div className="tray-cards">
        {children}
        {layer.content.kind === 'group' && layer.content.children.length === 0 && (
          <span className="quiet tray-empty">Drop layers here</span>
        )}
      </div>
      <div
        {...item}
        className="tray-lip"
        data-found={found}
        data-testid={`card-${layer.name}`}
        onDoubleClick={() => foldGroup(layer.id, true)}
        title="Double-click to fold"
      >
        <span className="card-name">{layer.name}</span>
        <span className="tray-mode">{layer.visible ? mode : 'Hidden'}</span>
        <b>
          {percent}
          <span className="unseen-text"> %, group{layer.mask && ', masked'}</span>
        </b>
        <div className="tray-edge" aria-hidden="true" {...opacityEdge(layer.id)}>
          <div style={{ width: `${percent}%` }} />
        </div>
      </div>
    </div>
  )
}
