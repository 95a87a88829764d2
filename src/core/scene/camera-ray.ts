import type { CameraBasis, Frame } from './camera'

/** Direction and origin of one camera ray in double precision; reused. What a lens does to rays is the kernel's (kernel/camera.ts). */
export class CameraRay {
  ox = 0
  oy = 0
  oz = 0
  dx = 0
  dy = 0
  dz = 0

  constructor(
    private readonly camera: CameraBasis,
    private readonly frame: Frame,
  ) {}

  /** Aims through a point of the picture, in pixels from the top left. The direction has unit length. */
  aim(pixelX: number, pixelY: number): void {
    const { camera, frame } = this
    const sx = ((2 * pixelX) / frame.width - 1) * camera.halfWidth + camera.centreX
    const sy = (1 - (2 * pixelY) / frame.height) * camera.halfHeight + camera.centreY
    const { right, up, back, eye } = camera
    if (camera.parallel) {
      this.ox = eye[0] + sx * right[0] + sy * up[0]
      this.oy = eye[1] + sx * right[1] + sy * up[1]
      this.oz = eye[2] + sx * right[2] + sy * up[2]
      this.dx = -back[0]
      this.dy = -back[1]
      this.dz = -back[2]
      return
    }
    const x = sx * right[0] + sy * up[0] - back[0]
    const y = sx * right[1] + sy * up[1] - back[1]
    const z = sx * right[2] + sy * up[2] - back[2]
    const inverse = 1 / Math.sqrt(x * x + y * y + z * z)
    this.ox = eye[0]
    this.oy = eye[1]
    this.oz = eye[2]
    this.dx = x * inverse
    this.dy = y * inverse
    this.dz = z * inverse
  }
}
