import { concentricDisc, hash32 } from '../math/sampling'
import type { Vec3 } from '../math/vec3'
import { add, cross, dot, normalize, scale, subtract } from '../math/vec3'
import type { CameraBasis } from '../scene/camera'
import { directionFrom } from '../scene/camera'
import type { Light, LightOf } from '../scene/light-rig'
import type { SceneGeometry } from '../scene/scene-geometry'
import { OPAQUE, partFlags } from '../scene/scene-geometry'
import { BLOCKS_LIGHT, SOLID } from '../scene/part-role'
import type { LightRecord } from '../trace/light-record'
import type { PointLight } from '../trace/point-kernel'
import type { RayFilter } from '../trace/ray-filter'
import type { DomePicture } from './dome-picture'

/** A light of a rig as passes ask about it. */
export interface PlacedLight {
  readonly light: Light
  /**
   * Numbers it brings: 1, irradiance over π of a light that comes from somewhere; 2, a sky's light from above and from
   * below; 3, the red, green and blue of a picture of the surroundings.
   */
  readonly values: 1 | 2 | 3
  /** What is in its way. */
  readonly filter: RayFilter
  /** Null for a picture that is not there, and where no part is lit: darkness. */
  readonly asked: PointLight | null
  /** The same for lights that bring the same to every point, shadows included. */
  readonly key: string
}

/** What a light is placed by. */
export interface LightSetting {
  readonly scene: SceneGeometry
  readonly camera: CameraBasis
  /** What may be in the way of light. */
  readonly blockers: RayFilter
  readonly picture: (id: string) => DomePicture | null
  /** Parts that any light is wanted on, one byte each; left out or null: all. */
  readonly receivers?: Uint8Array | null
}

/** Parts that are in both lists; null is all. */
export const bothOf = (a: Uint8Array | null, b: Uint8Array | null): Uint8Array | null =>
  a && b ? a.map((flag, i) => flag & b[i]) : (a ?? b)

/** Parts that are in one of two lists; null, in the first, is all, and in the second none. */
export const eitherOf = (a: Uint8Array | null, b: Uint8Array | null): Uint8Array | null =>
  a && b ? a.map((flag, i) => flag | b[i]) : a

/** Middle of the subject's box. */
const subjectMiddle = ({ subjectBounds: { min, max } }: SceneGeometry): Vec3 => scale(add(min, max), 0.5)

/**
 * Direction from the subject towards a light. One tied to the camera turns with it about the vertical, so a light from
 * the left stays on the left.
 */
export function lightDirection(
  camera: Pick<CameraBasis, 'back' | 'up'>,
  tied: Light['tied'],
  azimuthDeg: number,
  elevationDeg: number,
): Vec3 {
  if (tied === 'world') return directionFrom(azimuthDeg, elevationDeg)
  const flatBack = normalize(
    [camera.back[0], 0, camera.back[2]],
    normalize([-camera.up[0], 0, -camera.up[2]]),
  )
  const flatRight: Vec3 = [flatBack[2], 0, -flatBack[0]]
  const [x, y, z] = directionFrom(azimuthDeg, elevationDeg)
  return add(add(scale(flatBack, z), scale(flatRight, x)), [0, y, 0])
}

/** Two unit vectors across a direction; the second is as near to up as may be. */
function across(direction: Vec3): readonly [Vec3, Vec3] {
  const side = normalize(cross([0, 1, 0], direction), [1, 0, 0])
  return [side, cross(direction, side)]
}

/** What is in a light's way: the pass's blockers, of those that throw its shadow. */
function shadowFilter({ scene, blockers }: LightSetting, light: Light): RayFilter {
  const throwers = partFlags(scene, light.throws)
  if (!throwers) return blockers
  return { mask: blockers.mask, parts: bothOf(throwers, blockers.parts) }
}

/** The fourth power of a roughness, for a highlight's width: never so narrow that no ray would meet it. */
export const lobeWidth = (roughness: number): number => Math.max(0.05, roughness) ** 4

function sunRecord(light: LightOf<'sun'>, setting: LightSetting): LightRecord {
  const to = lightDirection(setting.camera, light.tied, light.azimuthDeg, light.elevationDeg)
  const [side, up] = across(to)
  const spread = Math.tan((light.sizeDeg * Math.PI) / 360)
  return { kind: 'parallel', to, isRound: true, first: scale(side, spread), second: scale(up, spread) }
}

/** Side of the grid over a light that its full strength is measured with. */
const MEASURE = 24

