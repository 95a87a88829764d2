import { describe, expect, it } from 'vitest'
import { seededRandom } from '../math/sampling'
import { add, dot, length, normalize, scale, subtract, type Vec3 } from '../math/vec3'
import { ball, cube, sceneModel } from '../testing/shapes'
import { buildSceneGeometry } from '../scene/scene-geometry'
import type { LightRecord } from '../trace/light-record'
import { ballOfParts, mayThrow, type Ball } from './shadow-reach'

const random = seededRandom(5)
const coordinate = (size: number) => (random() - 0.5) * 2 * size
const place = (size: number): Vec3 => [coordinate(size), coordinate(size), coordinate(size)]
const direction = () => normalize(place(1))
const within = ({ middle, radius }: Ball): Vec3 =>
  add(middle, scale(direction(), radius * Math.cbrt(random())))
const ballAt = (): Ball => ({ middle: place(4), radius: 0.05 + random() })
/** Whether a way meets a ball. */
const meets = (from: Vec3, to: Vec3, most: number, { middle, radius }: Ball): boolean => {
  const unit = normalize(to)
  const along = Math.min(most, Math.max(0, dot(subtract(middle, from), unit)))
  return length(subtract(add(from, scale(unit, along)), middle)) < radius
}

describe('what may throw a shadow', () => {
  it('is told to be out of reach only where no way to the light meets it', () => {
    let out = 0
    for (let round = 0; round < 4000; round++) {
      const [thrower, points] = [ballAt(), ballAt()]
      const [first, second] = [place(0.2), place(0.2)]
      const isParallel = round % 2 === 0
      const light: LightRecord = isParallel
        ? { kind: 'parallel', to: direction(), isRound: false, first, second }
        : {
            kind: 'place',
            middle: place(8),
            axis: [0, 1, 0],
            full: 1,
            gain: 1,
            isFacing: false,
            cone: null,
            isRound: false,
            first,
            second,
          }
      if (mayThrow(light, thrower, points)) continue
      out++
      for (let ray = 0; ray < 40; ray++) {
        const from = within(points)
        const aside = add(scale(first, 2 * random() - 1), scale(second, 2 * random() - 1))
        const to =
          light.kind === 'parallel'
            ? add(light.to, aside)
            : subtract(add((light as { readonly middle: Vec3 }).middle, aside), from)
        const hit = meets(from, to, light.kind === 'parallel' ? Infinity : length(to), thrower)
        if (hit) expect({ round, hit }).toEqual({ round, hit: false })
      }
    }
    expect(out).toBeGreaterThan(1000)
  })
  it('is near enough to be seen under a sky, and anything under a picture', () => {
    const points = { middle: [0, 0, 0], radius: 0.1 } as const
    const at = (distance: number) => ({ middle: [0, distance, 0], radius: 1 }) as const
    expect(mayThrow({ kind: 'sky' }, at(0.5), points)).toBe(true)
    expect(mayThrow({ kind: 'sky' }, at(15), points)).toBe(true)
    expect(mayThrow({ kind: 'sky' }, at(20), points)).toBe(false)
  })
  it('lies in the ball around its boxes', () => {
    const scene = buildSceneGeometry([sceneModel(cube(1), 'a'), sceneModel(ball(3, 8), 'b')])
    const own = ballOfParts(scene, Uint8Array.of(1, 0))
    expect(own?.middle).toEqual([0, 0, 0])
    expect(own?.radius).toBeCloseTo(Math.sqrt(3), 3)
    expect(ballOfParts(scene, Uint8Array.of(0, 0))).toBeNull()
  })
})
