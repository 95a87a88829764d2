import type { PolygonMesh } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Vec3 } from '../math/vec3'
import type { ParamValues } from '../params'
import { paramDefaults } from '../params'
import type { Effort } from '../passes/effort'
import type { PassFacts } from '../passes/pass-facts'
import type { PassResult } from '../passes/pass-result'
import { namedChannels } from '../passes/pass-result'
import type { PassKindName } from '../passes/registry'
import { passKind } from '../passes/registry'
import { memberRig, type PassMembers, TileJob, tilesFromMiddle, drawPass } from '../passes/render-tile'
import { lineFacts } from '../passes/line-pass'
import { sceneSurfaces } from '../passes/id'
import { allocateChannel, decodeChannel } from '../picture/channel'
import type { Camera, CameraBasis, Frame, LensFocus } from '../scene/camera'
import { projectPoint } from '../scene/camera'
import type { PartRole } from '../scene/part-role'
import type { DomePicture } from '../passes/dome-picture'
import type { Rig } from '../scene/light-rig'
import { DEFAULT_RIG } from '../scene/ready-rigs'
import { renderedLights } from '../scene/rendered-light'
import type { SceneModel } from '../scene/scene-geometry'
import { IDENTITY } from '../scene/placement'
import { buildSceneGeometry } from '../scene/scene-geometry'

/** Small forms and a one-call renderer for tests. */

/** A mesh from faces of points; equal points are one vertex. Normals given per point, or made. */
export function meshOf(faces: readonly (readonly Vec3[])[], normalAt?: (p: Vec3) => Vec3): PolygonMesh {
  const builder = new MeshBuilder()
  builder.parts.push({ name: 'part', parent: -1 })
  builder.materials.push({ ...PLAIN_MATERIAL, name: 'material', baseColour: [0.5, 0.5, 0.5] })
  const known = new Map<string, number>()
  for (const face of faces) {
    const vertices = face.map((p) => {
      const key = p.join()
      const there = known.get(key)
      if (there !== undefined) return there
      builder.positions.push3(p[0], p[1], p[2])
      known.set(key, known.size)
      return known.size - 1
    })
    builder.addFace(vertices, normalAt ? face.flatMap((p) => [...normalAt(p)]) : null, null, 0, 0)
  }
  return builder.finish('test').mesh
}

/** A square on y = 0, facing up. */
export const square = (half: number, y = 0): PolygonMesh =>
  meshOf([
    [
      [-half, y, half],
      [half, y, half],
      [half, y, -half],
      [-half, y, -half],
    ],
  ])

export const cubeFaces = (h: number): Vec3[][] => [
  [
    [-h, -h, h],
    [h, -h, h],
    [h, h, h],
    [-h, h, h],
  ],
  [
    [h, -h, -h],
    [-h, -h, -h],
    [-h, h, -h],
    [h, h, -h],
  ],
  [
    [h, -h, h],
    [h, -h, -h],
    [h, h, -h],
    [h, h, h],
  ],
  [
    [-h, -h, -h],
    [-h, -h, h],
    [-h, h, h],
    [-h, h, -h],
  ],
  [
    [-h, h, h],
    [h, h, h],
    [h, h, -h],
    [-h, h, -h],
  ],
  [
    [-h, -h, -h],
    [h, -h, -h],
    [h, -h, h],
    [-h, -h, h],
  ],
]
export const cube = (half = 1): PolygonMesh => meshOf(cubeFaces(half))

/** A ball of quads with exact normals; `inward` turns it inside out. */
export function ball(radius: number, rows: number, inward = false): PolygonMesh {
  const at = (i: number, j: number): Vec3 => {
    const theta = (i / rows) * Math.PI
    const phi = ((j % (2 * rows)) / rows) * Math.PI
    // Poles and the seam must be the same point, bit for bit.
    if (i === 0) return [0, radius, 0]
    if (i === rows) return [0, -radius, 0]
    return [
      radius * Math.sin(theta) * Math.cos(phi),
      radius * Math.cos(theta),
      radius * Math.sin(theta) * Math.sin(phi),
    ]
  }
  const faces: Vec3[][] = []
  for (let i = 0; i < rows; i++) {
    for (let j = 0; j < 2 * rows; j++) {
      const quad = [at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)]
      const distinct = quad.filter((p, k) => quad.findIndex((q) => q.join() === p.join()) === k)
      faces.push(inward ? distinct.reverse() : distinct)
    }
  }
  const sign = inward ? -1 / radius : 1 / radius
  return meshOf(faces, (p) => [p[0] * sign, p[1] * sign, p[2] * sign])
}