/** What makes a face give exactly 1 to a surface at its aim that faces its middle. */
function faceGain(middle: Vec3, aim: Vec3, first: Vec3, second: Vec3, isRound: boolean): number {
  const span = subtract(middle, aim)
  const full = dot(span, span)
  const place = new Float64Array(2)
  let sum = 0
  for (let i = 0; i < MEASURE * MEASURE; i++) {
    const [u, v] = [((i % MEASURE) + 0.5) / MEASURE, (Math.floor(i / MEASURE) + 0.5) / MEASURE]
    if (isRound) concentricDisc(u, v, place)
    else place.set([2 * u - 1, 2 * v - 1])
    const to = add(span, add(scale(first, place[0]), scale(second, place[1])))
    // Both faces are seen at the angle whose cosine is the distance of their planes over that of the places.
    sum += (full / dot(to, to)) ** 2
  }
  return sum > 0 ? (MEASURE * MEASURE) / sum : 1
}

/** Where a near light stands and what it is aimed at, in the world. */
export function nearLightPlace(
  light: LightOf<'area' | 'point' | 'spot'>,
  scene: Pick<SceneGeometry, 'subjectBounds' | 'figureDiagonal'>,
  camera: Pick<CameraBasis, 'back' | 'up'>,
): { readonly middle: Vec3; readonly aim: Vec3 } {
  const d = scene.figureDiagonal
  const aim = add(subjectMiddle(scene as SceneGeometry), scale(light.aimD, d))
  const to = lightDirection(camera, light.tied, light.azimuthDeg, light.elevationDeg)
  return { aim, middle: add(aim, scale(to, light.distanceD * d)) }
}

function nearRecord(light: LightOf<'area' | 'point' | 'spot'>, setting: LightSetting): LightRecord {
  const d = setting.scene.figureDiagonal
  const { aim, middle } = nearLightPlace(light, setting.scene, setting.camera)
  const span = subtract(middle, aim)
  const axis = normalize(span)
  const [side, up] = across(axis)
  const isArea = light.kind === 'area'
  const isRound = !isArea || light.shape === 'round'
  const [halfSide, halfUp] = isArea
    ? [(light.widthD * d) / 2, (light.heightD * d) / 2]
    : [light.radiusD * d, light.radiusD * d]
  const [first, second] = [scale(side, halfSide), scale(up, halfUp)]
  return {
    kind: 'place',
    middle,
    axis,
    first,
    second,
    isRound,
    full: dot(span, span),
    gain: isArea ? faceGain(middle, aim, first, second, isRound) : 1,
    isFacing: isArea,
    cone:
      light.kind === 'spot'
        ? {
            rim: Math.cos((light.coneDeg * Math.PI) / 360),
            fade: Math.cos((light.coneDeg * (1 - light.edge) * Math.PI) / 360),
          }
        : null,
  }
}

/** How far a dome's picture is turned round the vertical, in radians. */
const domeTurn = (light: LightOf<'dome'>, { camera }: Pick<LightSetting, 'camera'>): number =>
  (light.rotationDeg * Math.PI) / 180 +
  (light.tied === 'camera' ? Math.atan2(camera.back[0], camera.back[2]) : 0)

function recordOf(light: Light, setting: LightSetting): LightRecord | null {
  if (light.kind === 'sun') return sunRecord(light, setting)
  if (light.kind !== 'dome') return nearRecord(light, setting)
  if (light.look !== 'picture') return { kind: 'sky' }
  const picture = light.pictureId === null ? null : setting.picture(light.pictureId)
  return picture && { kind: 'picture', picture, turnRad: domeTurn(light, setting) }
}

/** @returns each light of a list, placed, in order. */
export const placeLights = (lights: readonly Light[], setting: LightSetting): PlacedLight[] =>
  lights.map((light, i) => {
    const record = recordOf(light, setting)
    const filter = shadowFilter(setting, light)
    const lit = bothOf(partFlags(setting.scene, light.lights), setting.receivers ?? null)
    const salt = hash32(0x51ed270b + i)
    const named =
      record?.kind === 'picture' && light.kind === 'dome' ? { ...record, picture: light.pictureId } : record
    return {
      light,
      values: light.kind !== 'dome' ? 1 : light.look === 'picture' ? 3 : 2,
      filter,
      asked:
        record && lit?.some((on) => on !== 0) !== false
          ? { record, salt, throwsShadow: light.shadow, lit }
          : null,
      key: JSON.stringify([named, salt, light.shadow, filter.mask, filter.parts?.join(''), lit?.join('')]),
    }
  })

/** What throws shadows: without glass both masks name the same triangles, and passes that ask the same share the answer. */
export function solidMask({ materials }: Pick<SceneGeometry, 'materials'>): number {
  return materials.some(({ opacity = 1 }) => opacity < OPAQUE) ? SOLID.light : BLOCKS_LIGHT
}
