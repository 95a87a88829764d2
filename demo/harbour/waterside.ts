import type { Vec3 } from '@/core/math/vec3'
import { add, scale } from '@/core/math/vec3'
import type { Shape } from '../modelling-kit'
import { bevelBox, curve, join, lathe, move, rope, tube, turn } from '../modelling-kit'
import { dinghy } from './dinghy'
import type { HarbourPart } from './harbour-part'
import { WATER } from './open-water'

function ladder(): Shape {
  const rungs = Array.from({ length: 8 }, (_, i) =>
    tube(
      [
        [-0.2, -0.22 - i * 0.21, 0],
        [0, -0.22 - i * 0.21, 0],
        [0.2, -0.22 - i * 0.21, 0],
      ],
      0.014,
      8,
    ),
  )
  const stile = (x: number) =>
    tube(
      curve(
        [
          [x, 0.02, -0.34],
          [x, 0.1, -0.22],
          [x, 0.06, -0.04],
          [x, -0.12, 0],
          [x, -0.9, 0],
          [x, -1.9, 0],
        ],
        5,
      ),
      0.022,
      10,
    )
  return join(...rungs, stile(-0.2), stile(0.2))
}

/** Old piles standing out of the water, with their iron hoops. */
function piles(): { timber: Shape; hoops: Shape } {
  const places: readonly (readonly [number, number, number, number])[] = [
    [-5.2, 0.55, -3.4, 1.5],
    [-4.75, 0.12, -3.75, -2],
    [-5.65, -0.25, -3.9, 2.5],
  ]
  const pile = (top: number) =>
    lathe(
      [
        [0.15, WATER - 0.6],
        [0.145, WATER + 0.4],
        [0.14, top - 0.06],
        [0.125, top - 0.015],
        [0.1, top],
        [0.002, top + 0.012],
      ],
      18,
    )
  const hoop = (top: number) =>
    lathe(
      [
        [0.14, top - 0.25],
        [0.152, top - 0.245],
        [0.152, top - 0.185],
        [0.14, top - 0.18],
      ],
      18,
    )
  const set = (make: (top: number) => Shape) =>
    join(...places.map(([x, top, z, lean]) => move(turn(make(top), 'z', lean), x, 0, z)))
  return { timber: set(pile), hoops: set(hoop) }
}

/** What lies and stands beside the quay. */
export function waterside(): HarbourPart[] {
  const { parts, stem } = dinghy(-4.5, WATER - 0.11, 0.55, -58)
  const ring: Vec3 = [-3.02, -0.52, 0.1]
  const sag = (t: number): Vec3 => {
    const straight = add(scale(stem, 1 - t), scale(ring, t))
    return [straight[0], straight[1] - 0.5 * t * (1 - t) * 1.6, straight[2]]
  }
  const painter = rope(
    Array.from({ length: 30 }, (_, i) => sag(i / 29)),
    0.02,
    0.14,
  )
  const ringShape = tube(
    Array.from({ length: 20 }, (_, i): Vec3 => {
      const a = (i / 20) * 2 * Math.PI
      return [0.02, 0.07 * Math.cos(a), 0.07 * Math.sin(a)]
    }),
    0.012,
    8,
    true,
  )
  const { timber, hoops } = piles()
  return [
    ...parts,
    { name: 'Painter', material: 'Hemp', shape: painter },
    { name: 'Mooring ring', material: 'Iron', shape: move(ringShape, -3.03, -0.5, 0.1) },
    {
      name: 'Ring plate',
      material: 'Iron',
      shape: move(bevelBox(0.03, 0.12, 0.12, 0.006), -3.01, -0.5, 0.1),
    },
    { name: 'Quay ladder', material: 'Iron', shape: move(ladder(), 0.62, 0.06, 3.36) },
    { name: 'Piles', material: 'Weathered oak', shape: timber },
    { name: 'Pile hoops', material: 'Iron', shape: hoops },
  ]
}
