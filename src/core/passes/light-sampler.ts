import { concentricDisc, hash32, sobolPair } from '../math/sampling'
import type { Vec3 } from '../math/vec3'
import { add, cross, dot, normalize, scale, subtract } from '../math/vec3'
import type { CameraBasis } from '../scene/camera'
import { directionFrom } from '../scene/camera'
import type { Light, LightOf } from '../scene/light-rig'
import type { SceneGeometry } from '../scene/scene-geometry'
import { partFlags } from '../scene/scene-geometry'
import type { DomePicture } from './dome-picture'
import type { CameraRay } from './primary-hits'
import { FAR } from './primary-hits'
import type { RayFilter } from './ray-queue'
import type { ShadeSample } from './shade-samples'
import type { SurfacePoint } from './surface-point'

/** One direction a light may come from: a ray to ask whether it does, and what it then brings. */
export interface LightRay {
  /** Unit direction and how far the light is. */
  dx: number
  dy: number
  dz: number
  far: number
  /** Irradiance over π it brings, a number for each of the light's values. */
  a: number
  b: number
  c: number
}

/**
 * Draws directions in which one light may come to a point. A sample is random in place, never on a grid, so that too few
 * samples show as noise and not as bands.
 */
export interface LightSampler {
  readonly light: Light
  /**
   * Numbers it brings: 1, irradiance of a light that comes from somewhere; 2, a sky's light from above and from below;
   * 3, the red, green and blue of a picture of the surroundings.
   */
  readonly values: 1 | 2 | 3
  /** What is in its way. */
  readonly filter: RayFilter
  /** Parts it lights; null: all. */
  readonly lit: Uint8Array | null
  /**
   * Calls `each` with at most `rays` directions; the mean of their values over `rays` is what the light brings. The ray
   * object is reused.
   */
  draw(sample: ShadeSample, rays: number, each: (ray: LightRay) => void): void
}

/** What a light is placed by. */
export interface LightSetting {
  readonly scene: SceneGeometry
  readonly camera: CameraBasis
  /** What may be in the way of light. */
  readonly blockers: RayFilter
  readonly picture: (id: string) => DomePicture | null
}

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
  const { parts } = blockers
  return { mask: blockers.mask, parts: parts ? throwers.map((on, i) => on & parts[i]) : throwers }
}

/**
 * The lobe of Walter et al. 2007 (GGX), scaled to 1 at its peak.
 * @param alphaSquared fourth power of the roughness.
 */
export function highlightLobe(
  point: SurfacePoint,
  ray: CameraRay,
  dx: number,
  dy: number,
  dz: number,
  alphaSquared: number,
) {
  const hx = dx - ray.dx
  const hy = dy - ray.dy
  const hz = dz - ray.dz
  const half = 1 / Math.sqrt(hx * hx + hy * hy + hz * hz || 1)
  const nh = (hx * point.nx + hy * point.ny + hz * point.nz) * half
  const lobe = alphaSquared / (nh * nh * (alphaSquared - 1) + 1)
  return lobe * lobe
}

/** The fourth power of a roughness, for {@link highlightLobe}: never so narrow that no ray would meet it. */
export const lobeWidth = (roughness: number): number => Math.max(0.05, roughness) ** 4

/**
 * A place on a light: fills `place` from two numbers in [0, 1).
 * `place`: direction to it (unit), distance, and what it gives in that direction.
 */
type LightPlaces = (
  u: number,
  v: number,
  point: Pick<SurfacePoint, 'x' | 'y' | 'z'>,
  place: Float64Array,
) => void

function sunPlaces(light: LightOf<'sun'>, setting: LightSetting): LightPlaces {
  const to = lightDirection(setting.camera, light.tied, light.azimuthDeg, light.elevationDeg)
  const [side, up] = across(to)
  const spread = Math.tan((light.sizeDeg * Math.PI) / 360)
  const disc = new Float64Array(2)
  return (u, v, _point, place) => {
    concentricDisc(u, v, disc)
    const a = disc[0] * spread
    const b = disc[1] * spread
    const x = to[0] + a * side[0] + b * up[0]
    const y = to[1] + a * side[1] + b * up[1]
    const z = to[2] + a * side[2] + b * up[2]
    const inverse = 1 / Math.sqrt(x * x + y * y + z * z)
    place[0] = x * inverse
    place[1] = y * inverse
    place[2] = z * inverse
    place[3] = FAR
    place[4] = 1
  }
}

