import { describe, expect, it } from 'vitest'
import {
  ball,
  cube,
  fromAbove,
  fromFront,
  mean,
  meshOf,
  renderPass,
  sceneModel,
  square,
} from '../testing/shapes'
import { lineLength, type LineDrawing } from '../lines/line-drawing'
import { oklabDistance, srgbToOklab } from '../math/oklab'
import type { ParamValues } from '../params'
import type { Camera } from '../scene/camera'
import { frameBounds, plainLens } from '../scene/camera'
import { newLight } from '../scene/light-rig'
import { placementMatrix } from '../scene/placement'
import { DEFAULT_RIG } from '../scene/ready-rigs'
import { distinctPalette, spreadColours } from './distinct-colours'
import { ID_PAIRS } from './id'
import { passPicture } from './pass-picture'
import { surfaceAt, surfaceCoverage } from './pass-result'
import { PASS_KINDS } from './registry'
import { ALL_MEMBERS } from './render-tile'

const FRAME = { width: 32, height: 32 }
/** A place between the middle and a camera on the positive Z axis. */
const IN_FRONT = placementMatrix({ position: [0.6, 0.9, 2], rotationDeg: [0, 0, 0], scale: [1, 1, 1] })
const MANY = { samples: 4, rays: 64 }

describe('occlusion', () => {
  const plane = sceneModel(square(1000), 'plane')
  it('is 1 on a lone plane', () => {
    const { channel } = renderPass('occlusion', [plane], fromAbove(1), FRAME, {
      effort: MANY,
      params: { reach: 1000 },
    })
    for (const name of ['V', 'V2', 'V4', 'V8', 'A']) expect(Math.min(...channel(name))).toBe(1)
  })
  it('is ½ at the foot of an endless wall', () => {
    const wall = sceneModel(
      meshOf([
        [
          [0, -10, 1000],
          [0, 1000, 1000],
          [0, 1000, -1000],
          [0, -10, -1000],
        ],
      ]),
      'wall',
    )
    const camera: Camera = { eye: [0.0015, 10, 0], target: [0.0015, 0, 0], fovDeg: 30, orthoHeight: 0.002 }
    const { channel } = renderPass('occlusion', [plane, wall], camera, FRAME, {
      effort: MANY,
      params: { reach: 1000 },
    })
    expect(mean(channel('V'))).toBeCloseTo(0.5, 2)
  })
  it('is 1 − sin²θ below a disc that hides a cap of half-angle θ, at every reach that finds it', () => {
    for (const angleDeg of [20, 45, 60]) {
      const radius = Math.tan((angleDeg * Math.PI) / 180)
      const disc = sceneModel(
        meshOf([
          Array.from({ length: 128 }, (_, i) => {
            const a = (i / 128) * 2 * Math.PI
            return [radius * Math.cos(a), 1, -radius * Math.sin(a)] as const
          }),
        ]),
        'disc',
        'unseen',
      )
      const { channel } = renderPass(
        'occlusion',
        [sceneModel(square(50), 'plane'), disc],
        fromAbove(0.002),
        { width: 16, height: 16 },
        { effort: { samples: 4, rays: 256 }, params: { reach: 80 } },
      )
      const expected = 1 - Math.sin((angleDeg * Math.PI) / 180) ** 2
      expect(mean(channel('V'))).toBeCloseTo(expected, 2)
      expect(mean(channel('V8'))).toBeCloseTo(expected, 2)
    }
  })
  it('forgets what is beyond the reach', () => {
    // D = 2·√2·50; the ceiling at 1 is 0.707 % of it. A reach of 0.7 % just misses it straight up.
    const ceiling = sceneModel(square(50, 1), 'ceiling', 'unseen')
    const at = (reach: number) =>
      mean(
        renderPass(
          'occlusion',
          [sceneModel(square(50), 'plane'), ceiling],
          fromAbove(0.01),
          { width: 16, height: 16 },
          { effort: MANY, params: { reach } },
        ).channel('V'),
      )
    expect(at(0.7)).toBe(1)
    expect(at(100)).toBeLessThan(0.02)
    // Blocked within reach r at height 1: cos θ > 1/r, a share of 1 − 1/r².
    const reach = 2
    expect(at((100 * reach) / (Math.SQRT2 * 100))).toBeCloseTo(1 / reach ** 2, 2)
  })
})

