import { describe, expect, it } from 'vitest'
import type { Light, LightKind, LightOf, Rig } from '../scene/light-rig'
import { newLight } from '../scene/light-rig'
import { cube, fromAbove, fromFront, mean, meshOf, renderPass, sceneModel, square } from '../testing/shapes'
import { DomePicture } from './dome-picture'

const FRAME = { width: 16, height: 16 }
const MANY = { samples: 4, rays: 256 }

const rigOf = (...lights: Light[]): Rig => ({ id: 'rig', name: 'Test', lights })
/** A light of the world straight above, aimed at the subject's middle. */
const above = <K extends LightKind>(kind: K, patch: Partial<LightOf<K>> = {}): LightOf<K> =>
  newLight(kind, kind, { tied: 'world', azimuthDeg: 0, elevationDeg: 90, ...patch } as Partial<LightOf<K>>)

/** The ground, a square of side 1, whose diagonal D is √2. */
const D = Math.SQRT2
const plane = sceneModel(square(0.5), 'plane')
/** Light on the very middle of the square. */
const onMiddle = (light: Light, height = 0.001) =>
  mean(
    renderPass('clay', [plane], fromAbove(height), FRAME, { effort: MANY, rig: rigOf(light) }).channel('L0'),
  )

/** A sheet that ends straight over the picture's middle, one unit up: it hides half of what comes from above. */
const HALF = sceneModel(
  meshOf([
    [
      [0, 1, 50],
      [50, 1, 50],
      [50, 1, -50],
      [0, 1, -50],
    ],
  ]),
  'half',
  'unseen',
)

describe('sun', () => {
  it.each([0, 30, 60, 90])('falls off with the cosine of its slope (%i° up)', (elevationDeg) => {
    expect(onMiddle(above('sun', { elevationDeg, sizeDeg: 0 }))).toBeCloseTo(
      Math.sin((elevationDeg * Math.PI) / 180),
      3,
    )
  })
  it('is dark in full shadow and half lit where half of it is hidden', () => {
    const lid = sceneModel(square(50, 1), 'lid', 'unseen')
    const rig = rigOf(above('sun', { sizeDeg: 10 }))
    const wide = sceneModel(square(100), 'plane')
    const dark = renderPass('clay', [wide, lid], fromAbove(0.1), FRAME, { effort: MANY, rig })
    expect(Math.max(...dark.channel('L0'))).toBe(0)
    const split = renderPass('clay', [wide, HALF], fromAbove(0.001), FRAME, { effort: MANY, rig })
    expect(mean(split.channel('L0'))).toBeCloseTo(0.5, 1)
  })
  it('comes from behind, too', () => {
    // A square that faces the camera gets nothing from a sun behind it; its back gets all.
    const back = newLight('sun', 's', { azimuthDeg: 180, elevationDeg: 0, sizeDeg: 0 })
    const { channel } = renderPass('clay', [sceneModel(cube())], fromFront(4), FRAME, {
      effort: MANY,
      rig: rigOf(back),
    })
    expect(Math.max(...channel('L0'))).toBe(0)
  })
})

describe('near lights', () => {
  it.each([
    above('area', { shape: 'round', widthD: 1, heightD: 1 }),
    above('area', { shape: 'rectangle', widthD: 2, heightD: 0.3 }),
    above('point', { radiusD: 0 }),
    above('spot', { radiusD: 0 }),
  ])('give 1 to a surface that faces them at their aim: $kind $shape', (light) => {
    expect(onMiddle(light)).toBeCloseTo(1, 2)
  })
  it('fall off with the square of the distance', () => {
    // Aimed one D up and one D farther: the ground is at twice the distance of the aim.
    const far = above('point', { radiusD: 0, distanceD: 1, aimD: [0, 1, 0] })
    expect(onMiddle(far)).toBeCloseTo(0.25, 3)
  })
  it('light a plane by the cosine over the square of the distance', () => {
    const light = above('point', { radiusD: 0, distanceD: 0.5 })
    const { channel } = renderPass('clay', [plane], fromAbove(1), FRAME, {
      effort: { samples: 16, rays: 4 },
      rig: rigOf(light),
    })
    const h = 0.5 * D
    const values = channel('L0')
    for (const column of [1, 8, 14]) {
      const x = (column + 0.5) / 16 - 0.5
      const z = 0.5 / 16
      const expected = (h * h * h) / (h * h + x * x + z * z) ** 1.5
      expect(values[8 * 16 + column]).toBeCloseTo(expected, 2)
    }
  })
  it('a disc right over a point gives what its solid angle says', () => {
    // Irradiance under a disc of radius r at height h goes as r² / (r² + h²); at its aim it is 1.
    const light = above('area', {
      shape: 'round',
      widthD: 2 / D,
      heightD: 2 / D,
      distanceD: 1 / D,
      aimD: [0, 1 / D, 0],
    })
    const form = (h: number) => 1 / (1 + h * h)
    expect(onMiddle(light)).toBeCloseTo(form(2) / form(1), 2)
  })
  it('a spot is dark outside its cone and full within', () => {
    const light = above('spot', { radiusD: 0, coneDeg: 20, edge: 0, distanceD: 1 })
    const { channel } = renderPass('clay', [plane], fromAbove(1), FRAME, { effort: MANY, rig: rigOf(light) })
    const values = channel('L0')
    const rim = D * Math.tan((10 * Math.PI) / 180)
    for (let p = 0; p < 256; p++) {
      const away = Math.hypot(((p % 16) + 0.5) / 16 - 0.5, (Math.floor(p / 16) + 0.5) / 16 - 0.5)
      if (away > rim + 0.05) expect(values[p]).toBe(0)
      else if (away < rim - 0.05) expect(values[p]).toBeGreaterThan(0.9)
    }
  })
  it('a rectangle half hidden is half as bright', () => {
    const light = above('area', { shape: 'rectangle', widthD: 1, heightD: 1, distanceD: 5 })
    const wide = sceneModel(square(1), 'plane')
    const lit = (models: Parameters<typeof renderPass>[1]) =>
      mean(
        renderPass('clay', models, fromAbove(0.001), FRAME, { effort: MANY, rig: rigOf(light) }).channel(
          'L0',
        ),
      )
    expect(lit([wide, HALF]) / lit([wide])).toBeCloseTo(0.5, 1)
  })
})

