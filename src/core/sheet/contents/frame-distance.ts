import { smoothNoise } from '../../math/noise'
import type { Tile } from '../../passes/tile'

/** How a frame ends. */
export interface FrameEdge {
  readonly shape: 'straight' | 'rounded' | 'deckle' | 'torn'
  /** Radius of its corners, or how far it is eaten into. Pixels of the view. */
  readonly sizePx: number
  readonly seed: number
}

/** How far within a frame a place lies; below zero outside. Pixels of the view, exact for straight and rounded edges. */
export function frameDistance(box: Tile, edge: FrameEdge, x: number, y: number): number {
  const [halfX, halfY] = [box.width / 2, box.height / 2]
  const dx = Math.abs(x - box.x - halfX)
  const dy = Math.abs(y - box.y - halfY)
  const radius = edge.shape === 'rounded' ? Math.min(edge.sizePx, halfX, halfY) : 0
  const [qx, qy] = [dx - halfX + radius, dy - halfY + radius]
  const outside = Math.hypot(Math.max(0, qx), Math.max(0, qy))
  const within = radius - outside - Math.min(0, Math.max(qx, qy))
  if (edge.shape === 'straight' || edge.shape === 'rounded' || edge.sizePx <= 0) return within
  if (within > 2 * edge.sizePx || within < -2) return within
  // Bites are as large as they are deep: the same at any size that it is seen at.
  const at = (share: number, seed: number) =>
    smoothNoise((x - box.x) / (share * edge.sizePx), (y - box.y) / (share * edge.sizePx), edge.seed + seed)
  // A deckle is a soft wave with fibres; what is torn has long bites with a rough edge.
  const eaten =
    edge.shape === 'deckle'
      ? 0.55 * at(1.3, 1) + 0.3 * at(0.37, 2) + 0.15 * at(0.11, 3)
      : 0.5 * at(3, 1) ** 1.6 + 0.3 * at(0.85, 2) + 0.14 * at(0.22, 3) + 0.06 * at(0.06, 4)
  return within - edge.sizePx * eaten
}