/** Points on a surface at `middle` spanned by two vectors, whose light falls off with distance and with angle. */
function nearPlaces(
  middle: Vec3,
  aim: Vec3,
  halfSide: number,
  halfUp: number,
  isRound: boolean,
  facing: boolean,
  cone: { readonly outer: number; readonly inner: number } | null,
): LightPlaces {
  const axis = normalize(subtract(middle, aim))
  const [sideUnit, upUnit] = across(axis)
  const [side, up] = [scale(sideUnit, halfSide), scale(upUnit, halfUp)]
  const span = subtract(middle, aim)
  const full = dot(span, span)
  const disc = new Float64Array(2)
  return (u, v, point, place) => {
    if (isRound) concentricDisc(u, v, disc)
    else {
      disc[0] = 2 * u - 1
      disc[1] = 2 * v - 1
    }
    const x = middle[0] + disc[0] * side[0] + disc[1] * up[0] - point.x
    const y = middle[1] + disc[0] * side[1] + disc[1] * up[1] - point.y
    const z = middle[2] + disc[0] * side[2] + disc[1] * up[2] - point.z
    const squared = x * x + y * y + z * z
    const distance = Math.sqrt(squared)
    const inverse = 1 / (distance || 1)
    place[0] = x * inverse
    place[1] = y * inverse
    place[2] = z * inverse
    place[3] = distance
    const cosine = place[0] * axis[0] + place[1] * axis[1] + place[2] * axis[2]
    let given = full / (squared || 1)
    if (facing) given *= Math.max(0, cosine)
    if (cone) {
      const t = Math.min(1, Math.max(0, (cosine - cone.outer) / Math.max(1e-6, cone.inner - cone.outer)))
      given *= t * t * (3 - 2 * t)
    }
    place[4] = given
  }
}

/** Side of the grid over a light that its full strength is measured with. */
const MEASURE = 24

