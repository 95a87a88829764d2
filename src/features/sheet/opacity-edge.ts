import type { PointerEvent, SyntheticEvent } from 'react'
import { setBench } from '@/state/view-store'
import { changeLayer } from './layer-actions'

/** Where the edge that is being dragged lies on the screen. */
let box = { left: 0, width: 1 }

/** An edge whose dragged length is a layer's opacity: what its element listens to. */
export function opacityEdge(layerId: string) {
  const set = (clientX: number) => {
    const opacity = Math.round(Math.min(1, Math.max(0, (clientX - box.left) / box.width)) * 100) / 100
    changeLayer(layerId, 'opacity', (l) => void (l.opacity = opacity), 'opacity')
  }
  return {
    // Else the card it is part of is taken up with it.
    onMouseDown: (e: SyntheticEvent) => e.stopPropagation(),
    onTouchStart: (e: SyntheticEvent) => e.stopPropagation(),
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      e.stopPropagation()
      e.currentTarget.setPointerCapture(e.pointerId)
      setBench({ layerId })
      // Measured once: an edge does not move while it is dragged, and to measure it lays the page out.
      box = e.currentTarget.getBoundingClientRect()
      set(e.clientX)
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (e.buttons > 0 && e.currentTarget.hasPointerCapture(e.pointerId)) set(e.clientX)
    },
  }
}
