import { InvalidValueError } from '../errors'
import type { SceneMaterial, SceneGeometry, SceneModel } from '../scene/scene-geometry'
import { buildSceneGeometry } from '../scene/scene-geometry'
import { cameraBasis, framePoints, plainLens, projectPoint, type Camera, type Frame } from '../scene/camera'
import type { Vec3 } from '../math/vec3'
import { IDENTITY, type Affine } from '../scene/placement'
import type { Rig } from '../scene/light-rig'
import { parseHex } from '../math/colour'
import { paperMesh, type PaperForm } from './paper-form'
import { StandPieces } from './stand-pieces'
import { STANDS, type Glass, type Stand, type StandKind } from './stands'

/** A sheet of paper on its stand, as passes and masks of it are rendered from. */

export const WALLS = ['plaster', 'even', 'bricks', 'boards', 'none'] as const

/** What of a mock-up stands there, whoever looks. */
export interface MockupThings extends PaperForm {
  readonly stand: StandKind
  readonly wallColour: string
}
export interface MockupForm {
  readonly things: MockupThings
  readonly wall: (typeof WALLS)[number]
  readonly azimuthDeg: number
  readonly elevationDeg: number
  readonly rollDeg: number
  readonly fovDeg: number
  /** Share of the picture that is left free on each side of the sheet. */
  readonly room: number
  /** How far the sheet lies off the picture's middle, in picture heights to the right and up. */
  readonly shift: readonly [number, number]
  readonly rig: Rig
  /** How far all lights are turned about the sheet. */
  readonly lightTurnDeg: number
}

export interface MockupScene {
  readonly geometry: SceneGeometry
  readonly glass: Glass | null
  /** The world's axes as the stand's: a table's up is a wall's front. */
  readonly isLying: boolean
  readonly wallMaterial: number
}

const WALL_REACH = 14
/** A wall's front becomes a table's top: (x, y, z) to (x, z, −y). */
const LAID: Affine = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0]
/** Quads along the longer side: while a hand moves, and else. */
const FINENESS = { draft: 72, fine: 300 } as const

/** @param aspect width over height of the sheet. */
export function mockupScene(form: MockupThings, aspect: number, isDraft: boolean): MockupScene {
  const [width, height] = sidesOf(aspect)
  const stand: Stand = STANDS[form.stand]
  const hold = stand.hold(width, height)
  const { mesh, place } = paperMesh(form, aspect, hold, isDraft ? FINENESS.draft : FINENESS.fine)
  const pieces = new StandPieces()
  const built = stand.build?.({ pieces, width, height, seed: form.seed, place }) ?? {}
  const [r, g, b] = parseHex(form.wallColour)
  const wall = pieces.material('Wall', [r, g, b], { roughness: 0.95, highlight: 0 })
  const w = WALL_REACH
  if (!built.opening)
    pieces.strip(
      [
        [
          [-w, -w, 0],
          [w, -w, 0],
        ],
        [
          [-w, w, 0],
          [w, w, 0],
        ],
      ],
      wall,
    )
  else {
    const [x, y] = built.opening
    const quad = (x0: number, y0: number, x1: number, y1: number) =>
      pieces.strip(
        [
          [
            [x0, y0, 0],
            [x1, y0, 0],
          ],
          [
            [x0, y1, 0],
            [x1, y1, 0],
          ],
        ],
        wall,
      )
    quad(-w, -w, w, -y)
    quad(-w, y, w, w)
    quad(-w, -y, -x, y)
    quad(x, -y, w, y)
  }
  const around = pieces.finish('Stand')
  const transforms = [stand.isLying ? LAID : IDENTITY]
  const paper: SceneMaterial = {
    key: 'paper',
    name: 'Paper',
    baseColour: [1, 1, 1],
    roughness: 0.8,
    highlight: 0,
  }
  const models: SceneModel[] = [
    {
      mesh,
      transforms,
      parts: [{ key: 'paper', name: 'Paper', role: 'subject' }],
      materials: [paper],
      // Texture coordinates are kept where something asks for them.
      textures: [{ width: 1, height: 1, rgba: new Uint8Array(4).fill(255) }],
    },
    {
      mesh: around.mesh,
      transforms,
      parts: around.parts.map(({ name }, i) => ({ key: `stand ${i}`, name, role: 'ground' as const })),
      materials: [
        ...around.materials.map(({ name, baseColour, roughness, highlight }): SceneMaterial => ({
          key: name,
          name,
          baseColour,
          roughness,
          highlight,
        })),
        { key: 'unused', name: 'Unused', baseColour: [1, 1, 1], texture: 0 },
      ],
      textures: [{ width: 1, height: 1, rgba: new Uint8Array(4).fill(255) }],
    },
  ]
  return {
    geometry: buildSceneGeometry(models),
    glass: built.glass ?? null,
    isLying: stand.isLying ?? false,
    wallMaterial: 1 + around.materials.findIndex(({ name }) => name === 'Wall'),
  }
}

