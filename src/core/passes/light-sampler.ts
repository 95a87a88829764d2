import { concentricDisc, hash32, sobolPair } from '../math/sampling'
import type { Vec3 } from '../math/vec3'
import { add, cross, dot, normalize, scale, subtract } from '../math/vec3'
import type { CameraBasis } from '../scene/camera'
import { directionFrom } from '../scene/camera'
import type { Light, LightOf } from '../scene/light-rig'
import { BLOCKS_LIGHT } from '../scene/part-role'
import type { SceneGeometry } from '../scene/scene-geometry'
import type { RayKernel } from '../trace/ray-kernel'
import type { DomePicture } from './dome-picture'
import type { PixelRun } from '../math/sampling'
import type { CameraRay } from './primary-hits'
import { FAR } from './primary-hits'
import type { SurfacePoint } from './surface-point'

/**
 * What one light brings to a point: irradiance and highlight, or a dome's light. A sample is random in place, never on a
 * grid, so that too few samples show as noise and not as bands.
 */
export interface LightSampler {
  /** Numbers it adds to `sums`, beginning at `at`. */
  readonly planes: number
  /** @param rays how many to spend; at least 1. */
  add(point: SurfacePoint, ray: CameraRay, run: PixelRun, rays: number, sums: Float64Array, at: number): void
}

/** What a light is placed by. */
export interface LightSetting {
  readonly scene: SceneGeometry
  readonly kernel: RayKernel
  readonly camera: CameraBasis
  /** Width of the highlight, 0…1. */
  readonly roughness: number
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

/** Which of the scene's parts a list of keys names: 1 for each; null for all. */
function partFlags(scene: SceneGeometry, keys: readonly string[] | null): Uint8Array | null {
  if (!keys) return null
  const wanted = new Set(keys)
  return Uint8Array.from(scene.parts, (part) => (wanted.has(part.key) ? 1 : 0))
}

/** Steps past surfaces that throw no shadow before giving up and calling it dark. */
const MOST_LAYERS = 64

/** Answers whether light comes through, by a light's own rules. */
class ShadowTest {
  private readonly throwers: Uint8Array | null

  constructor(
    private readonly setting: LightSetting,
    private readonly light: Light,
  ) {
    this.throwers = partFlags(setting.scene, light.throws)
  }

