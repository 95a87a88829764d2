import { cpus } from 'node:os'
import { concentricDisc, seededRandom } from '@/core/math/sampling'
import { paramDefaults } from '@/core/params'
import { passKind } from '@/core/passes/registry'
import { TileJob, tilesFromMiddle } from '@/core/passes/render-tile'

import { PlainPoint } from '@/core/trace/plain-point'
import { tracePrimaryHits } from '@/core/passes/primary-hits'
import { CameraRay } from '@/core/scene/camera-ray'
import { decodeChannel } from '@/core/picture/channel'
import { cameraBasis } from '@/core/scene/camera'
import { BLOCKS_LIGHT, SEEN_BY_CAMERA } from '@/core/scene/part-role'
import { buildSceneGeometry, type SceneGeometry } from '@/core/scene/scene-geometry'
import { TraceKernel } from '@/core/trace/trace-kernel'
import { activeShot, rigOf } from '@/data/active-shot'
import { loadScene } from '../cli/load-input'

const FRAME = { width: 240, height: 150 }
const SAMPLES = 8
const REACH = 12

/**
 * Noise of the occlusion pass at equal rays: root mean square error against a long reference, over the pixels that one
 * surface fills, beside the same estimate with plain random numbers.
 */
export async function main(): Promise<void> {
  console.log(`machine: ${cpus()[0].model}, Node ${process.version}`)
  const { models, project } = await loadScene(['demo/low-water.zip'])
  if (!project) throw new Error('the demo is no project')
  const scene = buildSceneGeometry(models)
  const shot = activeShot(project)
  const rig = rigOf(project, shot)
  const params = {
    ...paramDefaults(passKind('occlusion').renderSchema),
    reach: REACH,
  }
  const pixels = FRAME.width * FRAME.height
  const render = (rays: number, seed: number): Float32Array => {
    const orders = [{ kind: 'occlusion' as const, params, effort: { samples: SAMPLES, rays } }]
    const job = new TileJob(
      scene,
      { camera: shot.camera, frame: FRAME, rig },
      () => null,
      orders,
      seed,
      () => 0,
    )
    const out = new Float32Array(pixels)
    const line = new Float32Array(32)
    for (const tile of tilesFromMiddle(FRAME, 32)) {
      const [{ channels }] = job.render(tile, () => false)
      for (let row = 0; row < tile.height; row++) {
        decodeChannel({ name: 'V', format: 'half', data: channels[0] }, row * tile.width, tile.width, line)
        out.set(line.subarray(0, tile.width), (tile.y + row) * FRAME.width + tile.x)
      }
    }
    return out
  }
  const plainPixels = onePixelSurfaces(scene, shot.camera)
  const reference = render(512, 77)
  const rms = (values: Float32Array) => {
    let sum = 0
    for (const p of plainPixels) sum += (values[p] - reference[p]) ** 2
    return Math.sqrt(sum / plainPixels.length)
  }
  console.log('rays a pixel  ours     random   random / ours')
  for (const rays of [8, 16, 32]) {
    const ours = rms(render(rays, 1))
    const random = rms(randomOcclusion(scene, shot.camera, rays))
    console.log(
      `${String(SAMPLES * rays).padEnd(13)} ${ours.toFixed(4).padEnd(8)} ${random.toFixed(4).padEnd(8)} ${(random / ours).toFixed(2)}`,
    )
  }
}

const primary = (scene: SceneGeometry, camera: Parameters<typeof cameraBasis>[0]) =>
  tracePrimaryHits(
    {
      scene,
      camera: cameraBasis(camera, FRAME),
      frame: FRAME,
      samples: SAMPLES,
      adaptive: false,
      filter: { mask: SEEN_BY_CAMERA, parts: null },
    },
    { x: 0, y: 0, ...FRAME },
  )

/** Pixels all of whose samples meet one part. */
function onePixelSurfaces(scene: SceneGeometry, camera: Parameters<typeof cameraBasis>[0]): number[] {
  const hits = primary(scene, camera)
  const out: number[] = []
  for (let p = 0; p < FRAME.width * FRAME.height; p++) {
    const parts = new Set<number>()
    for (let i = hits.starts[p]; i < hits.starts[p + 1]; i++)
      parts.add(hits.slots[i] < 0 ? -1 : scene.tree.tags[hits.slots[i]] & 0xffffff)
    if (parts.size === 1 && !parts.has(-1)) out.push(p)
  }
  return out
}

/** The same estimate of the same points with random directions. */
function randomOcclusion(
  scene: SceneGeometry,
  camera: Parameters<typeof cameraBasis>[0],
  rays: number,
): Float32Array {
  const hits = primary(scene, camera)
  const kernel = TraceKernel.over(scene.tree)
  const random = seededRandom(5)
  const reach = (REACH / 100) * scene.figureDiagonal
  const point = new PlainPoint(scene)
  const ray = new CameraRay(cameraBasis(camera, FRAME), FRAME)
  const disc = new Float64Array(2)
  const out = new Float32Array(FRAME.width * FRAME.height)
  for (let p = 0; p < out.length; p++) {
    let open = 0
    let counted = 0
    for (let i = hits.starts[p]; i < hits.starts[p + 1]; i++) {
      if (hits.slots[i] < 0) continue
      const s = i - hits.starts[p]
      ray.aim((p % FRAME.width) + hits.pattern[2 * s], Math.floor(p / FRAME.width) + hits.pattern[2 * s + 1])
      point.load(hits.slots[i], hits.weights[2 * i], hits.weights[2 * i + 1], ray.dx, ray.dy, ray.dz)
      let sampleOpen = 0
      let sampleCounted = 0
      for (let r = 0; r < rays; r++) {
        concentricDisc(random(), random(), disc)
        const c = Math.sqrt(Math.max(0, 1 - disc[0] ** 2 - disc[1] ** 2))
        const dx = disc[0] * point.ux + disc[1] * point.vx + c * point.nx
        const dy = disc[0] * point.uy + disc[1] * point.vy + c * point.ny
        const dz = disc[0] * point.uz + disc[1] * point.vz + c * point.nz
        if (dx * point.gx + dy * point.gy + dz * point.gz <= 0) continue
        sampleCounted++
        if (!kernel.isBlocked(point.x, point.y, point.z, dx, dy, dz, 0, reach, BLOCKS_LIGHT)) sampleOpen++
      }
      open += sampleCounted > 0 ? sampleOpen / sampleCounted : 1
      counted++
    }
    out[p] = counted > 0 ? open / counted : 0
  }
  return out
}