describe('cavity', () => {
  const radiusPercent = (r: number, R: number) => (100 * r) / (2 * R * Math.sqrt(3))
  it.each([12, 48])('is −r / 4R on a ball, however coarse it is cut (%i rows)', (rows) => {
    const { channel } = renderPass(
      'cavity',
      [sceneModel(ball(1, rows))],
      fromFront(0.3),
      { width: 16, height: 16 },
      { effort: { samples: 4, rays: 64 }, params: { radius: radiusPercent(0.2, 1) } },
    )
    // −r/4R to first order; with the next term, −(r/4R)(1 + r²/6R²).
    expect(mean(channel('H'))).toBeCloseTo(-0.0503, rows === 12 ? 2 : 3)
    // Facets of 12 rows are as wide as the disc, and still none of them reads as flat or its edges as ridges.
    for (const h of channel('H')) expect(Math.abs(h + 0.0503)).toBeLessThan(0.01)
  })
  it('turns its sign with the surface', () => {
    const inside: Camera = { eye: [0, 0, 0.0], target: [0, 0, -1], fovDeg: 10, orthoHeight: null }
    const { channel } = renderPass(
      'cavity',
      [sceneModel(ball(1, 48, true))],
      inside,
      { width: 16, height: 16 },
      { effort: { samples: 4, rays: 64 }, params: { radius: radiusPercent(0.2, 1) } },
    )
    expect(mean(channel('H'))).toBeCloseTo(0.0503, 3)
  })
  it('is 0 on a plane', () => {
    const { channel } = renderPass('cavity', [sceneModel(square(10))], fromAbove(1), FRAME, { effort: MANY })
    for (const h of channel('H')) expect(Math.abs(h)).toBeLessThan(1e-3)
  })
})