  blocked(point: SurfacePoint, dx: number, dy: number, dz: number, far: number): boolean {
    if (!this.light.shadow) return false
    const { kernel, scene } = this.setting
    const { throwers } = this
    if (!throwers) return kernel.blocked(point.x, point.y, point.z, dx, dy, dz, 0, far, BLOCKS_LIGHT)
    let near = 0
    for (let layer = 0; layer < MOST_LAYERS; layer++) {
      if (!kernel.closest(point.x, point.y, point.z, dx, dy, dz, near, far, BLOCKS_LIGHT)) return false
      if (throwers[scene.triangleParts[kernel.triangle]]) return true
      near = kernel.distance * (1 + 1e-6) + 1e-9 * scene.figureDiagonal
    }
    return true
  }
}

/** The lobe of Walter et al. 2007 (GGX), scaled to 1 at its peak. */
function highlightLobe(
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

/** Light that comes from somewhere: irradiance and highlight. */
function directSampler(
  light: Exclude<Light, { kind: 'dome' }>,
  setting: LightSetting,
  salt: number,
): LightSampler {
  const places = placesOf(light, setting)
  const shadow = new ShadowTest(setting, light)
  const lit = partFlags(setting.scene, light.lights)
  const alphaSquared = Math.max(0.05, setting.roughness) ** 4
  const unit = new Float64Array(2)
  const place = new Float64Array(5)
  return {
    planes: 2,
    add(point, ray, run, rays, sums, at) {
      if (lit && !lit[point.part]) return
      const first = run.first(rays)
      let irradiance = 0
      let highlight = 0
      for (let r = 0; r < rays; r++) {
        sobolPair(first + r, run.seed ^ salt, unit)
        places(unit[0], unit[1], point, place)
        const [dx, dy, dz, distance, given] = place
        const cosine = dx * point.nx + dy * point.ny + dz * point.nz
        if (given === 0 || cosine <= 0 || dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
        if (shadow.blocked(point, dx, dy, dz, distance)) continue
        irradiance += given * cosine
        highlight += given * cosine * highlightLobe(point, ray, dx, dy, dz, alphaSquared)
      }
      sums[at] += irradiance / rays
      sums[at + 1] += highlight / rays
    },
  }
}

/** Cosine-weighted light of the whole sky, split by how much each direction looks up or down. */
function domeSampler(light: LightOf<'dome'>, setting: LightSetting, salt: number): LightSampler {
  const shadow = new ShadowTest(setting, light)
  const lit = partFlags(setting.scene, light.lights)
  const unit = new Float64Array(2)
  const disc = new Float64Array(2)
  return {
    planes: 2,
    add(point, _ray, run, rays, sums, at) {
      if (lit && !lit[point.part]) return
      const first = run.first(rays)
      let above = 0
      let below = 0
      for (let r = 0; r < rays; r++) {
        sobolPair(first + r, run.seed ^ salt, unit)
        concentricDisc(unit[0], unit[1], disc)
        const [a, b] = disc
        const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
        const dx = a * point.ux + b * point.vx + c * point.nx
        const dy = a * point.uy + b * point.vy + c * point.ny
        const dz = a * point.uz + b * point.vz + c * point.nz
        if (dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
        if (shadow.blocked(point, dx, dy, dz, FAR)) continue
        above += 0.5 + 0.5 * dy
        below += 0.5 - 0.5 * dy
      }
      sums[at] += above / rays
      sums[at + 1] += below / rays
    },
  }
}

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
  const shadow = new ShadowTest(setting, light)
  const lit = partFlags(setting.scene, light.lights)
  const turned =
    light.tied === 'camera' ? (Math.atan2(setting.camera.back[0], setting.camera.back[2]) * 180) / Math.PI : 0
  const rotation = ((light.rotationDeg + turned) * Math.PI) / 180
  const [cosine, sine] = [Math.cos(rotation), Math.sin(rotation)]
  const unit = new Float64Array(2)
  const disc = new Float64Array(2)
  /** Direction in the picture's own space, and its density there. */
  const found = new Float64Array(4)
  const rgb = new Float64Array(3)
  return {
    planes: 3,
    add(point, _ray, run, rays, sums, at) {
      if (lit && !lit[point.part]) return
      const pairs = Math.max(1, rays >> 1)
      const first = run.first(2 * pairs)
      for (let r = 0; r < 2 * pairs; r++) {
        sobolPair(first + r, run.seed ^ salt, unit)
        let dx: number
        let dy: number
        let dz: number
        if (r < pairs) {
          picture.sample(unit[0], unit[1], found)
          dx = cosine * found[0] + sine * found[2]
          dy = found[1]
          dz = cosine * found[2] - sine * found[0]
        } else {
          concentricDisc(unit[0], unit[1], disc)
          const [a, b] = disc
          const c = Math.sqrt(Math.max(0, 1 - a * a - b * b))
          dx = a * point.ux + b * point.vx + c * point.nx
          dy = a * point.uy + b * point.vy + c * point.ny
          dz = a * point.uz + b * point.vz + c * point.nz
        }
        const facing = dx * point.nx + dy * point.ny + dz * point.nz
        if (facing <= 0 || dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
        if (shadow.blocked(point, dx, dy, dz, FAR)) continue
        const ownX = cosine * dx - sine * dz
        const ownZ = sine * dx + cosine * dz
        const density = picture.look(ownX, dy, ownZ, rgb)
        // Irradiance over π: a picture of constant 1 gives 1 to an open surface.
        const weight = facing / (Math.PI * 0.5 * (density + facing / Math.PI))
        for (let k = 0; k < 3; k++) sums[at + k] += (rgb[k] * weight) / (2 * pairs)
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
    return picture ? pictureSampler(light, picture, setting, salt) : { planes: 3, add: () => undefined }
  })
