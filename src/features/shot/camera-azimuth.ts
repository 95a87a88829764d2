import { subtract } from '@/core/math/vec3'
import { anglesOf } from '@/core/scene/camera'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'

/** The camera's own azimuth: what a light tied to it is turned by in the world. */
export const cameraAzimuth = (project: Project): number => {
  const { eye, target } = activeShot(project).camera
  return anglesOf(subtract(eye, target))[0]
}