describe('ID', () => {
  it('gives a half-plane its exact area, within the sample count', () => {
    // A straight edge at a slope of 1/3 through the middle of a one-unit picture.
    const blade = sceneModel(
      meshOf([
        [
          [-9, 3, 0],
          [-9, -9, 0],
          [9, -9, 0],
          [9, -3, 0],
        ],
      ]),
      'blade',
    )
    const { result, channel } = renderPass('id', [blade], fromFront(32), FRAME)
    const covered = surfaceCoverage(result, Uint8Array.of(1))
    const alpha = channel('A')
    let worst = 0
    for (let p = 0; p < covered.length; p++) {
      const x = (p % 32) - 16
      const top = 16 - Math.floor(p / 32)
      if (x < -8 || x >= 8 || Math.abs(top) > 8) continue
      // Area of the pixel [x, x + 1] × [top − 1, top] under y = −x / 3, by fine slices.
      let area = 0
      for (let k = 0; k < 200; k++)
        area += Math.min(1, Math.max(0, -(x + (k + 0.5) / 200) / 3 - (top - 1))) / 200
      worst = Math.max(worst, Math.abs(area - covered[p]))
      expect(covered[p]).toBeCloseTo(alpha[p], 2)
    }
    // 64 well-spread samples: a half-plane is off by at most about √64 / 64 ÷ 4.
    expect(worst).toBeLessThan(0.04)
  })
  it('sums to alpha where many parts meet, and names who is there', () => {
    const strips = Array.from({ length: 8 }, (_, i) =>
      sceneModel(
        meshOf([
          [
            [i * 0.1, -1, 0],
            [i * 0.1 + 0.1, -1, 0],
            [i * 0.1 + 0.1, 1, 0],
            [i * 0.1, 1, 0],
          ],
        ]),
        `strip ${i}`,
      ),
    )
    const { result, channel } = renderPass('id', strips, fromFront(32), FRAME)
    const all = surfaceCoverage(result, new Uint8Array(strips.length).fill(1))
    const alpha = channel('A')
    for (let p = 0; p < all.length; p++) expect(all[p]).toBeCloseTo(alpha[p], 2)
    expect(surfaceAt(result, 16.5, 16)?.part).toMatch(/^strip/)
    expect(surfaceAt(result, 0, 0)).toBeNull()
    expect(surfaceAt(result, -1, 40)).toBeNull()
    expect(ID_PAIRS).toBeGreaterThanOrEqual(6)
  })
  it('keeps the first colours apart', () => {
    for (let i = 0; i < 12; i++) {
      for (let j = 0; j < i; j++) {
        const [a, b] = [distinctPalette(12)[i], distinctPalette(12)[j]].map((c) => srgbToOklab(c))
        expect(oklabDistance(a, b)).toBeGreaterThan(0.15)
      }
    }
  })
  it('gives what meets in the picture colours farther apart than what does not', () => {
    // A ring of 24: each meets the next.
    const near = new Map(
      Array.from({ length: 24 }, (_, i) => [
        i,
        new Map([[(i + 1) % 24, 5] as const, [(i + 23) % 24, 5] as const]),
      ]),
    )
    const places = spreadColours(24, near)
    expect([...places].sort((a, b) => a - b)).toEqual(Array.from({ length: 24 }, (_, i) => i))
    const palette = distinctPalette(24).map((c) => srgbToOklab(c))
    const apart = (order: readonly number[]) =>
      Math.min(...order.map((place, i) => oklabDistance(palette[place], palette[order[(i + 1) % 24]])))
    const least = Math.min(...palette.flatMap((a, i) => palette.slice(0, i).map((b) => oklabDistance(a, b))))
    expect(apart(places)).toBeGreaterThan(2 * least)
  })
})

/** Share of each pixel under the lines of a pass in a look. */
const inkOf = (
  kind: 'contour' | 'wireframe',
  models: Parameters<typeof renderPass>[1],
  camera: Camera,
  frame: { width: number; height: number },
  look: ParamValues,
  options: Parameters<typeof renderPass>[4] = {},
): Float32Array => {
  const { pixels } = passPicture(renderPass(kind, models, camera, frame, options).result, look)
  return Float32Array.from({ length: frame.width * frame.height }, (_, p) => pixels[4 * p + 3])
}

