import type { Vec3 } from '@/core/math/vec3'
import type { Shape } from '../modelling-kit'
import { bevelBox, curve, join, lathe, loft, move, tube, turn } from '../modelling-kit'
import type { HarbourPart } from './harbour-part'
import { WALL } from './harbour-part'

export function gauge(): HarbourPart[] {
  const onFace = (shape: Shape) => turn(move(shape, 0, 1.99, WALL + 0.02), 'y', -45)
  const flat = (shape: Shape) => turn(shape, 'x', 90)
  const marks = Array.from({ length: 24 }, (_, i) => {
    const long = i % 6 === 0
    const mark = move(
      bevelBox(long ? 0.014 : 0.008, long ? 0.05 : 0.03, 0.008, 0.002),
      0,
      long ? 0.19 : 0.205,
      0.034,
    )
    return turn(mark, 'z', i * 15)
  })
  const hand = (lengthM: number, width: number, deg: number, z: number) =>
    turn(
      move(
        loft(
          [
            [
              [width, 0, 0],
              [width, 0, 0.01],
              [-width, 0, 0.01],
              [-width, 0, 0],
            ].map(([x, , q]): Vec3 => [x, -0.04, -q]),
            [
              [width, 0, 0],
              [width, 0, 0.01],
              [-width, 0, 0.01],
              [-width, 0, 0],
            ].map(([x, , q]): Vec3 => [x * 1.2, lengthM * 0.6, -q]),
            [
              [width, 0, 0],
              [width, 0, 0.01],
              [-width, 0, 0.01],
              [-width, 0, 0],
            ].map(([x, , q]): Vec3 => [x * 0.12, lengthM, -q]),
          ].map((ring) => ring.slice().reverse()),
        ),
        0,
        0,
        z,
      ),
      'z',
      deg,
    )
  const bezel = flat(
    lathe(
      [
        [0.262, -0.03],
        [0.3, -0.02],
        [0.312, 0.0],
        [0.312, 0.03],
        [0.3, 0.05],
        [0.282, 0.056],
        [0.268, 0.05],
        [0.262, 0.03],
      ],
      48,
    ),
  )
  return [
    { name: 'Gauge bezel', material: 'Brass', shape: onFace(bezel) },
    {
      name: 'Gauge dial',
      material: 'Enamel',
      shape: onFace(
        flat(
          lathe(
            [
              [0.27, -0.02],
              [0.27, 0.028],
              [0.1, 0.032],
              [0.001, 0.033],
            ],
            48,
          ),
        ),
      ),
    },
    { name: 'Gauge marks', material: 'Iron', shape: onFace(join(...marks)) },
    {
      name: 'Gauge hands',
      material: 'Door oak',
      shape: onFace(join(hand(0.2, 0.014, -52, 0.048), hand(0.14, 0.018, 118, 0.056))),
    },
    {
      name: 'Gauge hub',
      material: 'Brass',
      shape: onFace(
        flat(
          lathe(
            [
              [0.032, 0.03],
              [0.032, 0.062],
              [0.024, 0.072],
              [0.001, 0.076],
            ],
            24,
          ),
        ),
      ),
    },
    {
      name: 'Gauge pipe',
      material: 'Brass',
      shape: turn(
        tube(
          curve(
            [
              [0, 1.7, WALL + 0.06],
              [0, 1.5, WALL + 0.13],
              [0, 1.2, WALL + 0.13],
              [0, 0.7, WALL + 0.13],
              [0, 0.46, WALL + 0.16],
              [0, 0.38, WALL + 0.3],
            ],
            8,
          ),
          0.024,
          12,
        ),
        'y',
        -45,
      ),
    },
  ]
}