/** Sides of a sheet, the longer one 1. @param aspect width over height. @throws {InvalidValueError} */
function sidesOf(aspect: number): readonly [number, number] {
  if (!(aspect > 0)) throw new InvalidValueError('aspect', 'must be above 0', aspect)
  return aspect >= 1 ? [1, 1 / aspect] : [aspect, 1]
}

/** Where a place of the sheet would lie if it were flat. @param u, v shares from its upper left. */
function flatPlace(stand: Stand, width: number, height: number, u: number, v: number): Vec3 {
  const [x, y] = [(u - 0.5) * width, (0.5 - v) * height]
  return stand.isLying ? [x, 0, -y] : [x, y, 0]
}

/** Frames the sheet with what holds it. */
export function mockupCamera(form: MockupForm, aspect: number, frame: Frame): Camera {
  const [width, height] = sidesOf(aspect)
  const stand: Stand = STANDS[form.things.stand]
  const reach = stand.reach ?? 0
  const [across, down] = [reach / width, reach / height]
  const points = (visit: (x: number, y: number, z: number) => void) => {
    for (const [u, v] of CORNERS_OF_ALL)
      visit(...flatPlace(stand, width, height, u + (2 * u - 1) * across, v + (2 * v - 1) * down))
  }
  const lens = { ...plainLens(form.fovDeg), rollDeg: form.rollDeg }
  const margin = Math.min(0.45, Math.max(-0.4, form.room))
  const camera = framePoints(points, form.azimuthDeg, form.elevationDeg, frame, lens, margin)
  return { ...camera, shift: [-form.shift[0], -form.shift[1]] }
}

const CORNERS_OF_ALL = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
] as const

/**
 * How many pixels of a picture the sheet measures across where it is seen largest, laid flat.
 * @param frame of the picture.
 */
export function printDensity(form: MockupForm, aspect: number, frame: Frame): number {
  const [width, height] = sidesOf(aspect)
  const stand: Stand = STANDS[form.things.stand]
  const basis = cameraBasis(mockupCamera(form, aspect, frame), frame)
  const at = (u: number, v: number): readonly [number, number] => {
    const out = new Float64Array(3)
    projectPoint(basis, frame, ...flatPlace(stand, width, height, u, v), out)
    return [out[0], out[1]]
  }
  const step = 1 / 64
  let most = 0
  for (let i = 0; i <= 4; i++)
    for (let j = 0; j <= 4; j++) {
      const [u, v] = [(i / 4) * (1 - step), (j / 4) * (1 - step)]
      const [x, y] = at(u, v)
      const [rx, ry] = at(u + step, v)
      const [dx, dy] = at(u, v + step)
      most = Math.max(most, Math.hypot(rx - x, ry - y) / step, (Math.hypot(dx - x, dy - y) / step) * aspect)
    }
  return most
}

/** A rig with all its lights turned about the vertical. */
export const turnedRig = (rig: Rig, turnDeg: number): Rig => ({
  ...rig,
  lights: rig.lights.map((light) => {
    // A picture of surroundings is that of another place.
    if (light.kind === 'dome') return light.look === 'picture' ? { ...light, look: 'gradient' } : light
    return { ...light, azimuthDeg: around(light.azimuthDeg + turnDeg) }
  }),
})

const around = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180