describe('contour', () => {
  it('draws the limb of a ball where it is, in an even width, and nothing else', () => {
    const frame = { width: 120, height: 120 }
    const ink = inkOf('contour', [sceneModel(ball(1, 64))], fromFront(3), frame, {
      weight: 20,
      silhouette: 1,
    })
    const limb = 40
    let total = 0
    for (let p = 0; p < ink.length; p++) {
      const radius = Math.hypot((p % 120) + 0.5 - 60, Math.floor(p / 120) + 0.5 - 60)
      total += ink[p]
      if (Math.abs(radius - limb) > 1.2 + 0.9) expect(ink[p]).toBe(0)
      if (Math.abs(radius - limb) < 0.3) expect(ink[p]).toBeGreaterThan(0.9)
    }
    // Area of a ring of width 2.4 px.
    expect(total / (2 * Math.PI * limb * 2.4)).toBeCloseTo(1, 2)
  })
  it('draws nine edges of a cube seen from a corner', () => {
    const frame = { width: 128, height: 128 }
    const bounds = { min: [-1, -1, -1], max: [1, 1, 1] } as const
    const corner = frameBounds(bounds, 45, 35.264, frame, plainLens(30, true), 0.1)
    const look = { weight: 12, silhouette: 1, crease: 1 }
    const inked = inkOf('contour', [sceneModel(cube())], corner, frame, look).reduce((a, b) => a + b, 0)
    // Each of the nine visible edges is foreshortened to √(2/3) of its length.
    const pixelsPerUnit = 128 / (corner.orthoHeight ?? 1)
    expect(inked / (12e-3 * 128) / (9 * 2 * Math.sqrt(2 / 3) * pixelsPerUnit)).toBeCloseTo(1, 1)
  })
  it('is empty inside a flat plane that fills the picture', () => {
    expect(Math.max(...inkOf('contour', [sceneModel(square(10))], fromAbove(1), FRAME, {}))).toBe(0)
  })
  it('finds no line anew for a look, and is inked at any size', () => {
    const { result } = renderPass('contour', [sceneModel(ball(1, 64))], fromFront(3), FRAME)
    const small = passPicture(result, { weight: 20, silhouette: 1 }, { width: 60, height: 40 })
    const large = passPicture(result, { weight: 20, silhouette: 1 }, { width: 240, height: 160 })
    const share = ({ pixels }: typeof small) => mean(pixels.filter((_, i) => i % 4 === 3))
    expect(share(small) / share(large)).toBeCloseTo(1, 1)
    expect(passPicture(result, { silhouette: 0 }).pixels.every((v) => v === 0)).toBe(true)
  })
  it('is thin towards the light of the rig, and its shadow edges are where that light ends', () => {
    const frame = { width: 120, height: 120 }
    const rig = {
      ...DEFAULT_RIG,
      lights: [newLight('sun', 'sun', { azimuthDeg: 90, elevationDeg: 0, tied: 'world' })],
    }
    const models = [sceneModel(ball(1, 64))]
    const thin = inkOf('contour', models, fromFront(3), frame, { weight: 20, byLight: 1 }, { rig })
    const right = mean(thin.filter((_, p) => p % 120 > 98))
    const left = mean(thin.filter((_, p) => p % 120 < 22))
    expect(right).toBeLessThan(left / 4)
    const { result } = renderPass('contour', models, fromFront(3), frame, { rig, params: { shadow: true } })
    expect(result.facts.toLight).toEqual([1, 0, 0].map((v) => expect.closeTo(v, 6) as number))
    // The sun is in the picture's plane: its shadow begins on the line that divides the ball.
    const only = { silhouette: 0, shadow: 1, weight: 20 }
    const { pixels } = passPicture(result, only)
    expect(pixels[4 * (60 * 120 + 60) + 3]).toBeGreaterThan(0.9)
    expect(pixels[4 * (60 * 120 + 40) + 3]).toBe(0)
  })
  it('holds the parts it is told to, with or without the others before them', () => {
    const models = [
      sceneModel(cube(0.5), 'far'),
      { ...sceneModel(cube(0.2), 'near'), transforms: [IN_FRONT] },
    ]
    const frame = { width: 120, height: 120 }
    const drawn = (others: 'hold out' | 'look past', holdOut?: string[]) =>
      renderPass('contour', models, { ...fromFront(3), eye: [3, 2, 10] }, frame, {
        members: { ...ALL_MEMBERS, parts: ['far'], others, holdOut },
      }).result.drawing as LineDrawing
    const seen = (drawing: LineDrawing) =>
      Array.from({ length: drawing.count }, (_, l) =>
        drawing.hidden[l] ? 0 : lineLength(drawing, l),
      ).reduce((a, b) => a + b, 0)
    const names = (drawing: LineDrawing) =>
      new Set([...drawing.parts].map((part) => drawing.scene[part].name))
    expect(names(drawn('hold out'))).toEqual(new Set(['far']))
    expect(names(drawn('look past'))).toEqual(new Set(['far']))
    expect(seen(drawn('hold out'))).toBeLessThan(seen(drawn('look past')) - 0.05)
    // What is looked past but for one part is cut by that one, as where all are held out.
    expect(drawn('look past', ['near'])).toEqual(drawn('hold out'))
    expect(drawn('look past', [])).toEqual(drawn('look past'))
  })
})

