import type { Camera as GltfCamera } from '@gltf-transform/core'
import type { Vec3 } from '../math/vec3'
import { cross, dot, normalize } from '../math/vec3'
import type { Camera } from '../scene/camera'

/** A glTF camera (looking along −Z, glTF 2.0 §3.10) with its world matrix, column-major. */
export function gltfCamera(camera: GltfCamera, m: readonly number[]): Camera {
  const eye: Vec3 = [m[12], m[13], m[14]]
  const back = normalize([m[8], m[9], m[10]], [0, 0, 1])
  const up = normalize([m[4], m[5], m[6]], [0, 1, 0])
  const level = normalize(cross([0, 1, 0], back), [1, 0, 0])
  const rollDeg = (Math.atan2(dot(level, up), dot(cross(back, level), up)) * -180) / Math.PI
  const away = Math.max(1e-3, Math.hypot(...eye)) || 1
  const isParallel = camera.getType() === 'orthographic'
  const fovDeg = (camera.getYFov() * 180) / Math.PI
  return {
    eye,
    target: [eye[0] - back[0] * away, eye[1] - back[1] * away, eye[2] - back[2] * away],
    fovDeg: isParallel || !(fovDeg >= 1 && fovDeg <= 150) ? 30 : fovDeg,
    orthoHeight: isParallel && camera.getYMag() > 0 ? 2 * camera.getYMag() : null,
    ...(Math.abs(rollDeg) > 1e-3 ? { rollDeg } : {}),
  }
}
