import { findLines, DEFAULT_LINE_SETTING, type LineSetting, type LineWatch } from '../lines/find-lines'
import type { LineDrawing } from '../lines/line-drawing'
import type { LineView } from '../lines/line-places'
import type { LineStyle } from '../lines/line-style'
import type { LineLight } from '../lines/shadow-lines'
import type { ParamValues } from '../params'
import { dot, type Vec3 } from '../math/vec3'
import type { Camera, CameraBasis, Frame } from '../scene/camera'
import { cameraBasis } from '../scene/camera'
import type { Rig } from '../scene/light-rig'
import type { SceneGeometry } from '../scene/scene-geometry'
import { TraceKernel } from '../trace/trace-kernel'
import { lightDirection, nearLightPlace } from './placed-light'
import type { Effort, EffortName } from './effort'
import type { PassFacts } from './pass-facts'

/** What a pass asks of the finder of lines. */
export type LineAsked = Pick<LineSetting, 'kinds'> &
  Partial<Pick<LineSetting, 'creaseDeg' | 'suggestiveFrom' | 'ground' | 'keepHidden'>>

/** What of a pass is lines: what is looked for, and how a look strokes them. */
export interface LinePart<R = ParamValues, L = ParamValues> {
  readonly setting: (params: R) => LineAsked
  readonly style: (look: L) => LineStyle
  /** Whether a look shows its channels beneath the lines; left out where there are none. */
  readonly hasFill?: (look: L) => boolean
}

/** Efforts of passes whose lines are all there is of them: nothing is sampled. */
export const LINES_ALONE: Readonly<Record<EffortName, Effort>> = {
  draft: { samples: 1, rays: 0 },
  good: { samples: 1, rays: 0 },
  final: { samples: 1, rays: 0 },
}

/** The light of a pass's lines: the first of its rig that comes from somewhere. */
const firstLight = ({ lights }: Rig) => lights.find((light) => light.on && light.kind !== 'dome') ?? null

/** Where the first light of a rig stands, for shadow edges; null where all light comes from everywhere. */
function lineLight(rig: Rig, scene: SceneGeometry, camera: CameraBasis): LineLight | null {
  const light = firstLight(rig)
  if (!light || light.kind === 'dome') return null
  if (light.kind === 'sun')
    return { kind: 'sun', toLight: lightDirection(camera, light.tied, light.azimuthDeg, light.elevationDeg) }
  return { kind: 'place', place: nearLightPlace(light, scene, camera).middle }
}

/**
 * What a look needs to know: `axes`, right, up and towards the eye as the world has them; `eye` and `lens`, half the picture's
 * width and height, its middle, and 1 for a parallel projection; and `toLight`, the direction to the first light of the rig
 * along those axes. No direction where all light comes from everywhere.
 */
export function lineFacts(rig: Rig, camera: Camera, frame: Frame): PassFacts {
  const { eye, right, up, back, halfWidth, halfHeight, centreX, centreY, parallel } = cameraBasis(
    camera,
    frame,
  )
  const lens = [halfWidth, halfHeight, centreX, centreY, parallel ? 1 : 0]
  return relitFacts({ axes: [...right, ...up, ...back], eye: [...eye], lens }, rig)
}

/** From where lines were found, as their facts tell; null where those are of a time when they did not. */
export function lineView({ axes, eye, lens }: PassFacts): LineView | null {
  if (!isVector(axes, 9) || !isVector(eye, 3) || !isVector(lens, 5)) return null
  const [halfWidth, halfHeight, centreX, centreY, parallel] = lens
  const [right, up, back] = [0, 3, 6].map((i): Vec3 => [axes[i], axes[i + 1], axes[i + 2]])
  const place: Vec3 = [eye[0], eye[1], eye[2]]
  return { eye: place, right, up, back, halfWidth, halfHeight, centreX, centreY, parallel: parallel === 1 }
}

const isVector = (fact: PassFacts[string] | undefined, length: number): fact is number[] =>
  Array.isArray(fact) && fact.length === length

/** {@link lineFacts} under a rig as it is now. */
export function relitFacts(facts: PassFacts, rig: Rig): PassFacts {
  const { axes } = facts
  const { toLight: _before, ...rest } = facts
  const light = firstLight(rig)
  if (!isVector(axes, 9) || !light || light.kind === 'dome') return rest
  const [right, up, back] = [0, 3, 6].map((i): Vec3 => [axes[i], axes[i + 1], axes[i + 2]])
  const to = lightDirection({ up, back }, light.tied, light.azimuthDeg, light.elevationDeg)
  return { ...rest, toLight: [dot(to, right), dot(to, up), dot(to, back)] }
}

/** Which parts a drawing shows, and which stand in its way; see `PassMembers`. */
export interface DrawnParts {
  readonly shown: Uint8Array | null
  /** Which hide lines; null is all. */
  readonly blockers: Uint8Array | null
  readonly letThrough: Uint8Array | null
}

/** Finds the lines of a pass. @returns the drawing and the rays it took. */
export function drawLines(
  scene: SceneGeometry,
  camera: Camera,
  frame: Frame,
  rig: Rig,
  asked: LineAsked,
  { shown, blockers, letThrough }: DrawnParts,
  watch?: LineWatch,
): { readonly drawing: LineDrawing; readonly rays: number } {
  const kernel = TraceKernel.over(scene.tree)
  const before = kernel.rayCount
  const light = asked.kinds.includes('shadow') ? lineLight(rig, scene, cameraBasis(camera, frame)) : null
  const setting: LineSetting = {
    ...DEFAULT_LINE_SETTING,
    ...asked,
    light,
    shown,
    blockers,
    lightBlockers: letThrough && letThrough.map((flag) => 1 - flag),
  }
  const drawing = findLines(scene, camera, frame, setting, watch)
  return { drawing, rays: kernel.rayCount - before }
}
