import { UnreadableFileError } from '@/core/errors'
import type { Camera, Frame } from '@/core/scene/camera'
import type { SceneGeometry, SceneModel } from '@/core/scene/scene-geometry'
import { buildSceneGeometry, subjectPoints } from '@/core/scene/scene-geometry'
import { activeShot } from '@/data/active-shot'
import type { PartRole } from '@/core/scene/part-role'
import type { OpenArchive } from '@/data/project-archive'
import type { Project, Shot } from '@/data/project-schema'
import { cameraFrom, cameraOptions, hasCamera, parseSize, type CameraValues } from './arguments'
import { loadScene } from './load-input'
import { UsageError } from './usage-error'

/** Options of commands that look at a scene. */
export const viewOptions = {
  ...cameraOptions,
  size: { type: 'string' },
  shot: { type: 'string' },
  only: { type: 'string' },
  unseen: { type: 'string' },
} as const

export interface ViewValues extends CameraValues {
  size?: string
  shot?: string
  only?: string
  unseen?: string
  /** Names of parts that are ground. */
  ground?: string
}

/** A scene and how it is looked at. */
export interface View {
  readonly models: SceneModel[]
  readonly geometry: SceneGeometry
  readonly camera: Camera
  readonly frame: Frame
  readonly project: Project | undefined
  /** What the project was read from. */
  readonly archive: OpenArchive | null
  readonly shot: Shot | undefined
  /** What `{shot}` stands for in a name: `view` for a camera that is no shot's. */
  readonly shotName: string
}

/** @throws {UsageError} naming the option; {UnreadableFileError} naming the file. */
export async function loadView(inputs: readonly string[], values: ViewValues): Promise<View> {
  const scene = await loadScene(inputs)
  const models = withRoles(scene.models, values)
  const geometry = geometryOf(models, inputs[0])
  const project = scene.project ?? undefined
  const shot =
    values.shot === undefined
      ? project && activeShot(project)
      : project?.shots.find((s) => s.name === values.shot)
  if (values.shot !== undefined && !shot) throw new UsageError(`there is no shot "${values.shot}"`)
  const frame = values.size ? parseSize(values.size) : shot?.frame
  if (!frame) throw new UsageError('--size WxH is missing')
  const subject = { bounds: geometry.subjectBounds, points: subjectPoints(geometry) }
  const isShot = shot !== undefined && !hasCamera(values)
  const camera = isShot ? shot.camera : cameraFrom(values, subject, frame)
  const shotName = isShot ? shot.name : 'view'
  return { models, geometry, camera, frame, project, archive: scene.archive, shot, shotName }
}

export function geometryOf(models: SceneModel[], input: string): SceneGeometry {
  try {
    return buildSceneGeometry(models)
  } catch (cause) {
    throw new UnreadableFileError(input, 'nothing is left to render', { cause })
  }
}

interface HasRoles {
  readonly parts: readonly { readonly name: string; readonly role: PartRole }[]
}

/** Models whose parts have the roles that options give them by name. @throws {UsageError} naming a part that is not there. */
export function withRoles<M extends HasRoles>(
  models: readonly M[],
  { only, unseen, ground }: { readonly only?: string; readonly unseen?: string; readonly ground?: string },
): M[] {
  const split = (text: string | undefined) =>
    (text ?? '')
      .split(',')
      .map((n) => n.trim())
      .filter(Boolean)
  const names = new Set(models.flatMap((m) => m.parts.map((p) => p.name)))
  for (const name of [...split(only), ...split(unseen), ...split(ground)]) {
    if (!names.has(name)) throw new UsageError(`there is no part "${name}"`)
  }
  const [onlyNames, unseenNames, groundNames] = [only, unseen, ground].map((text) => new Set(split(text)))
  const roleOf = ({ name, role }: HasRoles['parts'][number]): PartRole => {
    if (unseenNames.has(name)) return 'unseen'
    if (onlyNames.size > 0 && !onlyNames.has(name)) return 'off'
    return groundNames.has(name) ? 'ground' : role
  }
  return models.map((model) => ({
    ...model,
    parts: model.parts.map((part) => ({ ...part, role: roleOf(part) })),
  }))
}