describe('wireframe', () => {
  it('shows the front square of a cube and hides the back one', () => {
    const camera: Camera = { eye: [0, 0, 6], target: [0, 0, 0], fovDeg: 40, orthoHeight: null }
    const frame = { width: 128, height: 128 }
    const look = { weight: 12, bySpacing: 0 }
    const solid = inkOf('wireframe', [sceneModel(cube())], camera, frame, look)
    const options = { params: { seeThrough: true } }
    const through = inkOf('wireframe', [sceneModel(cube())], camera, frame, look, options)
    const dashed = inkOf(
      'wireframe',
      [sceneModel(cube())],
      camera,
      frame,
      { ...look, hidden: 'dashed', dash: 30 },
      options,
    )
    const half = (z: number) => 64 / Math.tan((20 * Math.PI) / 180) / (6 - z)
    const inkAt = (ink: Float32Array, r: number) => ink[64 * 128 + Math.round(64 + r - 0.5)]
    expect(inkAt(solid, half(1))).toBeGreaterThan(0.5)
    expect(inkAt(solid, half(-1))).toBe(0)
    expect(inkAt(through, half(-1))).toBeGreaterThan(0.5)
    expect(mean(dashed)).toBeGreaterThan(1.05 * mean(solid))
    expect(mean(dashed)).toBeLessThan(mean(through))
    // No triangle diagonal.
    expect(solid[64 * 128 + 64]).toBe(0)
  })
  it('is even where edges are denser than the pixels, and thins out there as asked', () => {
    const lines = 1024
    const strips = Array.from({ length: lines }, (_, i) => {
      const x = (i / lines) * 2 - 1
      return [
        [x, -1, 0],
        [x + 2 / lines, -1, 0],
        [x + 2 / lines, 1, 0],
        [x, 1, 0],
      ] as const
    })
    const frame = { width: 32, height: 32 }
    const inner = (bySpacing: number) =>
      Array.from(
        inkOf('wireframe', [sceneModel(meshOf(strips))], fromFront(2), frame, { weight: 0.5, bySpacing }),
      ).filter((_, p) => p % 32 > 2 && p % 32 < 29 && p > 96 && p < 928)
    // 32 lines a pixel, each 0.016 px wide, one over the other: 1 − (1 − 0.016)³² of every inner pixel.
    const plain = inner(0)
    expect(mean(plain)).toBeGreaterThan(0.36)
    expect(mean(plain)).toBeLessThan(0.46)
    expect(Math.max(...plain) - Math.min(...plain)).toBeLessThan(0.1)
    expect(mean(inner(1))).toBeLessThan(0.6 * mean(plain))
  })
})

describe('every pass', () => {
  const models = [sceneModel(ball(1, 10), 'ball'), sceneModel(square(3, -1), 'floor', 'ground')]
  const camera: Camera = { eye: [2, 2, 5], target: [0, -0.2, 0], fovDeg: 35, orthoHeight: null }
  it.each(PASS_KINDS)('%s is the same to the bit in any tiling and order', (kind) => {
    const frame = { width: 40, height: 28 }
    const effort = { samples: 4, rays: 4 }
    const a = renderPass(kind, models, camera, frame, { effort, tileSide: 32 }).result
    const b = renderPass(kind, models, camera, frame, { effort, tileSide: 9, reverse: true }).result
    a.channels.forEach((data, c) =>
      expect(Buffer.from(data.buffer).equals(Buffer.from(b.channels[c].buffer))).toBe(true),
    )
  })
  it('errs less with more rays', () => {
    const frame = { width: 24, height: 16 }
    const at = (rays: number, seed: number) =>
      renderPass('occlusion', models, camera, frame, {
        effort: { samples: 2, rays },
        seed,
        params: { reach: 100 },
      }).channel('V')
    const truth = at(512, 1)
    const error = (rays: number) => Math.sqrt(mean(at(rays, 2).map((v, i) => (v - truth[i]) ** 2)))
    const [few, more] = [error(4), error(64)]
    // Sixteen times the rays: plain random sampling would gain 4; low-discrepancy sampling gains more.
    expect(few / more).toBeGreaterThan(4)
  })
})