describe('dome', () => {
  it('gives an open plane all its light, split by how far it looks up', () => {
    const { channel } = renderPass('clay', [plane], fromAbove(0.1), FRAME, {
      effort: MANY,
      rig: rigOf(newLight('dome', 'd')),
    })
    expect(mean(channel('L0up')) + mean(channel('L0down'))).toBeCloseTo(1, 2)
    // ∫ (½ + ½ cos θ) cos θ / π dω = ½ + ⅓.
    expect(mean(channel('L0up'))).toBeCloseTo(5 / 6, 2)
  })
  const picture = (width: number, height: number, at: (x: number, y: number) => number) => {
    const pixels = new Float32Array(3 * width * height)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) pixels.fill(at(x, y), 3 * (y * width + x), 3 * (y * width + x) + 3)
    return new DomePicture({ width, height, pixels })
  }
  const lit = (dome: DomePicture, rotationDeg = 0) =>
    mean(
      renderPass('clay', [plane], fromAbove(0.1), FRAME, {
        effort: MANY,
        rig: rigOf(newLight('dome', 'd', { look: 'picture', pictureId: 'p', rotationDeg, tied: 'world' })),
        dome,
      }).channel('L0g'),
    )
  it('gives 1 under a picture of even light', () => {
    expect(lit(picture(32, 16, () => 1))).toBeCloseTo(1, 2)
  })
  it('gives what the upper half gives, and nothing from below', () => {
    expect(lit(picture(32, 16, (_, y) => (y < 8 ? 1 : 0)))).toBeCloseTo(1, 2)
    expect(lit(picture(32, 16, (_, y) => (y < 8 ? 0 : 1)))).toBeCloseTo(0, 2)
  })
  it('is the same from any side for a plane that looks up, however it is turned', () => {
    const spot = picture(64, 32, (x, y) => (y < 8 && x < 4 ? 40 : 0.1))
    const [a, b] = [lit(spot), lit(spot, 137)]
    expect(a / b).toBeCloseTo(1, 1)
  })
})

describe('which parts', () => {
  const lid = sceneModel(square(50, 1), 'lid', 'unseen')
  const wide = sceneModel(square(100), 'plane')
  const light = (patch: Partial<LightOf<'sun'>>, models = [wide, lid]) =>
    mean(
      renderPass('clay', models, fromAbove(0.1), FRAME, {
        effort: MANY,
        rig: rigOf(above('sun', { sizeDeg: 0, ...patch })),
      }).channel('L0'),
    )
  it('throws no shadow where shadows are off, or from parts that are not named', () => {
    expect(light({})).toBe(0)
    expect(light({ shadow: false })).toBeCloseTo(1, 3)
    expect(light({ throws: ['plane'] })).toBeCloseTo(1, 3)
    expect(light({ throws: ['lid'] })).toBe(0)
  })
  it('looks past what throws none to what does', () => {
    const second = sceneModel(square(50, 2), 'second', 'unseen')
    expect(light({ throws: ['second'] }, [wide, lid, second])).toBe(0)
  })
  it('lights only the parts that are named', () => {
    expect(light({ lights: ['lid'], shadow: false })).toBe(0)
    expect(light({ lights: ['plane'], shadow: false })).toBeCloseTo(1, 3)
  })
})

describe('noise', () => {
  const spread = (values: Float32Array) => {
    const m = mean(values)
    return Math.sqrt(mean(values.map((v) => (v - m) ** 2)))
  }
  const penumbra = (rays: number) =>
    renderPass(
      'clay',
      [sceneModel(square(100), 'plane'), HALF],
      fromAbove(0.001),
      { width: 48, height: 48 },
      {
        // A light that comes from somewhere has a quarter of the rays.
        effort: { samples: 1, rays: 4 * rays },
        rig: rigOf(above('sun', { sizeDeg: 20 })),
      },
    ).channel('L0')
  it('falls as samples grow, faster than chance', () => {
    let before = Infinity
    for (const rays of [4, 16, 64]) {
      const noise = spread(penumbra(rays))
      expect(noise).toBeLessThan(before)
      // Half of the light is hidden: by chance alone, each pixel would be off by ½ / √rays.
      expect(noise).toBeLessThan(0.25 / Math.sqrt(rays))
      before = noise
    }
  })
  it('never bands: with one ray each, no row and no column of the half shadow is darker than chance has it', () => {
    const values = penumbra(1)
    for (const [across, down] of [
      [1, 48],
      [48, 1],
    ]) {
      for (let line = 0; line < 48; line++) {
        let sum = 0
        for (let i = 0; i < 48; i++) sum += values[line * down + i * across]
        // ½ ± four standard deviations of 48 coins.
        expect(Math.abs(sum / 48 - 0.5)).toBeLessThan(4 * (0.5 / Math.sqrt(48)))
      }
    }
    const neighbours = new Set<string>()
    for (let p = 0; p + 1 < values.length; p++) neighbours.add(`${values[p] > 0.5}${values[p + 1] > 0.5}`)
    expect(neighbours.size).toBe(4)
  })
})