export const sceneModel = (mesh: PolygonMesh, name = 'part', role: PartRole = 'subject'): SceneModel => ({
  mesh,
  transforms: [IDENTITY],
  parts: [{ key: name, name, role }],
  materials: [{ key: `${name} material`, name: `${name} material`, baseColour: [0.5, 0.5, 0.5] }],
})

export interface TestRender {
  readonly result: PassResult
  /** Channel values as numbers, by name. */
  readonly channel: (name: string) => Float32Array
}

/** Renders one pass in this thread. `tileSide` and the order of tiles must not matter. */
export function renderPass(
  kind: PassKindName,
  models: readonly SceneModel[],
  camera: Camera,
  frame: Frame,
  options: {
    params?: ParamValues
    effort?: Effort
    seed?: number
    rig?: Rig
    dome?: DomePicture
    members?: PassMembers
    shownAs?: ParamValues
    focus?: LensFocus
    tileSide?: number
    reverse?: boolean
  } = {},
): TestRender {
  const scene = buildSceneGeometry(models)
  const pass = passKind(kind)
  const params = { ...paramDefaults(pass.renderSchema), ...options.params }
  const effort = options.effort ?? pass.efforts.final
  const rig = options.rig ?? DEFAULT_RIG
  const lights = renderedLights(memberRig(rig, options.members))
  const job = new TileJob(
    scene,
    { camera, frame, rig, focus: options.focus },
    () => options.dome ?? null,
    [{ kind, params, effort, members: options.members, shownAs: options.shownAs }],
    options.seed ?? 0,
    () => 0,
  )
  const channels = pass
    .channels(lights, params)
    .map((c) => allocateChannel(c.format, frame.width * frame.height))
  const tiles = tilesFromMiddle(frame, options.tileSide ?? 32)
  if (options.reverse) tiles.reverse()
  let told: PassFacts = {}
  for (const tile of tiles) {
    const [rendered] = job.render(tile, () => false)
    if (rendered.facts) told = pass.facts?.merge(told, rendered.facts) ?? told
    rendered.channels.forEach((data, c) => {
      for (let row = 0; row < tile.height; row++) {
        const line = data.subarray(row * tile.width, (row + 1) * tile.width)
        channels[c].set(line, (tile.y + row) * frame.width + tile.x)
      }
    })
  }
  const { surfaces } = sceneSurfaces(scene)
  const own = { camera, frame, rig: memberRig(rig, options.members) }
  const facts = pass.facts?.finish(told, surfaces) ?? (pass.lines ? lineFacts(own.rig, camera, frame) : {})
  const order = { kind, params, effort, members: options.members }
  const drawing = pass.lines ? drawPass(scene, { ...own, rig }, order, null).drawing : null
  const result: PassResult = { kind, ...frame, channels, surfaces, lights, params, facts, drawing }
  return {
    result,
    channel: (name) => {
      const found = namedChannels(result).find((c) => c.name === name)
      if (!found) throw new Error(`no channel ${name}`)
      const out = new Float32Array(found.data.length)
      decodeChannel(found, 0, out.length, out)
      return out
    },
  }
}

export const mean = (values: ArrayLike<number>): number =>
  Array.from(values).reduce((a, b) => a + b, 0) / values.length

/** Looks straight down on the origin, parallel. */
export const fromAbove = (height: number): Camera => ({
  eye: [0, 10, 0],
  target: [0, 0, 0],
  fovDeg: 30,
  orthoHeight: height,
})
/** Looks along −Z, parallel. */
export const fromFront = (height: number): Camera => ({
  eye: [0, 0, 10],
  target: [0, 0, 0],
  fovDeg: 30,
  orthoHeight: height,
})

export const distanceBetween = (a: readonly number[], b: readonly number[]): number =>
  Math.hypot(...a.map((v, i) => v - b[i]))

/** A point in the picture: pixels across and down, and its depth. */
export function toScreen(
  basis: CameraBasis,
  frame: Frame,
  point: readonly [number, number, number],
): [number, number, number] {
  const out = new Float64Array(3)
  projectPoint(basis, frame, ...point, out)
  return [out[0], out[1], out[2]]
}
