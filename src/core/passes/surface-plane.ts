import { cross, dot, normalize, subtract, type Vec3 } from '../math/vec3'
import { cameraBasis, type Camera } from '../scene/camera'
import { seenPoint, type ScenePlane } from '../scene/scene-plane'
import { surfaceAt, type PassResult } from './pass-result'

/** How far about a pixel its surface is measured, in pixels: as far as it is the same part. */
const STEPS = [6, 3, 2, 1] as const

/**
 * The plane of the surface that a pixel shows, from what is seen of it and how far away it is.
 * @param idPass, depthPass of one shot, the same in size. @param x, y a pixel.
 * @returns null where nothing is seen, or too little of it to tell.
 */
export function surfacePlane(
  idPass: PassResult,
  depthPass: PassResult,
  camera: Camera,
  x: number,
  y: number,
): { readonly plane: ScenePlane; readonly part: string } | null {
  const { width, height } = depthPass
  if (idPass.width !== width || idPass.height !== height) return null
  const [px, py] = [Math.floor(x), Math.floor(y)]
  const own = surfaceAt(idPass, px, py)
  if (!own) return null
  const [depths] = depthPass.channels
  const pointAt = (cx: number, cy: number): Vec3 | null => {
    if (surfaceAt(idPass, cx, cy)?.part !== own.part) return null
    const depth = depths[cy * width + cx]
    if (!(depth > 0)) return null
    return seenPoint(camera, depthPass, [(cx + 0.5) / width, (cy + 0.5) / height], depth)
  }
  const at = pointAt(px, py)
  if (!at) return null
  for (const step of STEPS) {
    const [left, right] = [pointAt(px - step, py), pointAt(px + step, py)]
    const [above, below] = [pointAt(px, py - step), pointAt(px, py + step)]
    if (!left || !right || !above || !below) continue
    const normal = normalize(cross(subtract(right, left), subtract(above, below)))
    const { back, parallel, eye } = cameraBasis(camera, depthPass)
    const towards = parallel ? back : subtract(eye, at)
    const facing = dot(normal, towards) < 0 ? ([-normal[0], -normal[1], -normal[2]] as const) : normal
    return { plane: { at, normal: facing }, part: own.part }
  }
  return null
}
