import { createStore, type StoreApi } from 'zustand/vanilla'
import type { RenderSize } from '@/core/sheet/sheet-resources'
import type { ViewWindow } from '@/core/sheet/evaluate/view-window'
import type { Looking } from '@/ui/picture-view'

/** The scale at which a proof is composited: that at which it is seen, so that pixel falls on pixel, and never finer. */
export const proofScale = (zoom: number): number => Math.min(1, Math.max(1 / 16, zoom))

/** A zoom must have rested this long before the proof is composited anew for it. */
const REST_MS = 200

/** How the proof is looked at. Not part of any component's state: a hand that moves the picture renders nothing anew. */
export interface Look {
  /** 0…1 of the sheet's size; null until the view is measured. */
  readonly scale: number | null
  /** What is seen of it, 0…1 across and down. */
  readonly seen: ViewWindow
}

export class ProofLook {
  readonly store: StoreApi<Look> = createStore<Look>(() => ({
    scale: null,
    seen: { x: 0, y: 0, width: 1, height: 1 },
  }))
  private timer: ReturnType<typeof setTimeout> | null = null

  /** Takes how the picture is looked at now: what is seen at once, another scale when the zoom rests. */
  readonly take = ({ zoom, seen }: Looking): void => {
    const scale = proofScale(zoom)
    const isFirst = this.store.getState().scale === null
    this.store.setState(isFirst ? { seen, scale } : { seen })
    if (this.timer) clearTimeout(this.timer)
    this.timer = setTimeout(
      () => this.store.getState().scale !== scale && this.store.setState({ scale }),
      REST_MS,
    )
  }
}

/** What a sheet measures at a scale, in whole pixels. */
export const scaledSize = ({ width, height }: RenderSize, scale: number): RenderSize => ({
  width: Math.max(1, Math.round(width * scale)),
  height: Math.max(1, Math.round(height * scale)),
})
