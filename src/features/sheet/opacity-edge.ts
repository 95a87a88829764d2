import type { PointerEvent } from 'react'
import { setBench } from '@/state/view-store'
import { changeLayer } from './layer-actions'

/** An edge whose dragged length is a layer's opacity: what its element listens to. */
export function opacityEdge(layerId: string) {
  const set = (clientX: number, element: HTMLElement) => {
    const box = element.getBoundingClientRect()
    const opacity = Math.round(Math.min(1, Math.max(0, (clientX - box.left) / box.width)) * 100) / 100
    changeLayer(layerId, 'opacity', (l) => void (l.opacity = opacity), 'opacity')
  }
  return {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      e.stopPropagation()
      e.currentTarget.setPointerCapture(e.pointerId)
      setBench({ layerId })
      set(e.clientX, e.currentTarget)
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (e.buttons > 0 && e.currentTarget.hasPointerCapture(e.pointerId)) set(e.clientX, e.currentTarget)
    },
  }
}
