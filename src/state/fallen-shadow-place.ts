import { boxOf, cameraBasis } from '@/core/scene/camera'
import { fallenPlace, type FallenPlace } from '@/core/scene/fallen-place'
import type { Light, LightOf } from '@/core/scene/light-rig'
import { roleNow } from '@/core/scene/part-role'
import { lightDirection } from '@/core/passes/placed-light'
import { passPlacement } from '@/core/sheet/pass-placement'
import { activeSheet, activeShot, rigOf } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { useMeshStore } from './mesh-store'
import { extentPoints } from './subject-extent'

/** Lights of the shot at work under which shadows can fall: those that come from somewhere. */
export const castingLights = (project: Project): Exclude<Light, { kind: 'dome' }>[] =>
  rigOf(project, activeShot(project)).lights.flatMap((light) =>
    light.kind !== 'dome' && light.on ? [light] : [],
  )

/**
 * Where the shadow of parts lies on the sheet under a light of the shot.
 * @param parts their keys; none: all of the subject. @returns null where a model is not there, or lies behind the eye.
 */
export function placeOfShadow(
  project: Project,
  parts: readonly string[],
  light: Pick<LightOf<'sun'>, 'tied' | 'azimuthDeg' | 'elevationDeg'>,
): FallenPlace | null {
  const { camera, frame } = activeShot(project)
  const sheet = activeSheet(project)
  const wanted = new Set(parts)
  const bounds = boxOf(
    extentPoints(
      project,
      (id) => useMeshStore.getState().models[id]?.outline,
      (part) => (parts.length === 0 ? roleNow(part) === 'subject' : wanted.has(part.key)),
    ),
  )
  if (!bounds) return null
  const basis = cameraBasis(camera, frame)
  const to = lightDirection(basis, light.tied, light.azimuthDeg, light.elevationDeg)
  const place = fallenPlace(bounds, camera, frame, to)
  if (!place) return null
  const placed = passPlacement(frame, sheet, sheet)
  const onSheet = ([x, y]: readonly [number, number]): readonly [number, number] => [
    (placed.x + x * placed.width) / sheet.width,
    (placed.y + y * placed.height) / sheet.height,
  ]
  return { foot: onSheet(place.foot), head: onSheet(place.head), falls: onSheet(place.falls) }
}
