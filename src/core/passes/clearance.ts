import type { SceneGeometry } from '../scene/scene-geometry'

/** How far a ray starts off the surface, as a share of a length; kernel/points.ts says which lengths. */
export const CLEARANCE = 2e-6

/** How far rays start off surfaces near the origin, in world units. */
export const leastClearance = ({ figureDiagonal }: Pick<SceneGeometry, 'figureDiagonal'>): number =>
  CLEARANCE * figureDiagonal
