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
import { oklabDistance, srgbToOklab } from '../math/oklab'
import type { Camera } from '../scene/camera'
import { frameBounds, plainLens } from '../scene/camera'
import { distinctPalette, spreadColours } from './distinct-colours'
import { ID_PAIRS } from './id'
import { surfaceAt, surfaceCoverage } from './pass-result'
import { PASS_KINDS } from './registry'

const FRAME = { width: 32, height: 32 }
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

describe('contour', () => {
  it('draws the limb of a ball where it is, in an even width, and nothing else', () => {
    const frame = { width: 120, height: 120 }
    const { channel } = renderPass('contour', [sceneModel(ball(1, 64))], fromFront(3), frame, {
      params: { weight: 20 },
    })
    const ink = channel('L')
    const limb = 40
    let total = 0
    for (let p = 0; p < ink.length; p++) {
      const radius = Math.hypot((p % 120) + 0.5 - 60, Math.floor(p / 120) + 0.5 - 60)
      total += ink[p]
      if (Math.abs(radius - limb) > 1.2 + 0.9) expect(ink[p]).toBe(0)
      if (Math.abs(radius - limb) < 0.3) expect(ink[p]).toBeGreaterThan(0.9)
    }
    // Area of a ring of width 2.4 px.
    expect(total / (2 * Math.PI * limb * 2.4)).toBeCloseTo(1, 1)
  })
  it('leaves out specks, and tiles agree about them', () => {
    // A dust of parts smaller than a line is wide, and one bar that is a line.
    const dust = Array.from({ length: 40 }, (_, i) => {
      const [x, y, h] = [((i * 37) % 60) - 30, ((i * 23) % 30) - 15, 0.35]
      const square: [number, number, number][] = [
        [x - h, y - h, 1],
        [x + h, y - h, 1],
        [x + h, y + h, 1],
        [x - h, y + h, 1],
      ]
      return sceneModel(meshOf([square]), `grain ${i}`)
    })
    const wall = sceneModel(
      meshOf([
        [
          [-60, -60, 0],
          [60, -60, 0],
          [60, 60, 0],
          [-60, 60, 0],
        ],
      ]),
      'wall',
    )
    const frame = { width: 96, height: 64 }
    const lines = (models: typeof dust, tileSide?: number) =>
      renderPass('contour', models, fromFront(64), frame, {
        params: { weight: 12 },
        effort: { samples: 4, rays: 0 },
        tileSide,
      }).channel('L')
    const dusty = lines([wall, ...dust])
    expect(Math.max(...dusty)).toBe(0)
    const bar = sceneModel(
      meshOf([
        [
          [-20, -1, 1],
          [20, -1, 1],
          [20, 1, 1],
          [-20, 1, 1],
        ],
      ]),
      'bar',
    )
    const whole = lines([wall, ...dust, bar], 96)
    expect(mean(whole)).toBeGreaterThan(0.01)
    expect(lines([wall, ...dust, bar], 16)).toEqual(whole)
  })
  it('draws nine edges of a cube seen from a corner', () => {
    const corner = frameBounds(
      { min: [-1, -1, -1], max: [1, 1, 1] },
      45,
      35.264,
      { width: 128, height: 128 },
      plainLens(30, true),
      0.1,
    )
    const { channel } = renderPass(
      'contour',
      [sceneModel(cube())],
      corner,
      { width: 128, height: 128 },
      { params: { weight: 12 } },
    )
    const inked = channel('L').reduce((a, b) => a + b, 0) / (12e-3 * 128)
    // Each of the nine visible edges is foreshortened to √(2/3) of its length.
    const pixelsPerUnit = 128 / (corner.orthoHeight ?? 1)
    expect(inked / (9 * 2 * Math.sqrt(2 / 3) * pixelsPerUnit)).toBeCloseTo(1, 1)
  })
  it('is empty inside a flat plane that fills the picture', () => {
    expect(
      Math.max(...renderPass('contour', [sceneModel(square(10))], fromAbove(1), FRAME).channel('L')),
    ).toBe(0)
  })
})

describe('wireframe', () => {
  it('shows the front square of a cube and hides the back one', () => {
    const camera: Camera = { eye: [0, 0, 6], target: [0, 0, 0], fovDeg: 40, orthoHeight: null }
    const frame = { width: 128, height: 128 }
    const solid = renderPass('wireframe', [sceneModel(cube())], camera, frame, {
      params: { weight: 12 },
    }).channel('L')
    const through = renderPass('wireframe', [sceneModel(cube())], camera, frame, {
      params: { weight: 12, seeThrough: true },
    }).channel('L')
    const half = (z: number) => 64 / Math.tan((20 * Math.PI) / 180) / (6 - z)
    const inkAt = (ink: Float32Array, r: number) => ink[64 * 128 + Math.round(64 + r - 0.5)]
    expect(inkAt(solid, half(1))).toBeGreaterThan(0.5)
    expect(inkAt(solid, half(-1))).toBe(0)
    expect(inkAt(through, half(-1))).toBeGreaterThan(0.5)
    // No triangle diagonal.
    expect(solid[64 * 128 + 64]).toBe(0)
  })
  it('adds up to the share covered where edges are denser than the pixels', () => {
    const lines = 256
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
    const ink = renderPass('wireframe', [sceneModel(meshOf(strips))], fromFront(2), frame, {
      params: { weight: 2 },
    }).channel('L')
    // 8 lines a pixel, each 0.064 px wide: about half of every inner pixel, evenly.
    const inner = Array.from(ink).filter((_, p) => p % 32 > 2 && p % 32 < 29 && p > 96 && p < 928)
    expect(mean(inner)).toBeGreaterThan(0.4)
    expect(mean(inner)).toBeLessThan(0.6)
    expect(Math.max(...inner) - Math.min(...inner)).toBeLessThan(0.2)
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
