import type { Draft } from 'immer'
import { current, isDraft } from 'immer'
import { framePoints, type Camera } from '@/core/scene/camera'
import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { useMeshStore } from './mesh-store'
import { subjectExtent } from './subject-extent'

/** Where a subject is looked at from before anyone has said anything. */
const AZIMUTH_DEG = -30
const ELEVATION_DEG = 16

/** The camera a shot has by itself: the whole subject, from a quarter to the left. Null where there is none. */
function ownCamera(project: Project): Camera | null {
  const shot = activeShot(project)
  const extent = subjectExtent(project, (id) => useMeshStore.getState().models[id]?.outline)
  if (!extent) return null
  const { eye: _eye, target: _target, ...lens } = shot.camera
  return framePoints(extent.points, AZIMUTH_DEG, ELEVATION_DEG, shot.frame, lens, shot.margin)
}

/** Whether nobody has moved the shot's camera yet: it has no subject, or the very view it was given. */
export function isCameraUntouched(project: Project): boolean {
  const shot = activeShot(project)
  if (shot.locked) return false
  if (project.models.length === 0) return true
  return JSON.stringify(ownCamera(project)) === JSON.stringify(shot.camera)
}

/** Frames the subject anew, as it is in a draft with the meshes of now. For a camera that was untouched before. */
export function frameAnew(draft: Draft<Project>): void {
  if (activeShot(draft).locked) return
  const project = (isDraft(draft) ? current(draft) : draft) as Project
  const camera = ownCamera(project)
  if (camera) activeShot(draft).camera = structuredClone(camera) as Draft<Camera>
}