/** Makes a light give exactly 1 to a surface at its aim that faces its middle. */
function normalised(places: LightPlaces, middle: Vec3, aim: Vec3): LightPlaces {
  const place = new Float64Array(5)
  const axis = normalize(subtract(middle, aim))
  const at = { x: aim[0], y: aim[1], z: aim[2] }
  let sum = 0
  for (let i = 0; i < MEASURE * MEASURE; i++) {
    places(((i % MEASURE) + 0.5) / MEASURE, (Math.floor(i / MEASURE) + 0.5) / MEASURE, at, place)
    sum += place[4] * Math.max(0, place[0] * axis[0] + place[1] * axis[1] + place[2] * axis[2])
  }
  const gain = sum > 0 ? (MEASURE * MEASURE) / sum : 1
  return (u, v, point, out) => {
    places(u, v, point, out)
    out[4] *= gain
  }
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

function placesOf(light: Exclude<Light, { kind: 'dome' }>, setting: LightSetting): LightPlaces {
  if (light.kind === 'sun') return sunPlaces(light, setting)
  const d = setting.scene.figureDiagonal
  const { aim, middle } = nearLightPlace(light, setting.scene, setting.camera)
  if (light.kind === 'area') {
    const isRound = light.shape === 'round'
    const places = nearPlaces(
      middle,
      aim,
      (light.widthD * d) / 2,
      (light.heightD * d) / 2,
      isRound,
      true,
      null,
    )
    return normalised(places, middle, aim)
  }
  const outer = light.kind === 'spot' ? Math.cos((light.coneDeg * Math.PI) / 360) : -1
  const inner = light.kind === 'spot' ? Math.cos((light.coneDeg * (1 - light.edge) * Math.PI) / 360) : -1
  const radius = light.radiusD * d
  return nearPlaces(middle, aim, radius, radius, true, false, light.kind === 'spot' ? { outer, inner } : null)
}

const newRay = (): LightRay => ({ dx: 0, dy: 0, dz: 0, far: FAR, a: 0, b: 0, c: 0 })

/** Light that comes from somewhere. */
function directSampler(
  light: Exclude<Light, { kind: 'dome' }>,
  setting: LightSetting,
  salt: number,
): LightSampler {
  const places = placesOf(light, setting)
  const unit = new Float64Array(2)
  const place = new Float64Array(5)
  const ray = newRay()
  return {
    light,
    values: 1,
    filter: shadowFilter(setting, light),
    lit: partFlags(setting.scene, light.lights),
    draw(sample, rays, each) {
      const { point } = sample
      const first = sample.first(rays)
      for (let r = 0; r < rays; r++) {
        sobolPair(first + r, sample.seed ^ salt, unit)
        places(unit[0], unit[1], point, place)
        const cosine = place[0] * point.nx + place[1] * point.ny + place[2] * point.nz
        if (place[4] === 0 || cosine <= 0) continue
        if (place[0] * point.gx + place[1] * point.gy + place[2] * point.gz <= 0) continue
        ray.dx = place[0]
        ray.dy = place[1]
        ray.dz = place[2]
        ray.far = place[3]
        ray.a = place[4] * cosine
        each(ray)
      }
    },
  }
}

/** Cosine-weighted light of the whole sky, split by how much each direction looks up or down. */
function domeSampler(light: LightOf<'dome'>, setting: LightSetting, salt: number): LightSampler {
  const unit = new Float64Array(2)
  const disc = new Float64Array(2)
  const ray = newRay()
  return {
    light,
    values: 2,
    filter: shadowFilter(setting, light),
    lit: partFlags(setting.scene, light.lights),
    draw(sample, rays, each) {
      const { point } = sample
      const first = sample.first(rays)
      for (let r = 0; r < rays; r++) {
        sobolPair(first + r, sample.seed ^ salt, unit)
        concentricDisc(unit[0], unit[1], disc)
        const [a, b] = disc
        const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
        ray.dx = a * point.ux + b * point.vx + c * point.nx
        ray.dy = a * point.uy + b * point.vy + c * point.ny
        ray.dz = a * point.uz + b * point.vz + c * point.nz
        if (ray.dx * point.gx + ray.dy * point.gy + ray.dz * point.gz <= 0) continue
        ray.a = 0.5 + 0.5 * ray.dy
        ray.b = 0.5 - 0.5 * ray.dy
        each(ray)
      }
    },
  }
}

/** How far a dome's picture is turned round the vertical, in radians. */
const domeTurn = (light: LightOf<'dome'>, { camera }: Pick<LightSetting, 'camera'>): number =>
  (light.rotationDeg * Math.PI) / 180 +
  (light.tied === 'camera' ? Math.atan2(camera.back[0], camera.back[2]) : 0)

/**
 * Light of a picture of the surroundings. Half the rays go where the picture is bright and half where the surface faces,
 * weighted by the balance heuristic (Veach & Guibas 1995).
 */
function pictureSampler(
  light: LightOf<'dome'>,
  picture: DomePicture,
  setting: LightSetting,
  salt: number,
): LightSampler {
  const rotation = domeTurn(light, setting)
  const [cosine, sine] = [Math.cos(rotation), Math.sin(rotation)]
  const unit = new Float64Array(2)
  const disc = new Float64Array(2)
  /** Direction in the picture's own space, and its density there. */
  const found = new Float64Array(4)
  const rgb = new Float64Array(3)
  const ray = newRay()
  return {
    light,
    values: 3,
    filter: shadowFilter(setting, light),
    lit: partFlags(setting.scene, light.lights),
    draw(sample, rays, each) {
      const { point } = sample
      const pairs = Math.max(1, rays >> 1)
      const first = sample.first(2 * pairs)
      // The mean is over `rays`, also where that is 1.
      const scale = rays / (2 * pairs)
      for (let r = 0; r < 2 * pairs; r++) {
        sobolPair(first + r, sample.seed ^ salt, unit)
        if (r < pairs) {
          picture.sample(unit[0], unit[1], found)
          ray.dx = cosine * found[0] + sine * found[2]
          ray.dy = found[1]
          ray.dz = cosine * found[2] - sine * found[0]
        } else {
          concentricDisc(unit[0], unit[1], disc)
          const [a, b] = disc
          const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
          ray.dx = a * point.ux + b * point.vx + c * point.nx
          ray.dy = a * point.uy + b * point.vy + c * point.ny
          ray.dz = a * point.uz + b * point.vz + c * point.nz
        }
        const { dx, dy, dz } = ray
        const facing = dx * point.nx + dy * point.ny + dz * point.nz
        if (facing <= 0 || dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
        const density = picture.look(cosine * dx - sine * dz, dy, sine * dx + cosine * dz, rgb)
        // Irradiance over π: a picture of constant 1 gives 1 to an open surface.
        const weight = (scale * facing) / (Math.PI * 0.5 * (density + facing / Math.PI))
        ray.a = rgb[0] * weight
        ray.b = rgb[1] * weight
        ray.c = rgb[2] * weight
        each(ray)
      }
    },
  }
}

/** @returns a sampler for each light, in order; a picture that is not there gives darkness. */
export const lightSamplers = (lights: readonly Light[], setting: LightSetting): LightSampler[] =>
  lights.map((light, i) => {
    const salt = hash32(0x51ed270b + i)
    if (light.kind !== 'dome') return directSampler(light, setting, salt)
    if (light.look !== 'picture') return domeSampler(light, setting, salt)
    const picture = light.pictureId === null ? null : setting.picture(light.pictureId)
    if (picture) return pictureSampler(light, picture, setting, salt)
    return { light, values: 3, filter: setting.blockers, lit: null, draw: () => undefined }
  })

/**
 * Light that comes from a direction itself, where a reflection looks past everything: writes as many numbers as the
 * light has values. Only domes are seen so.
 */
export function domeLight(
  light: LightOf<'dome'>,
  setting: Pick<LightSetting, 'camera' | 'picture'>,
): (dx: number, dy: number, dz: number, out: Float64Array) => void {
  if (light.look !== 'picture')
    return (_dx, dy, _dz, out) => {
      out[0] = 0.5 + 0.5 * dy
      out[1] = 0.5 - 0.5 * dy
    }
  const picture = light.pictureId === null ? null : setting.picture(light.pictureId)
  if (!picture) return (_dx, _dy, _dz, out) => void out.fill(0)
  const rotation = domeTurn(light, setting)
  const [cosine, sine] = [Math.cos(rotation), Math.sin(rotation)]
  return (dx, dy, dz, out) => void picture.look(cosine * dx - sine * dz, dy, sine * dx + cosine * dz, out)
}
